import { Button, Snackbar } from "@mui/material";

/** A change just made, by the revision it made; an answer, by its observations and the point it was about. */
export interface Noted {
  text: string;
  revision?: number;
  answer?: { evidence: number[]; point: number };
}

interface Props {
  noted: Noted | undefined;
  busy: boolean;
  centred?: boolean;
  onUndo: (noted: Noted) => void;
  onGone: () => void;
}

/** Says what was done, and takes it back with one tap. */
export function Undoable({ noted, busy, centred = false, onUndo, onGone }: Props) {
  return (
    <Snackbar
      // Each has its own time to be taken back.
      key={noted?.revision ?? noted?.answer?.evidence[0]}
      open={noted !== undefined}
      autoHideDuration={12000}
      onClose={(_, reason) => reason === "timeout" && onGone()}
      message={noted?.text}
      // Above the bar at the foot of a phone's screen.
      sx={centred ? { bottom: 72 } : {}}
      anchorOrigin={{ vertical: "bottom", horizontal: centred ? "center" : "right" }}
      action={
        <Button
          color="inherit"
          sx={{ textDecoration: "underline" }}
          disabled={busy}
          onClick={() => noted !== undefined && onUndo(noted)}
        >
          Undo
        </Button>
      }
    />
  );
}
