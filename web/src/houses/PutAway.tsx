import { Button, Snackbar } from "@mui/material";

interface Props {
  name: string;
  thrown: boolean;
  onUndo: () => void;
  onGone: () => void;
}

/** Says that a house was put or thrown away, with the way back. */
export default function PutAway({ name, thrown, onUndo, onGone }: Props) {
  return (
    <Snackbar
      open
      autoHideDuration={10000}
      onClose={(_, reason) => reason === "timeout" && onGone()}
      message={thrown ? `${name} is thrown away. It is kept for thirty days.` : `${name} is put away.`}
      action={
        <Button color="inherit" sx={{ textDecoration: "underline" }} onClick={onUndo}>
          Undo
        </Button>
      }
    />
  );
}
