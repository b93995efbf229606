import { Box, Button, TextField } from "@mui/material";

interface Props {
  label: string;
  unit: string;
  value: string;
  onChange: (value: string) => void;
  onEnter: () => void;
  busy: boolean;
}

const keys = ["7", "8", "9", "4", "5", "6", "1", "2", "3", ".", "0", "⌫"];

/** A number by keyboard or by keys large enough for gloves. */
export function NumberPad({ label, unit, value, onChange, onEnter, busy }: Props) {
  const press = (key: string) => onChange(key === "⌫" ? value.slice(0, -1) : value + key);
  return (
    <Box sx={{ mt: 1.5 }}>
      <TextField
        fullWidth
        autoFocus
        label={`${label} (${unit})`}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        onKeyDown={(e) => {
          if (e.key === "Enter") {
            e.preventDefault();
            onEnter();
          }
        }}
        slotProps={{ htmlInput: { inputMode: "decimal", className: "mono", style: { fontSize: "1.8rem" } } }}
      />
      <Box sx={{ display: { xs: "grid", md: "none" }, gridTemplateColumns: "repeat(3, 1fr)", gap: 1, mt: 1 }}>
        {keys.map((key) => (
          <Button
            key={key}
            variant="outlined"
            aria-label={key === "⌫" ? "Delete" : key}
            onClick={() => press(key)}
            sx={{ minHeight: 56, fontSize: "1.5rem" }}
          >
            {key}
          </Button>
        ))}
      </Box>
      <Button
        fullWidth
        variant="contained"
        color="act"
        disabled={busy || value.trim() === ""}
        onClick={onEnter}
        sx={{ minHeight: 60, mt: 1, fontSize: "1.2rem" }}
      >
        Enter
      </Button>
    </Box>
  );
}
