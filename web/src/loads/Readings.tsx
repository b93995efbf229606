import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { instrumentWord } from "../parts/words";

/** So many are shown before one asks for more. */
const FEW = 3;

/** Readings that do not fit, the worst first: measured again, or taken out. */
export function Misfits({ misfits }: { misfits: Schemas["Misfit"][] }) {
  const [all, setAll] = useState(false);
  const takeOut = useTakeOut();
  const shown = all ? misfits : misfits.slice(0, FEW);
  return (
    <Stack spacing={1}>
      <ProblemNote error={takeOut.error} />
      {shown.map((m) => (
        <Alert key={m.reading} severity="warning" action={<TakeOut reading={m.reading} takeOut={takeOut} />}>
          {m.said}
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
