import { Alert, Button, Stack } from "@mui/material";
import type { Edited } from "./useEdited";

/** Somebody else, or another window, changed the same meanwhile: what is typed here is kept until one of both is chosen. */
export function ClashNote<T>({ edited }: { edited: Edited<T> }) {
  if (!edited.clashes) {
    return null;
  }
  return (
    <Alert severity="warning" role="alert">
      This was changed elsewhere while you typed; that one is the newer. What you typed still stands here.
      <Stack direction="row" spacing={1} sx={{ mt: 1 }}>
        <Button variant="outlined" color="inherit" onClick={edited.takeTheirs}>
          Take the newer
        </Button>
        <Button variant="outlined" color="inherit" onClick={edited.keepMine}>
          Keep mine, to save it over that
        </Button>
      </Stack>
    </Alert>
  );
}
