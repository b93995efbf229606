import { Alert, Autocomplete, Box, Button, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Load, MeasuredAt, Quantity, Thing } from "../api/client";
import { newId, useNoteReading } from "../api/edits";
import { useBeliefs, useLoads, useTogether } from "../api/reads";
import { hasStandIns, useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { useAwake, useTold, useVoice } from "../trace/voice";
import { NumberPad } from "./NumberPad";
import { standInReads } from "./standIn";
import type { useRound } from "./useRound";

interface Place {
  key: string;
  panel: string;
  /** What goes into the clamp. */
  said: string;
  place: MeasuredAt;
  quantity: Quantity;
  rating: number | undefined;
  breaker: number | undefined;
}

/** The places of a round: each panel's legs and neutral, then its breakers, in panel order. */
function usePlaces(only: number | undefined): Place[] {
  const { house } = useHouseView();
  const order = house.panel_order ?? house.panels.map((p) => p.id);
  const of = (panel: number): Place[] => {
    const it = house.panels.find((p) => p.id === panel);
    if (it === undefined) {
      return [];
    }
    const legs = it.supply === "wye-3ph" ? (["A", "B", "C", "N"] as const) : (["A", "B", "N"] as const);
    const feeds = legs.map((leg) => ({
      key: `${panel} ${leg}`,
      panel: it.name,
      said: leg === "N" ? "the neutral that comes in" : `leg ${leg} that comes in`,
      place: { at: "main" as const, panel },
      quantity: { quantity: "amps" as const, of: leg },
      rating: it.main ?? undefined,
      breaker: undefined,
    }));
    const breakers = house.breakers
      .filter((b) => b.panel === panel)
      .map((b) => ({
        key: `b${b.id}`,
        panel: it.name,
        said: `the hot of ${b.at.join("-")}`,
        place: { at: "breaker" as const, breaker: b.id },
        quantity: { quantity: "amps" as const },
        rating: b.amps,
        breaker: b.id,
        space: Number.parseInt(b.at[0] ?? "0", 10),
      }))
      .sort((a, b) => a.space - b.space);
    return [...feeds, ...breakers];
  };
  return order.flatMap(of).filter((p) => only === undefined || p.breaker === only);
}

/** One place after the other: what to clamp, what is expected, the number, and at once whether it fits. */
export function ClampRound({ round }: { round: ReturnType<typeof useRound> }) {
  const { id, house } = useHouseView();
  const places = usePlaces(round.breaker);
  const now = places.find((p) => !round.done.includes(p.key));
  const [typed, setTyped] = useState("");
  const [sure, setSure] = useState(false);
  const [last, setLast] = useState<{ reading: number; place: Place; value: number; expected: number | undefined }>();
  const noting = useNoteReading(id);
  const [voice] = useVoice();
  useAwake(true);
  useTold(now === undefined ? "The round is done" : `${now.panel}: clamp ${now.said}`, voice);
  const on: Thing[] = round.on.map((load) => ({ load }));
  const together = useTogether(id, on);
  const beliefs = useBeliefs(id).data;
  const misfit = useLoads(id).data?.misfits.find((m) => m.reading === last?.reading);
  const known = (load: Load) => {
    const status = beliefs?.points.find((p) => p.point === load.point)?.status;
    return status === "proven" || status === "likely" || status === "two-handles";
  };
  // A thing of which nobody knows where it hangs would count at every breaker.
  const listed = (house.loads ?? []).filter((l) => round.on.includes(l.id) && known(l)).map((l) => l.id);
  const carries = together.data?.circuits.find((c) => c.breaker === now?.breaker);
  const expected = now?.breaker === undefined ? undefined : (carries?.amps ?? 0);
  const value = typed.trim() === "" ? null : Number(typed.replace(",", "."));
  const valid = value !== null && Number.isFinite(value) && value >= 0;
  const odd = valid && now?.rating !== undefined && value > 2 * now.rating;
  const enter = () => {
    if (now === undefined || !valid || noting.busy) {
      return;
    }
    if (odd && !sure) {
      setSure(true);
      return;
    }
    const { place, quantity } = now;
    noting.note({ place, quantity, value, instrument: "clamp", span: "spot", on: listed }, (reading) => {
      setLast({ reading, place: now, value, expected });
      setTyped("");
      setSure(false);
      round.pass(now.key);
    });
  };
  if (now === undefined) {
    return (
      <Stack spacing={2}>
        <Alert severity="success">The round is done. Loads shows what it says.</Alert>
        {last !== undefined && <Read last={last} misfit={misfit?.said} />}
        {last !== undefined && <SwitchOne round={round} onFlip={round.back} />}
        <Button variant="contained" onClick={round.end} sx={{ minHeight: 56 }}>
          End the round
        </Button>
      </Stack>
    );
  }
  const nth = places.length - places.filter((p) => !round.done.includes(p.key)).length + 1;
  const stand = hasStandIns(house);
  return (
    <Stack spacing={2}>
      <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
        <Typography sx={{ color: "text.secondary" }}>
          {nth} of {places.length}, {now.panel}
        </Typography>
        <Typography variant="h3" component="h2" aria-live="polite" sx={{ fontSize: "1.4rem" }}>
          Clamp {now.said}
        </Typography>
        <Typography sx={{ color: "text.secondary" }}>
          {expected === undefined
            ? "one conductor alone"
            : `expected ${expected.toFixed(1)} A${carries === undefined ? ", as far as known" : `, give or take ${carries.plus_minus.toFixed(1)} A`}`}
        </Typography>
        {last !== undefined && <Read last={last} misfit={misfit?.said} />}
        <NumberPad label="Read" unit="A" value={typed} onChange={setTyped} onEnter={enter} busy={noting.busy} />
        {odd && (
          <Alert severity="warning" sx={{ mt: 1 }}>
            {value} A on {now.rating} A: is that what it shows? Enter it once more if it does.
          </Alert>
        )}
        {typed !== "" && !valid && <Alert severity="error">A number of amperes, nothing below 0, please.</Alert>}
        <ProblemNote error={noting.error} />
        <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mt: 1 }}>
          <Button sx={{ minHeight: 48 }} onClick={() => round.pass(now.key)}>
            Pass over
          </Button>
          <Button sx={{ minHeight: 48 }} disabled={round.done.length === 0} onClick={round.back}>
            One back
          </Button>
          {stand && (
            <Button
              sx={{ minHeight: 48 }}
              onClick={async () => {
                const shown = await standInReads(id, "clamp", now.place, now.quantity, round.on, newId());
                setTyped(shown?.value == null ? "" : String(shown.value));
              }}
            >
              Read the stand-in
            </Button>
          )}
          <Box sx={{ flexGrow: 1 }} />
          <Button sx={{ minHeight: 48 }} onClick={round.end}>
            End the round
          </Button>
        </Stack>
      </Paper>
      {last !== undefined && <SwitchOne round={round} onFlip={round.back} />}
    </Stack>
  );
}

function Read({
  last,
  misfit,
}: {
  last: { place: Place; value: number; expected: number | undefined };
  misfit: string | undefined;
}) {
  const said = `${last.place.panel}, ${last.place.said}: ${last.value.toFixed(1)} A read${
    last.expected === undefined ? "" : `, ${last.expected.toFixed(1)} A expected`
  }.`;
  return (
    <Alert severity={misfit === undefined ? "success" : "warning"} role="status" sx={{ mt: 1, py: 0 }}>
      {misfit === undefined ? said : `Does not fit. ${misfit}`}
    </Alert>
  );
}

/** One thing switched off or on, and the same place read again: a rise shows where it hangs. */
function SwitchOne({ round, onFlip }: { round: ReturnType<typeof useRound>; onFlip: () => void }) {
  const { house } = useHouseView();
  const loads = house.loads ?? [];
  const tag = (load: Load) => house.points.find((p) => p.id === load.point)?.tag ?? "";
  return (
    <Autocomplete
      options={loads}
      value={null}
      blurOnSelect
      clearOnBlur
      getOptionLabel={(l) => `${round.on.includes(l.id) ? "Switch off" : "Switch on"}: ${l.name}, ${tag(l)}`}
      getOptionKey={(l) => l.id}
      onChange={(_, load) => {
        if (load !== null) {
          round.flip(load.id, !round.on.includes(load.id));
          onFlip();
        }
      }}
      renderInput={(params) => (
        <TextField
          {...params}
          label="Switch one thing, and read the same place again"
          helperText="What the reading rises or falls with hangs there"
        />
      )}
    />
  );
}
