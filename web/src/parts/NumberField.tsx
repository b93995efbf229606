import { TextField } from "@mui/material";
import { useState } from "react";
import { asNumber } from "./spoken";

interface Props {
  label: string;
  unit: string;
  value: number | null;
  onChange: (value: number | null) => void;
  /** May be left empty. */
  optional?: boolean;
  error?: string | undefined;
}

/** Keeps the typed text and the number apart, so that half-typed numbers stay as they are. */
export function NumberField({ label, unit, value, onChange, optional = false, error }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const shown = typed ?? (value === null ? "" : String(value));
  const wrong = shown.trim() === "" ? !optional && typed !== null : asNumber(shown) === null;
  return (
    <TextField
      label={`${label} (${unit})`}
      value={shown}
      error={wrong || error !== undefined}
      helperText={error ?? (wrong ? "Type a number, like 12.5" : undefined)}
      onChange={(event) => {
        setTyped(event.target.value);
        onChange(asNumber(event.target.value));
      }}
      slotProps={{ htmlInput: { inputMode: "decimal", className: "mono" } }}
    />
  );
}
