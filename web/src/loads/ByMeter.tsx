import {
  Alert,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { client, data, type Load } from "../api/client";
import { newId, useNoteReading } from "../api/edits";
import { useLoads } from "../api/reads";
import { useHasStandIns, useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, named } from "../parts/words";
import { standInReads } from "./standIn";

interface Timed {
  turns: number;
  seconds: number;
}

/** The utility's meter as a wattmeter, with the cover on: a circuit by difference, the stopwatch on screen. */
export function ByMeter({ only }: { only: number | undefined }) {
  const { id, house } = useHouseView();
  const standIns = useHasStandIns();
  const [breaker, setBreaker] = useState(only ?? house.breakers[0]?.id);
  const [wattHours, setWattHours] = useState<number | null>(1);
  const [readings, setReadings] = useState<Timed[]>([]);
  const [off, setOff] = useState<number[]>([]);
  const noting = useNoteReading(id);
  const circuits = useLoads(id).data?.circuits;
  const body = { watt_hours: wattHours ?? 0, readings };
  const told = useQuery({
    queryKey: ["meter-turns", body],
    retry: false,
    queryFn: () => data(client.POST("/api/v1/meter-turns", { body })),
  });
  const things = circuits?.find((c) => c.breaker === breaker)?.things ?? [];
  const hung = (house.loads ?? []).filter((l) => things.some((t) => "load" in t.thing && t.thing.load === l.id));
  const on = hung.filter((l) => !off.includes(l.id)).map((l) => l.id);
  const take = (timed: Timed) => setReadings([...readings, timed]);
  const again = () => setReadings([]);
  const circuit = told.data?.circuit;
  // The stand-in's meter turns by what is on: all of it, or all but this circuit.
  const standIn = async () => {
    const others = (house.loads ?? []).map((l) => l.id).filter((l) => !hung.some((h) => h.id === l));
    const all = readings.length === 1 ? others : [...others, ...on];
    const panel = house.panels[0]?.id ?? 0;
    const place = { at: "main" as const, panel };
    const shown = await standInReads(id, "utility-meter", place, { quantity: "watts" }, all, newId(), wattHours ?? 1);
    if (shown?.timed != null) {
      take(shown.timed);
    }
  };
  return (
    <Stack spacing={2}>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <TextField
          select
          label="Breaker"
          value={breaker ?? ""}
          sx={{ minWidth: 200 }}
          onChange={(e) => {
            setBreaker(Number(e.target.value));
            again();
          }}
        >
          {house.breakers.map((b) => (
            <MenuItem key={b.id} value={b.id}>
              {breakerName(house, named(house, b))} {b.label ?? ""}
            </MenuItem>
          ))}
        </TextField>
        <NumberField label="One turn or blink" unit="Wh" value={wattHours} onChange={setWattHours} />
      </Stack>
      <Typography sx={{ color: "text.secondary" }}>
        It is printed on the meter: Kh for a disc (often 7.2), imp/kWh for a light (1000 imp/kWh are 1 Wh).
      </Typography>
      <WhatIsOn hung={hung} off={off} onChange={setOff} />
      <ProblemNote error={told.error ?? noting.error} />
      <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
        <Typography variant="h3" component="h2" aria-live="polite" gutterBottom>
          {told.data?.said ?? "Leave all as it is, and count turns or blinks."}
        </Typography>
        {circuit == null && readings.length < 3 && (
          <Stopwatch
            key={`${breaker} ${readings.length}`}
            onTake={take}
            {...(standIns ? { onStandIn: () => void standIn() } : {})}
          />
        )}
        {told.data?.watts.map((w, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a reading is its place
          <Typography key={i}>
            {["All on", "It off", "All on again"][i]}: <span className="mono">{Math.round(w)} W</span>
          </Typography>
        ))}
        {circuit != null && breaker !== undefined && (
          <Button
            fullWidth
            variant="contained"
            color="act"
            sx={{ minHeight: 56, mt: 1 }}
            disabled={noting.busy}
            onClick={() =>
              noting.note(
                {
                  place: { at: "breaker", breaker },
                  quantity: { quantity: "watts" },
                  value: circuit,
                  instrument: "utility-meter",
                  span: "spot",
                  on,
                },
                again,
              )
            }
          >
            Keep {Math.round(circuit)} W
          </Button>
        )}
        {readings.length > 0 && (
          <Button sx={{ minHeight: 48, mt: 1 }} onClick={again}>
            Begin again
          </Button>
        )}
      </Paper>
      <Alert severity="info">Ask first what must not lose power: computers, medical devices, an oven that runs.</Alert>
    </Stack>
  );
}

interface WhatIsOnProps {
  hung: readonly Load[];
  /** What stays off. */
  off: readonly number[];
  onChange: (off: number[]) => void;
}

function WhatIsOn({ hung, off, onChange }: WhatIsOnProps) {
  return (
    <Stack role="group" aria-label="What of it is on">
      <Typography>
        {hung.length === 0
          ? "Nothing that is entered is believed to hang there: what it reads can be laid to nothing."
          : "Switch on what hangs there, and untick what stays off:"}
      </Typography>
      {hung.map((l) => (
        <FormControlLabel
          key={l.id}
          sx={{ minHeight: 44 }}
          control={
            <Checkbox
              checked={!off.includes(l.id)}
              onChange={(_, ticked) => onChange(ticked ? off.filter((o) => o !== l.id) : [...off, l.id])}
            />
          }
          label={l.name}
        />
      ))}
    </Stack>
  );
}

/** Turns or blinks tapped as they come, and the time between the first and the last. */
function Stopwatch({ onTake, onStandIn }: { onTake: (timed: Timed) => void; onStandIn?: () => void }) {
  const [taps, setTaps] = useState<number[]>([]);
  const seconds = ((taps.at(-1) ?? 0) - (taps[0] ?? 0)) / 1000;
  const tap = () => setTaps([...taps, performance.now()]);
  return (
    <>
      <Button
        fullWidth
        variant="contained"
        color="act"
        sx={{ minHeight: 96, fontSize: "1.3rem" }}
        onPointerDown={tap}
        onKeyDown={(e) => (e.key === "Enter" || e.key === " ") && !e.repeat && tap()}
      >
        {taps.length === 0 ? "Tap at a turn or blink" : `${taps.length - 1} in ${seconds.toFixed(0)} s: tap at each`}
      </Button>
      <Stack direction="row" sx={{ gap: 1, mt: 1 }}>
        <Button
          variant="outlined"
          sx={{ minHeight: 48 }}
          disabled={taps.length < 2 || seconds < 1}
          onClick={() => onTake({ turns: taps.length - 1, seconds })}
        >
          Take it
        </Button>
        {onStandIn !== undefined && (
          <Button sx={{ minHeight: 48 }} onClick={onStandIn}>
            Read the stand-in
          </Button>
        )}
      </Stack>
    </>
  );
}
