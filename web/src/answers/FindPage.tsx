import { Stack, Typography } from "@mui/material";
import { Search } from "../parts/FindBox";

/** What feeds this: found by what people call it. */
export function FindPage() {
  return (
    <Stack spacing={2} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        What feeds this?
      </Typography>
      <Search onDone={() => undefined} />
    </Stack>
  );
}
