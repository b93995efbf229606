import { Alert, Box, Button, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import type { Acting } from "./useAct";

/** Whoever stands at the panel takes over what a job holds off; whoever works there is told at once. */
export function TakeOver({ now, acting }: { now: Schemas["JobNow"]; acting: Acting }) {
  const [asked, setAsked] = useState(false);
  const [why, setWhy] = useState("");
  if (now.off.length === 0 || now.stopped?.taken_over === true) {
    return null;
  }
  if (!asked) {
    return (
      <Button sx={{ minHeight: 48, mt: 1 }} onClick={() => setAsked(true)}>
        I am somebody else, and must move what is off …
      </Button>
    );
  }
  return (
    <Box sx={{ mt: 2 }}>
      <Alert severity="error">
        <Typography sx={{ fontWeight: 700 }}>{now.hands} may have hands in it. Find them first.</Typography>
        Nothing that was shown dead counts after this, and their phone says so at once.
      </Alert>
      <TextField
        fullWidth
        sx={{ mt: 1.5 }}
        label="Why, for whoever works there"
        value={why}
        onChange={(e) => setWhy(e.target.value)}
      />
      <Stack direction="row" sx={{ gap: 1, mt: 1.5, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          color="error"
          sx={{ minHeight: 48 }}
          disabled={acting.busy}
          onClick={() => acting.act({ what: "take-over", why }, () => setAsked(false))}
        >
          Their hands are out: take over
        </Button>
        <Button sx={{ minHeight: 48 }} onClick={() => setAsked(false)}>
          Leave it
        </Button>
      </Stack>
    </Box>
  );
}
