import { Button, Snackbar } from "@mui/material";

interface Props {
  name: string;
  onUndo: () => void;
  onGone: () => void;
}

/** Says that a house was put away, with the way back. */
export default function PutAway({ name, onUndo, onGone }: Props) {
  return (
    <Snackbar
      open
      autoHideDuration={10000}
      onClose={(_, reason) => reason === "timeout" && onGone()}
      message={`${name} is put away. Thrown-away houses are kept for thirty days.`}
      action={
        <Button color="inherit" sx={{ textDecoration: "underline" }} onClick={onUndo}>
          Undo
        </Button>
      }
    />
  );
}
