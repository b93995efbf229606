import { Alert, Box, Button, Stack, TextField, useMediaQuery, useTheme } from "@mui/material";
import { useRef, useState } from "react";
import { type Read, readNumber, type Unit } from "../api/numbers";
import { EitherNumber } from "../parts/EitherNumber";

interface Props {
  label: string;
  unit: Unit;
  value: string;
  onChange: (value: string) => void;
  onEnter: (value: number) => void;
  busy: boolean;
}

const keys = ["7", "8", "9", "4", "5", "6", "1", "2", "3", ".", "0", "⌫"];
/** Said at the end of a dictated number. */
const enters = /[\s,.]*\benter\b[\s.]*$/i;

/** A number by keyboard, by keys large enough for gloves, or dictated to the keyboard of the phone. */
export function NumberPad({ label, unit, value, onChange, onEnter, busy }: Props) {
  const field = useRef<HTMLInputElement>(null);
  const [saying, setSaying] = useState(false);
  const [told, setTold] = useState<{ of: string; read: Read }>();
  const read = told?.of === value ? told.read : undefined;
  const wide = useMediaQuery(useTheme().breakpoints.up("md"));
  const press = (key: string) => onChange(key === "⌫" ? value.slice(0, -1) : value + key);
  const typed = (text: string) => {
    onChange(text.replace(enters, ""));
    if (enters.test(text)) {
      // Once what was said before it stands in the field.
      setTimeout(() => field.current?.form?.requestSubmit(), 0);
    }
  };
  const enter = async () => {
    setTold({ of: value, read: { is: "reading" } });
    const now = await readNumber(value, [unit]);
    setTold({ of: value, read: now });
    if (now.is === "read") {
      onEnter(now.value);
    }
  };
  return (
    <Box
      component="form"
      noValidate
      sx={{ mt: 1.5 }}
      onSubmit={(e) => {
        e.preventDefault();
        if (!busy && read?.is !== "reading" && value.trim() !== "") {
          void enter();
        }
      }}
    >
      <Stack direction="row" sx={{ gap: 1, alignItems: "flex-start" }}>
        <TextField
          fullWidth
          autoFocus
          label={`${label} (${unit})`}
          value={value}
          inputRef={field}
          helperText={saying && "Press the keyboard’s microphone and say: “twelve point four, enter”"}
          onChange={(e) => typed(e.target.value)}
          slotProps={{
            htmlInput: {
              // The keys below serve in the place of the phone's own keyboard, until its microphone is wanted.
              inputMode: wide ? "decimal" : saying ? "text" : "none",
              autoComplete: "off",
              className: "mono",
              style: { fontSize: "1.8rem" },
            },
          }}
        />
        <Button
          aria-pressed={saying}
          variant={saying ? "contained" : "outlined"}
          sx={{ minHeight: 56, flexShrink: 0, display: { md: "none" } }}
          onClick={() => {
            setSaying(!saying);
            field.current?.focus();
          }}
        >
          Say it
        </Button>
      </Stack>
      {(read?.is === "either" || read?.is === "unread") && (
        <Alert severity="error" role="alert" sx={{ mt: 1 }}>
          {read.said}
          {read.is === "either" && <EitherNumber ways={read.ways} onChoose={onChange} />}
        </Alert>
      )}
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
        type="submit"
        variant="contained"
        color="act"
        disabled={busy || read?.is === "reading" || value.trim() === ""}
        sx={{ minHeight: 60, mt: 1, fontSize: "1.2rem" }}
      >
        Enter
      </Button>
    </Box>
  );
}
