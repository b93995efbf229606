import {
  Alert,
  Button,
  Checkbox,
  FormControlLabel,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Load } from "../api/client";
import { useLoads, useNextReading } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { ByMeter } from "./ByMeter";
import { ClampRound } from "./ClampRound";
import { PlugIn } from "./PlugIn";
import { useRound, type Way } from "./useRound";

const ways: [Way, string][] = [
  ["clamp", "Clamp"],
  ["meter", "Utility meter"],
  ["plug", "Plug-in meter"],
];

/** Measuring: with the usual things on, breaker by breaker with a clamp; or with the cover on, by the utility's meter or at a plug. */
export function MeasurePage() {
  const [query] = useSearchParams();
  const wanted = query.get("breaker");
  const round = useRound(wanted === null ? undefined : Number(wanted));
  return (
    <Stack spacing={2} sx={{ maxWidth: 760 }}>
      <Typography variant="h2" component="h1">
        Measure
      </Typography>
      <ToggleButtonGroup
        exclusive
        value={round.way}
        aria-label="With what"
        onChange={(_, way: Way | null) => way !== null && round.setWay(way)}
        sx={{ "& > *": { flex: 1, minHeight: 48 } }}
      >
        {ways.map(([way, word]) => (
          <ToggleButton key={way} value={way}>
            {word}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Teaches way={round.way} />
      {round.way === "clamp" && <Clamp round={round} />}
      {round.way === "meter" && <ByMeter round={round} />}
      {round.way === "plug" && <PlugIn />}
    </Stack>
  );
}

/** What would teach most with this instrument. */
function Teaches({ way }: { way: Way }) {
  const { id } = useHouseView();
  const kit = { clamp: way === "clamp", utility_meter: way === "meter", plug_in: way === "plug" };
  const next = useNextReading(id, kit).data?.[0];
  if (next === undefined) {
    return null;
  }
  return (
    <Alert severity="info">
      What would teach most now: {next.action}, about {Math.round(next.minutes)} min, since {next.why}.
    </Alert>
  );
}

function Clamp({ round }: { round: ReturnType<typeof useRound> }) {
  const [ready, setReady] = useState(false);
  const { house } = useHouseView();
  const loads = useLoads(useHouseView().id);
  if (round.started) {
    return <ClampRound round={round} />;
  }
  if ((house.loads ?? []).length === 0) {
    return (
      <Alert severity="info">
        Enter first what draws at the points: a reading with nothing switched on says nothing.
      </Alert>
    );
  }
  return (
    <Stack spacing={1.5}>
      <Alert severity="warning">
        The cover is off for this: a qualified person only. The lugs are live whatever is off. One conductor in the
        clamp at a time, dry hands, nothing metal worn. With the cover on, use one of the other two.
      </Alert>
      <FormControlLabel
        control={<Checkbox checked={ready} onChange={(_, ticked) => setReady(ticked)} />}
        label="I am qualified for this, and the cover is off"
      />
      <ProblemNote error={loads.error} />
      <Usual round={round} />
      <Button variant="contained" color="act" sx={{ minHeight: 56 }} disabled={!ready} onClick={round.start}>
        All of that is on: begin the round
      </Button>
    </Stack>
  );
}

/** What is switched on for the round. */
function Usual({ round }: { round: ReturnType<typeof useRound> }) {
  const { house } = useHouseView();
  const point = (load: Load) => house.points.find((p) => p.id === load.point);
  const room = (load: Load) => house.rooms.find((r) => r.id === point(load)?.room)?.name ?? "";
  return (
    <Stack>
      <Typography variant="h3" component="h2">
        Switch on what usually runs, and tick it
      </Typography>
      {(house.loads ?? []).map((load) => (
        <FormControlLabel
          key={load.id}
          sx={{ minHeight: 44 }}
          control={
            <Checkbox checked={round.on.includes(load.id)} onChange={(_, ticked) => round.flip(load.id, ticked)} />
          }
          label={
            <>
              {load.name}, {room(load)} <span className="mono">{point(load)?.tag}</span>
            </>
          }
        />
      ))}
    </Stack>
  );
}
