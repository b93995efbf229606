import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { capital, instrumentWord } from "../parts/words";

/** So many are shown before one asks for more. */
const FEW = 3;

type Reading = Schemas["Reading"];
type Cause = Schemas["Explanation"];

/** Readings that do not fit, the worst first: put right with a tap on what happened, left as they are, or taken out. */
export function Misfits({ misfits }: { misfits: Schemas["Misfit"][] }) {
  const { house } = useHouseView();
  const [all, setAll] = useState(false);
  const takeOut = useTakeOut();
  const amend = useAmend();
  const shown = all ? misfits : misfits.slice(0, FEW);
  const reading = (id: number) => house.readings?.find((r) => r.id === id);
  return (
    <Stack spacing={1}>
      <ProblemNote error={takeOut.error ?? amend.error} />
      {shown.map((m) => (
        <Alert key={m.reading} severity="warning">
          {m.said}
          <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 1 }}>
            {m.causes.map((cause) => (
              <Happened key={cause.said} cause={cause} of={reading(m.reading)} amend={amend} />
            ))}
            <Happened of={reading(m.reading)} amend={amend} />
            <TakeOut reading={m.reading} takeOut={takeOut} />
          </Stack>
        </Alert>
      ))}
      {misfits.length > shown.length && (
        <Button sx={{ alignSelf: "start", minHeight: 44 }} onClick={() => setAll(true)}>
          {misfits.length - shown.length} more that do not fit
        </Button>
      )}
    </Stack>
  );
}

interface HappenedProps {
  /** What happened; nothing where it is right as it is. */
  cause?: Cause;
  of: Reading | undefined;
  amend: ReturnType<typeof useAmend>;
}

/** What may have happened, as an answer that puts the reading right. */
function Happened({ cause, of, amend }: HappenedProps) {
  const { house } = useHouseView();
  const sx = { minHeight: 44 };
  if (of === undefined) {
    return null;
  }
  if (cause?.happened === "hangs-here") {
    const point = house.loads?.find((l) => l.id === cause.load)?.point;
    return (
      <Button color="inherit" variant="outlined" component={Link} to={`../find?point=${point}`} sx={sx}>
        {capital(cause.answer)}
      </Button>
    );
  }
  return (
    <Button
      color="inherit"
      variant="outlined"
      disabled={amend.busy}
      onClick={() => amend.act(cause?.right ?? { ...of, sure: true })}
      sx={sx}
    >
      {cause === undefined ? "It is right as it is" : capital(cause.answer)}
    </Button>
  );
}

/** Writes a reading anew, as one change that can be taken back. */
function useAmend() {
  const { id } = useHouseView();
  const commit = useCommit(id);
  return {
    act: (right: Reading) =>
      commit.mutate({
        type: "batch",
        changes: [
          { type: "remove-reading", reading: right.id },
          { type: "note-reading", reading: { ...right, id: newId() } },
        ],
      }),
    busy: commit.isPending,
    error: commit.error,
  };
}

/** What was read at a breaker, the newest first. */
export function ReadingsAt({ breaker }: { breaker: number }) {
  const { house } = useHouseView();
  const [all, setAll] = useState(false);
  const takeOut = useTakeOut();
  const here = (house.readings ?? [])
    .filter((r) => r.place.at === "breaker" && r.place.breaker === breaker)
    .sort((a, b) => b.time.localeCompare(a.time));
  const shown = all ? here : here.slice(0, FEW);
  const name = (load: number) => house.loads?.find((l) => l.id === load)?.name ?? "";
  if (here.length === 0) {
    return <Typography sx={{ color: "text.secondary" }}>Nothing was read here yet.</Typography>;
  }
  return (
    <Stack>
      <Typography variant="h3">Read here</Typography>
      <ProblemNote error={takeOut.error} />
      {shown.map((r) => (
        <Stack key={r.id} direction="row" sx={{ alignItems: "center", gap: 1, minHeight: 44 }}>
          <Typography sx={{ flexGrow: 1 }}>
            <span className="mono">
              {r.value} {unit[r.quantity.quantity]}
            </span>
            , {new Date(r.time).toLocaleString()}, {instrumentWord[r.instrument]}, {r.who}.{" "}
            {r.on.length === 0 ? "Nothing on the list was on." : `On: ${r.on.map(name).join(", ")}.`}
          </Typography>
          <TakeOut reading={r.id} takeOut={takeOut} />
        </Stack>
      ))}
      {here.length > shown.length && (
        <Button sx={{ alignSelf: "start", minHeight: 44 }} onClick={() => setAll(true)}>
          {here.length - shown.length} older
        </Button>
      )}
    </Stack>
  );
}

const unit: Record<Schemas["Quantity"]["quantity"], string> = { amps: "A", volts: "V", watts: "W", degrees: "°C" };

function useTakeOut() {
  const { id } = useHouseView();
  const commit = useCommit(id);
  return {
    act: (reading: number) => commit.mutate({ type: "remove-reading", reading }),
    busy: commit.isPending,
    error: commit.error,
  };
}

/** Takes a reading out, and what it said of the map; the page of changes takes that back. */
function TakeOut({ reading, takeOut }: { reading: number; takeOut: ReturnType<typeof useTakeOut> }) {
  return (
    <Button
      color="inherit"
      sx={{ minHeight: 44, whiteSpace: "nowrap", flexShrink: 0 }}
      disabled={takeOut.busy}
      onClick={() => takeOut.act(reading)}
    >
      Take out
    </Button>
  );
}
