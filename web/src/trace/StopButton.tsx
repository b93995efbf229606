import { Button, Dialog, DialogActions, DialogContent, DialogTitle, Typography } from "@mui/material";
import { useState } from "react";
import { Handles } from "./Handles";
import type { Tracing } from "./useTracing";

/** Leaving off for today: every handle back on, as a step of its own. */
export function StopButton({ tracing }: { tracing: Tracing }) {
  const [open, setOpen] = useState(false);
  // What somebody's work holds off stays off.
  const off = tracing.backOn;
  if (off.length === 0) {
    return null;
  }
  return (
    <>
      <Button onClick={() => setOpen(true)}>Stop for now</Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="stop-title">
        <DialogTitle id="stop-title">Before you go: everything back on</DialogTitle>
        <DialogContent>
          <Handles word="Switch back ON" list={off} />
          <Typography>What you answered is kept; the next tour starts from it.</Typography>
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Go on tracing</Button>
          <Button
            variant="contained"
            color="act"
            disabled={tracing.busy}
            onClick={() => {
              tracing.allOn();
              setOpen(false);
            }}
          >
            They are on
          </Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
