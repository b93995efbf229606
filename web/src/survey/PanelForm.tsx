import { Button, Checkbox, FormControlLabel, MenuItem, Stack, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { type Breaker, type Panel, Problem } from "../api/client";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { useHalf } from "../parts/useHalf";

/** What the form asks of a panel. */
export type PanelFields = Pick<Panel, "name" | "supply" | "bus" | "main" | "spaces" | "numbering" | "fed_by">;

interface Props {
  /** What is half filled is kept under this name until it is sent. */
  form: string;
  withHouseName?: boolean;
  /** Breakers that may feed it, where the house has a panel already. */
  feeders?: { breaker: Breaker; name: string }[];
  action: string;
  busy: boolean;
  error: unknown;
  /** `sure`: what is asked about was entered once more. */
  onDone: (panel: PanelFields, houseName: string, sure: boolean) => void;
}

/** Supply and panel, as the label on the door tells. */
export function PanelForm({ form, withHouseName = false, feeders, action, busy, error, onDone }: Props) {
  const [houseName, setHouseName] = useHalf(form, "house", "");
  const [name, setName] = useHalf(form, "name", feeders === undefined ? "Main" : "");
  const [supply, setSupply] = useHalf<Panel["supply"]>(form, "supply", "split-phase");
  const [bus, setBus] = useHalf<number | null>(form, "bus", 200);
  const [main, setMain] = useHalf<number | null>(form, "main", null);
  const [lugs, setLugs] = useHalf(form, "lugs", feeders !== undefined);
  const [spaces, setSpaces] = useHalf<number | null>(form, "spaces", 20);
  const [numbering, setNumbering] = useHalf<Panel["numbering"]>(form, "numbering", "odd-even");
  const [fedBy, setFedBy] = useHalf<number | "none" | "">(form, "fedBy", "");
  const [entered, setEntered] = useState("");
  const fault = (field: string) => (error instanceof Problem && error.field === field ? error.message : undefined);
  const countable = spaces === null || (Number.isInteger(spaces) && spaces > 0);
  const ready =
    bus !== null &&
    spaces !== null &&
    countable &&
    (lugs || main !== null) &&
    name.trim() !== "" &&
    (feeders === undefined || fedBy !== "");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (bus !== null && spaces !== null) {
      const fed_by = typeof fedBy === "number" ? fedBy : null;
      const fields = { name: name.trim(), supply, bus, main: lugs ? null : main, spaces, numbering, fed_by };
      const now = JSON.stringify(fields);
      setEntered(now);
      onDone(fields, houseName.trim(), fault("panel.sure") !== undefined && now === entered);
    }
  };
  return (
    <Stack component="form" spacing={2} onSubmit={submit}>
      {withHouseName && (
        <TextField
          label="House"
          value={houseName}
          autoFocus
          required
          error={fault("about.name") !== undefined}
          helperText={fault("about.name") ?? "What you call it: a street and number, or a name"}
          onChange={(event) => setHouseName(event.target.value)}
        />
      )}
      <TextField
        label="Panel"
        value={name}
        required
        error={fault("panel.name") !== undefined}
        helperText={fault("panel.name")}
        onChange={(event) => setName(event.target.value)}
      />
      {feeders !== undefined && (
        <TextField
          select
          label="Fed by"
          value={fedBy}
          helperText="Its breaker must be entered first: two poles, in the panel it comes from"
          onChange={(event) => setFedBy(event.target.value === "none" ? "none" : Number(event.target.value))}
        >
          <MenuItem value="none">no breaker here: a main panel of its own</MenuItem>
          {feeders.map(({ breaker, name: feeder }) => (
            <MenuItem key={breaker.id} value={breaker.id}>
              {feeder}
            </MenuItem>
          ))}
        </TextField>
      )}
      <TextField
        select
        label="Supply"
        value={supply}
        onChange={(event) => setSupply(event.target.value as Panel["supply"])}
      >
        <MenuItem value="split-phase">120/240 V, split phase (most houses)</MenuItem>
        <MenuItem value="wye-1ph">208Y/120 V, two legs (many flats)</MenuItem>
        <MenuItem value="wye-3ph">208Y/120 V, three phase</MenuItem>
      </TextField>
      <Stack direction="row" spacing={2}>
        <NumberField label="Bus" unit="A" value={bus} onChange={setBus} error={fault("panel.bus")} />
        {!lugs && (
          <NumberField
            label="Main breaker"
            unit="A"
            value={main}
            onChange={setMain}
            error={fault("panel.main") ?? fault("panel.sure")}
          />
        )}
        <NumberField
          label="Spaces"
          unit="full size"
          value={spaces}
          onChange={setSpaces}
          error={fault("panel.spaces") ?? (countable ? undefined : "Count its spaces: a whole number, like 20")}
        />
      </Stack>
      <FormControlLabel
        control={<Checkbox checked={lugs} onChange={(_, none) => setLugs(none)} />}
        label="It has no main breaker of its own"
      />
      <TextField
        select
        label="Numbers engraved beside the spaces"
        value={numbering}
        onChange={(event) => setNumbering(event.target.value as Panel["numbering"])}
      >
        <MenuItem value="odd-even">odd down the left, even down the right</MenuItem>
        <MenuItem value="columns">straight down the left, then down the right</MenuItem>
      </TextField>
      <ProblemNote error={error} />
      <Button type="submit" variant="contained" disabled={busy || !ready || (withHouseName && houseName.trim() === "")}>
        {action}
      </Button>
    </Stack>
  );
}
