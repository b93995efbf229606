import {
  Autocomplete,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { type FormEvent, useState } from "react";
import type { Load, Point, Schemas } from "../api/client";
import { newId, useCommit } from "../api/edits";
import type { Unit } from "../api/numbers";
import { useCatalog, useLoads } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { useHalf, useLeft } from "../parts/useHalf";
import { habitWord, loadKindWord } from "../parts/words";

type Size = "watts" | "amps" | "va" | "hp" | "mca";
type Habit = Schemas["Habit"];
type Kind = Schemas["LoadKind"];
type Usual = Schemas["Usual"];

const sizes: [Size, string][] = [
  ["watts", "W"],
  ["amps", "A"],
  ["va", "VA"],
  ["hp", "hp"],
  ["mca", "A, MCA"],
];

/** What a plate may be typed in: the chosen unit first. */
const plateUnits: Record<Size, [Unit, ...Unit[]]> = {
  watts: ["W", "A", "VA", "hp"],
  amps: ["A", "W", "VA", "hp"],
  va: ["VA", "W", "A", "hp"],
  hp: ["hp", "W", "A", "VA"],
  mca: ["A"],
};
const sizeIn: Partial<Record<Unit, Size>> = { W: "watts", A: "amps", VA: "va", hp: "hp" };

/** The things that draw at a point: those that stand there, and a way to add one. */
export function PointLoads({ point }: { point: Point }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const loads = house.loads?.filter((l) => l.point === point.id) ?? [];
  const draws = useLoads(id).data?.loads;
  const draw = (load: Load) => draws?.find((d) => d.load === load.id);
  const [changing, setChanging] = useState<number>();
  // How often the form was filled.
  const [round, setRound] = useState(0);
  const changed = loads.find((l) => l.id === changing);
  return (
    <Stack component="section" spacing={1.5} aria-labelledby="loads-here" sx={{ minWidth: 280 }}>
      <Typography variant="h3" id="loads-here">
        What draws here
      </Typography>
      {loads.length === 0 && (
        <Typography sx={{ color: "text.secondary" }}>
          Nothing is entered. Add what is fixed here or usually plugged in; a receptacle may carry several.
        </Typography>
      )}
      {loads.map((load) => (
        <Stack
          key={load.id}
          direction="row"
          sx={{ alignItems: "center", justifyContent: "flex-end", flexWrap: "wrap", gap: 1 }}
        >
          <Typography sx={{ flex: "1 1 16rem" }}>
            <strong>{load.name}</strong>
            {told(draw(load))}
          </Typography>
          <Button size="small" aria-label={`Change ${load.name}`} onClick={() => setChanging(load.id)}>
            Change
          </Button>
          <Button
            size="small"
            aria-label={`Take out ${load.name}`}
            disabled={commit.isPending}
            onClick={() => commit.mutate({ type: "remove-load", load: load.id })}
          >
            Take out
          </Button>
        </Stack>
      ))}
      <LoadForm
        key={`${changing ?? 0} ${round}`}
        point={point}
        load={changed}
        commit={commit}
        focused={changing !== undefined || round > 0}
        onDone={() => {
          setChanging(undefined);
          setRound(round + 1);
        }}
      />
    </Stack>
  );
}

/** What it draws, and what that rests on. */
function told(draw: Schemas["Draw"] | undefined): string {
  return draw === undefined ? "" : `: ${draw.said}. Rests on ${draw.rests_on.join(" and ")}.`;
}

/** Yes, no, or as is usual for such a thing. */
type Maybe = "usual" | "yes" | "no";

const asMaybe = (value: boolean | null | undefined): Maybe => (value == null ? "usual" : value ? "yes" : "no");

interface FormProps {
  point: Point;
  /** The one that is changed; otherwise one is added. */
  load: Load | undefined;
  commit: ReturnType<typeof useCommit>;
  /** It is new on the page by somebody's press: what is typed next goes in. */
  focused: boolean;
  onDone: () => void;
}

/** A load by its name, one of the usual ones or any other, and one size of its nameplate. */
function LoadForm({ point, load, commit, focused, onDone }: FormProps) {
  const { house } = useHouseView();
  const catalog = useCatalog().data;
  const first = sizes.map(([each]) => each).find((each) => load?.[each] != null) ?? "watts";
  // Of the thing as it stands: what was typed of it before others changed it is not taken up again.
  const form = `load ${point.id} ${JSON.stringify(load ?? null)}`;
  useLeft(form);
  const [name, setName] = useHalf(form, "name", load?.name ?? "");
  const [size, setSize] = useHalf<Size>(form, "size", first);
  const [value, setValue] = useHalf<number | null>(form, "value", load?.[first] ?? null);
  const [most, setMost] = useHalf<number | null>(form, "most", load?.mop ?? null);
  const [habit, setHabit] = useHalf<Habit | "">(form, "habit", load?.habit ?? "");
  const [motor, setMotor] = useHalf<Maybe>(form, "motor", asMaybe(load?.motor));
  const [long, setLong] = useHalf<Maybe>(form, "long", asMaybe(load?.continuous));
  const [duty, setDuty] = useHalf<number | null>(form, "duty", load?.duty ?? null);
  const [three, setThree] = useHalf(form, "three", load?.three_phase ?? false);
  const [kind, setKind] = useHalf<Kind>(form, "kind", load?.kind ?? "other");
  const usual = catalog?.loads.find((u) => u.name === name);
  const welds = (usual?.kind ?? kind) === "welder";
  const threeLegs = house.panels.some((panel) => panel.supply === "wye-3ph");
  const volts = load?.volts ?? (point.volts == null ? usual?.volts : undefined);
  const put = (event: FormEvent) => {
    event.preventDefault();
    commit.mutate(
      {
        type: "put-load",
        load: {
          id: load?.id ?? newId(),
          point: point.id,
          name: name.trim(),
          kind: usual?.kind ?? kind,
          ...(volts != null && { volts }),
          ...(value !== null && { [size]: value }),
          ...(most !== null && { mop: most }),
          ...(duty !== null && { duty }),
          ...(three && { three_phase: true }),
          ...(habit !== "" && { habit }),
          ...(motor !== "usual" && { motor: motor === "yes" }),
          ...(long !== "usual" && { continuous: long === "yes" }),
        },
      },
      { onSuccess: onDone },
    );
  };
  return (
    <Stack component="form" spacing={1.5} onSubmit={put}>
      <Autocomplete
        freeSolo
        options={(catalog?.loads ?? []).map((u) => u.name)}
        inputValue={name}
        onInputChange={(_, typed) => setName(typed)}
        renderInput={(params) => (
          <TextField {...params} autoFocus={focused} label="Thing that draws" helperText={usual && typically(usual)} />
        )}
      />
      {usual === undefined && name.trim() !== "" && (
        <TextField
          select
          label="What it is"
          value={kind}
          helperText="What its nameplate means depends on what it is"
          onChange={(e) => setKind(e.target.value as Kind)}
        >
          {Object.entries(loadKindWord).map(([code, word]) => (
            <MenuItem key={code} value={code}>
              {word}
            </MenuItem>
          ))}
        </TextField>
      )}
      <Stack direction="row" spacing={1}>
        <NumberField
          label="Nameplate"
          unit={unit(size)}
          reads={plateUnits[size]}
          optional
          value={value}
          onChange={(read, typed) => {
            setValue(read);
            // "7.2 kVA" says itself what it is in.
            setSize(size === "mca" ? size : (sizeIn[typed.unit] ?? size));
          }}
        />
        <TextField
          select
          label="in"
          sx={{ minWidth: 84 }}
          value={size}
          onChange={(e) => setSize(e.target.value as Size)}
        >
          {sizes.map(([each, word]) => (
            <MenuItem key={each} value={each}>
              {word}
            </MenuItem>
          ))}
        </TextField>
      </Stack>
      {size === "mca" && (
        <NumberField label="Largest breaker (MOP)" unit="A" optional value={most} onChange={setMost} />
      )}
      {welds && <NumberField label="Duty, of ten minutes" unit="%" optional value={duty} onChange={setDuty} />}
      {threeLegs && (
        <FormControlLabel
          control={<Checkbox checked={three} onChange={(_, checked) => setThree(checked)} />}
          label="Takes three phases"
        />
      )}
      <TextField
        select
        label="When it runs"
        value={habit}
        helperText={usual && habit === "" ? `usually ${habitWord[usual.habit]}` : undefined}
        onChange={(e) => setHabit(e.target.value as Habit | "")}
      >
        {Object.entries(habitWord).map(([code, word]) => (
          <MenuItem key={code} value={code}>
            {word}
          </MenuItem>
        ))}
      </TextField>
      <Stack direction={{ xs: "column", sm: "row" }} spacing={1}>
        <YesNo label="Has a motor" value={motor} onChange={setMotor} />
        <YesNo label="On for 3 hours or more" value={long} onChange={setLong} />
      </Stack>
      <ProblemNote error={commit.error} />
      <Stack direction="row" spacing={1}>
        <Button type="submit" variant="outlined" disabled={name.trim() === "" || commit.isPending}>
          {load === undefined ? "Add it" : `Keep ${load.name}`}
        </Button>
        {load !== undefined && <Button onClick={onDone}>Leave it</Button>}
      </Stack>
    </Stack>
  );
}

function YesNo({ label, value, onChange }: { label: string; value: Maybe; onChange: (value: Maybe) => void }) {
  return (
    <TextField select fullWidth label={label} value={value} onChange={(e) => onChange(e.target.value as Maybe)}>
      <MenuItem value="usual">as usual for it</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}

function unit(size: Size): string {
  return sizes.find(([each]) => each === size)?.[1] ?? "W";
}

function typically({ low, high, volts }: Usual): string {
  return `Typically ${low} to ${high} A at ${volts} V; its nameplate tells better`;
}
