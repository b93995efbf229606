import { Button, Stack } from "@mui/material";
import type { Schemas } from "../api/client";

interface Props {
  ways: Schemas["Number"][];
  onChoose: (text: string) => void;
}

/** What was typed could be either of two numbers: one press says which. */
export function EitherNumber({ ways, onChoose }: Props) {
  return (
    <Stack direction="row" spacing={1} sx={{ mt: 0.5 }}>
      {ways.map(({ value, unit }) => (
        <Button
          key={value}
          variant="outlined"
          sx={{ minHeight: 44 }}
          onClick={() => onChoose(unit === "count" ? String(value) : `${value} ${unit}`)}
        >
          {value} {unit === "count" ? "" : unit}
        </Button>
      ))}
    </Stack>
  );
}
