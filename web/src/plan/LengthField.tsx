import { TextField } from "@mui/material";

interface Props {
  label: string;
  value: string;
  onChange: (text: string) => void;
  error?: string | undefined;
}

/** A length as people type it; the server reads it. */
export function LengthField({ label, value, onChange, error }: Props) {
  return (
    <TextField
      label={label}
      value={value}
      placeholder={"12'6\""}
      error={error !== undefined}
      helperText={error}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { className: "mono", autoComplete: "off" } }}
      sx={{ width: 130 }}
    />
  );
}
