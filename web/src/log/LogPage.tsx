import { Alert, Box, Button, Chip, MenuItem, Paper, Stack, TextField, Typography, useMediaQuery } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { client, data, type LineKind, type Schemas } from "../api/client";
import { useLogEvent } from "../api/edits";
import { type LogFilter, useDueTests, useLog } from "../api/reads";
import { useHouseView } from "../app/house";
import { PHONE } from "../app/stance";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { alertOf } from "../parts/words";
import { Logbook } from "./Logbook";

const kinds: [LineKind, string][] = [
  ["trip", "trips"],
  ["reset", "resets"],
  ["test", "tests"],
  ["volts", "voltages"],
  ["work", "work"],
  ["finding", "findings"],
  ["run", "runs"],
  ["note", "notes"],
];

/** What happened in the house, filtered; what is due; what can be noted. */
export function LogPage() {
  const { id, house } = useHouseView();
  const [filter, setFilter] = useState<LogFilter>({});
  const log = useLog(id, filter);
  // What was changed has its own page.
  const lines = (log.data?.lines ?? []).filter((line) => line.kind !== "change");
  const query = new URLSearchParams(Object.entries(filter).map(([k, v]) => [k, String(v)]));
  const { kind, panel, ...rest } = filter;
  return (
    <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", lg: "1fr 330px" }, columnGap: 4, rowGap: 2.5 }}>
      <Stack spacing={2.5} sx={{ order: { lg: 2 } }}>
        <AddNote />
        <DueTests />
        <ReadVolts />
      </Stack>
      <Stack spacing={2} sx={{ minWidth: 0 }}>
        <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5, alignItems: "center" }}>
          <TextField
            select
            label="Show"
            slotProps={{ select: { displayEmpty: true } }}
            value={kind ?? ""}
            onChange={(e) =>
              setFilter({
                ...rest,
                ...(panel === undefined ? {} : { panel }),
                ...(e.target.value === "" ? {} : { kind: e.target.value as LineKind }),
              })
            }
            sx={{ width: 140 }}
          >
            <MenuItem value="">everything</MenuItem>
            {kinds.map(([value, word]) => (
              <MenuItem key={value} value={value}>
                {word}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="Panel"
            value={panel ?? 0}
            onChange={(e) =>
              setFilter({
                ...(kind === undefined ? {} : { kind }),
                ...(Number(e.target.value) === 0 ? {} : { panel: Number(e.target.value) }),
              })
            }
            sx={{ width: 160 }}
          >
            <MenuItem value={0}>all</MenuItem>
            {house.panels.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
          {filter.breaker !== undefined && (
            <Chip
              label={`breaker ${house.breakers.find((b) => b.id === filter.breaker)?.at.join("-")}`}
              onDelete={() =>
                setFilter({ ...(kind === undefined ? {} : { kind }), ...(panel === undefined ? {} : { panel }) })
              }
            />
          )}
          <Button component="a" href={`/api/v1/houses/${id}/log.csv?${query}`} download="log.csv">
            CSV
          </Button>
        </Stack>
        <ProblemNote error={log.error} />
        {log.data !== undefined && lines.length === 0 && <Typography>Nothing of this is noted yet.</Typography>}
        <Logbook lines={lines} onBreaker={(breaker) => setFilter({ ...filter, breaker })} />
      </Stack>
    </Box>
  );
}

/** Ground-fault devices whose TEST button is to be pressed. */
function DueTests() {
  const { id } = useHouseView();
  const tests = useDueTests(id);
  const log = useLogEvent(id);
  const due = tests.data?.filter((d) => d.due) ?? [];
  const small = useMediaQuery(PHONE);
  const press = (subject: Schemas["Subject"], passed: boolean) => {
    if (subject.thing === "breaker") {
      log.write({ what: "breaker-test", breaker: subject.id, passed });
    } else if (subject.thing === "point") {
      log.write({ what: "device-test", point: subject.id, passed });
    }
  };
  if (tests.data === undefined || tests.data.length === 0) {
    return null;
  }
  return (
    <Paper variant="outlined" component="details" open={!small} sx={{ px: 2, py: 1 }}>
      <Typography variant="h3" component="summary" sx={{ cursor: "pointer", py: 1 }}>
        Ground-fault devices to test: {due.length}
      </Typography>
      <Typography sx={{ color: "text.secondary" }} gutterBottom>
        Press TEST: the power must go. Press RESET: it must come back. One that fails is replaced.
      </Typography>
      {due.map((d) => (
        <Stack key={d.name} direction="row" sx={{ alignItems: "center", columnGap: 1, flexWrap: "wrap" }}>
          <Typography sx={{ width: "100%" }}>
            {d.name}
            {d.failed && <strong> failed</strong>}
            {d.last != null && `, last ${new Date(d.last).toLocaleDateString()}`}
          </Typography>
          <Button disabled={log.busy} onClick={() => press(d.subject, true)}>
            It went and came back
          </Button>
          <Button disabled={log.busy} onClick={() => press(d.subject, false)}>
            It did not
          </Button>
        </Stack>
      ))}
      {due.length === 0 && <Typography>All were tested within the last thirty days.</Typography>}
      <Button component="a" href={`/api/v1/houses/${id}/tests.ics`} download="ground-fault-tests.ics">
        Monthly reminder for your calendar
      </Button>
      <ProblemNote error={log.error} />
    </Paper>
  );
}

function AddNote() {
  const { id, panel } = useHouseView();
  const log = useLogEvent(id);
  const [note, setNote] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    log.write({ what: "note", panel: panel ?? null }, { note, onSuccess: () => setNote("") });
  };
  return (
    <Stack component="form" spacing={1} onSubmit={submit}>
      <TextField label="A note" value={note} onChange={(e) => setNote(e.target.value)} multiline maxRows={3} />
      <ProblemNote error={log.error} />
      <Button type="submit" variant="outlined" disabled={note.trim() === "" || log.busy} sx={{ alignSelf: "start" }}>
        Note it
      </Button>
    </Stack>
  );
}

/** The service voltages, three numbers judged together. */
function ReadVolts() {
  const { id, house, panel } = useHouseView();
  const log = useLogEvent(id);
  const [a, setA] = useState<number | null>(null);
  const [b, setB] = useState<number | null>(null);
  const [ab, setAb] = useState<number | null>(null);
  const [third, setThird] = useState<{ c_n: number | null; b_c: number | null; c_a: number | null }>({
    c_n: null,
    b_c: null,
    c_a: null,
  });
  const shown = house.panels.find((p) => p.id === panel);
  const three = shown?.supply === "wye-3ph";
  const judge = useMutation({
    mutationFn: async (reading: Schemas["ServiceReading"]) =>
      data(
        client.POST("/api/v1/houses/{id}/panels/{panel}/service", {
          params: { path: { id, panel: panel ?? 0 } },
          body: reading,
        }),
      ),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (a !== null && b !== null && ab !== null && panel !== undefined) {
      const reading = { a_n: a, b_n: b, a_b: ab, ...(three ? third : {}) };
      judge.mutate(reading);
      log.write({ what: "volts", panel, reading });
    }
  };
  const verdict = judge.data;
  // What is as it should be looks so only where nothing beside it is wrong.
  const fine = verdict?.troubles.length === 0 ? "success" : "info";
  return (
    <Paper variant="outlined" component="details" sx={{ px: 2, py: 1 }}>
      <Typography variant="h3" component="summary" sx={{ cursor: "pointer", py: 1 }}>
        Read the service voltages of {shown?.name ?? "the panel"}
      </Typography>
      <Stack component="form" spacing={1} onSubmit={submit} sx={{ pt: 1 }}>
        <Stack direction="row" spacing={1}>
          <NumberField label="A–N" unit="V" value={a} onChange={setA} />
          <NumberField label="B–N" unit="V" value={b} onChange={setB} />
          <NumberField label="A–B" unit="V" value={ab} onChange={setAb} />
        </Stack>
        {three && (
          <Stack direction="row" spacing={1}>
            <NumberField
              label="C–N"
              unit="V"
              optional
              value={third.c_n}
              onChange={(c_n) => setThird({ ...third, c_n })}
            />
            <NumberField
              label="B–C"
              unit="V"
              optional
              value={third.b_c}
              onChange={(b_c) => setThird({ ...third, b_c })}
            />
            <NumberField
              label="C–A"
              unit="V"
              optional
              value={third.c_a}
              onChange={(c_a) => setThird({ ...third, c_a })}
            />
          </Stack>
        )}
        <Typography variant="caption" sx={{ color: "text.secondary" }}>
          Behind the cover: qualified people only; a meter that shows them is as good.
        </Typography>
        <ProblemNote error={judge.error ?? log.error} />
        <Button
          type="submit"
          variant="outlined"
          disabled={a === null || b === null || ab === null || log.busy}
          sx={{ alignSelf: "start" }}
        >
          Judge and note them
        </Button>
        {verdict !== undefined && (
          <Stack spacing={1} role="status">
            {verdict.said.map((line) => (
              <Alert key={line.said} severity={line.severity == null ? fine : alertOf[line.severity]}>
                {line.said}
              </Alert>
            ))}
          </Stack>
        )}
      </Stack>
    </Paper>
  );
}
