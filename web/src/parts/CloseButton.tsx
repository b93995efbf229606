import { Button } from "@mui/material";

/** At the head of a dialog, beside its title: leaves it as it was. */
export function CloseButton({ onClose }: { onClose: () => void }) {
  return (
    <Button onClick={onClose} sx={{ position: "absolute", top: 12, right: 12, minWidth: 0 }}>
      Close
    </Button>
  );
}
