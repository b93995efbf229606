import { TextField } from "@mui/material";
import { useState } from "react";
import { asNumber } from "./spoken";
import { readTape, writeTape } from "./tape";

interface Props {
  label: string;
  unit: string;
  value: number | null;
  onChange: (value: number | null) => void;
  /** May be left empty. */
  optional?: boolean;
  error?: string | undefined;
  /** Inches as a tape shows them: fractions are typed and shown. */
  tape?: boolean;
}

/** Keeps the typed text and the number apart, so that half-typed numbers stay as they are. */
export function NumberField({ label, unit, value, onChange, optional = false, error, tape = false }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const read = tape ? readTape : asNumber;
  const shown = typed ?? (value === null ? "" : tape ? writeTape(value) : String(value));
  const wrong = shown.trim() === "" ? !optional && typed !== null : read(shown) === null;
  return (
    <TextField
      label={`${label} (${unit})`}
      value={shown}
      error={wrong || error !== undefined}
      helperText={error ?? (wrong ? `Type a number, like ${tape ? "4 1/4" : "12.5"}` : undefined)}
      onChange={(event) => {
        setTyped(event.target.value);
        onChange(read(event.target.value));
      }}
      slotProps={{ htmlInput: { inputMode: tape ? "text" : "decimal", className: "mono" } }}
    />
  );
}
