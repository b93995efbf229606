import { Alert, Stack, ToggleButton, ToggleButtonGroup, Typography } from "@mui/material";
import { useSearchParams } from "react-router";
import { useNextReading } from "../api/reads";
import { useHouseView } from "../app/house";
import { useStance } from "../app/stance";
import { useStored } from "../app/stored";
import { FaceBelow } from "../face/FaceBelow";
import { ByMeter } from "./ByMeter";
import { PlugIn } from "./PlugIn";
import { BeginRound } from "./round/BeginRound";
import { RoundCard } from "./round/RoundCard";
import { type Going, useRound } from "./round/useRound";

type Way = "clamp" | "meter" | "plug";

const ways: [Way, string][] = [
  ["clamp", "Clamp"],
  ["meter", "Utility meter"],
  ["plug", "Plug-in meter"],
];

const asWay = (value: unknown): Way | undefined => ways.find(([way]) => way === value)?.[0];

/** Measuring: with the usual things on, breaker by breaker with a clamp; or with the cover on, by the utility's meter or at a plug. */
export function MeasurePage() {
  const [query] = useSearchParams();
  const { id } = useHouseView();
  const wanted = query.get("breaker");
  const only = wanted === null ? undefined : Number(wanted);
  const [way, setWay] = useStored<Way>(`wayfinder.measure.${id}`, "clamp", asWay);
  const round = useRound();
  return (
    <Stack spacing={2} sx={{ maxWidth: 760 }}>
      <Typography variant="h2" component="h1">
        Measure
      </Typography>
      {round.going !== undefined ? (
        <RoundNow round={round} going={round.going} />
      ) : (
        <>
          <ToggleButtonGroup
            exclusive
            value={way}
            aria-label="With what"
            onChange={(_, chosen: Way | null) => chosen !== null && setWay(chosen)}
            sx={{ "& > *": { flex: 1, minHeight: 48 } }}
          >
            {ways.map(([way, word]) => (
              <ToggleButton key={way} value={way}>
                {word}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
          <Teaches way={way} />
          {way === "clamp" && <BeginRound round={round} only={only} />}
          {way === "meter" && <ByMeter only={only} />}
          {way === "plug" && <PlugIn />}
        </>
      )}
    </Stack>
  );
}

/** The round; at the panel with its face below. */
function RoundNow({ round, going }: { round: ReturnType<typeof useRound>; going: Going }) {
  const { stance } = useStance();
  const at = going.now?.at.place;
  return (
    <>
      <RoundCard round={round} going={going} />
      {stance === "panel" && going.round.ready && (
        <FaceBelow selected={at?.at === "breaker" ? at.breaker : undefined} />
      )}
    </>
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
