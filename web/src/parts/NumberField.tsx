import { Box, TextField } from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { type Read, readAtOnce, readNumber, type Unit } from "../api/numbers";
import { EitherNumber } from "./EitherNumber";
import { writeTape } from "./tape";

/** How a number was typed: in which of the units asked for, and whether something stands there that is none (yet). */
export interface Typed {
  unit: Unit;
  unread: boolean;
}

interface Props {
  label: string;
  /** As it is shown behind the label. */
  unit: string;
  /** What a bare number is in, and what else may be typed; otherwise the unit shown, or a count. */
  reads?: [Unit, ...Unit[]];
  value: number | null;
  onChange: (value: number | null, typed: Typed) => void;
  /** May be left empty. */
  optional?: boolean;
  error?: string | undefined;
  /** Inches as a tape shows them: fractions are shown. */
  tape?: boolean;
  /** In a table, whose head says what it is: the label is for those who do not see that. */
  inTable?: boolean;
}

const units: Record<string, Unit> = { A: "A", V: "V", W: "W", VA: "VA", Wh: "Wh", hp: "hp", ft: "ft", in: "in" };
const others: Record<string, Unit> = { "in-lb": "in-lb", "°C": "°C", "ft²": "ft2", "m²": "m2", money: "money" };

/** Keeps the typed text and the number apart, so that half-typed numbers stay as they are. */
export function NumberField(props: Props) {
  const { label, unit, value, onChange, optional = false, error, tape = false, inTable = false } = props;
  const [typed, setTyped] = useState<string | null>(null);
  const reads = props.reads ?? [units[unit] ?? others[unit] ?? "count"];
  const read = useRead(typed ?? "", reads);
  const field = useRef<HTMLInputElement>(null);
  const shown = typed ?? (value === null ? "" : tape ? writeTape(value) : String(value));
  const missing = read.is === "empty" && !optional && typed !== null ? "Type a number" : undefined;
  const said = read.is === "either" || read.is === "unread" ? read.said : missing;
  const tell = useEffectEvent(() => {
    const unread = read.is === "reading" || read.is === "either" || read.is === "unread";
    onChange(read.is === "read" ? read.value : null, { unit: read.is === "read" ? read.unit : reads[0], unread });
  });
  const outcome = `${read.is} ${read.is === "read" ? `${read.value} ${read.unit}` : ""}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: told when what was read changes
  useEffect(() => {
    if (typed !== null) {
      tell();
    }
  }, [outcome, typed === null]);
  useEffect(() => {
    // A form is not sent while something stands here that is no number.
    field.current?.setCustomValidity(read.is === "reading" ? "One moment: it is being read" : (said ?? ""));
  }, [said, read.is]);
  return (
    <Box>
      <TextField
        fullWidth
        label={inTable ? undefined : `${label} (${unit})`}
        size={inTable ? "small" : "medium"}
        value={shown}
        inputRef={field}
        error={said !== undefined || error !== undefined}
        helperText={error ?? said}
        onChange={(event) => setTyped(event.target.value)}
        slotProps={{
          htmlInput: {
            inputMode: tape ? "text" : "decimal",
            className: "mono",
            autoComplete: "off",
            "aria-label": inTable ? label : undefined,
          },
        }}
      />
      {read.is === "either" && <EitherNumber ways={read.ways} onChoose={setTyped} />}
    </Box>
  );
}

/** What stands in a field, read by the server where it is more than plain digits. */
function useRead(text: string, reads: [Unit, ...Unit[]]): Read {
  const known = readAtOnce(text, reads[0]);
  const asked = useQuery<Read>({
    queryKey: ["number", text, reads],
    enabled: known === undefined,
    // What was not read out of reach is read again.
    staleTime: (query) => (query.state.data?.is === "unread" ? 0 : Number.POSITIVE_INFINITY),
    queryFn: ({ signal }) => readNumber(text, reads, signal),
  });
  return known ?? asked.data ?? { is: "reading" };
}
