import { Alert, Button, LinearProgress, Paper, Stack, Typography } from "@mui/material";
import { useEffect, useRef } from "react";
import { Link } from "react-router";
import { useOutbox } from "../../api/outbox";
import { useHouseView } from "../../app/house";
import { useStance } from "../../app/stance";
import { ProblemNote } from "../../parts/ProblemNote";
import { Kept } from "../../trace/Kept";
import { usePresence } from "../../trace/presence";
import { useAwake, useTold, useVoice } from "../../trace/voice";
import { ClampCard, ReadLast, useLast } from "./ClampCard";
import { SwitchOn } from "./SwitchOn";
import { Asked, SwitchOne } from "./SwitchOne";
import type { Going, useRound } from "./useRound";

/** The round that goes on: what to switch on, then place by place; whoever is in the rooms sees what to leave and to switch. */
export function RoundCard({ round, going }: { round: ReturnType<typeof useRound>; going: Going }) {
  const { id, house, setPanel } = useHouseView();
  const presence = usePresence();
  const { stance } = useStance();
  const outbox = useOutbox(id);
  const last = useLast();
  const [voice, setVoice] = useVoice();
  const { now } = going;
  const count = (going.round.on ?? []).length;
  // Only where somebody else really stands at the panel is the clamp theirs.
  const walks = stance === "rooms" && going.run.crew.people === 2 && presence.panelManned;
  const asked = house.loads?.find((l) => l.id === going.round.asked);
  const told =
    asked !== undefined ? `Switch ${going.isOn(asked.id) ? "off" : "on"}: ${asked.name}` : place(going, walks);
  useAwake(true);
  useTold(told, voice);
  const panel = now?.at.place !== undefined && "panel" in now.at.place ? now.at.place.panel : undefined;
  const breaker = now?.at.place.at === "breaker" ? now.at.place.breaker : undefined;
  const there = panel ?? house.breakers.find((b) => b.id === breaker)?.panel;
  useEffect(() => {
    if (there !== undefined) {
      setPanel(there);
    }
  }, [there, setPanel]);
  // What is to be done next begins at the top: a long list of ticks was scrolled through before it.
  const top = useRef<HTMLDivElement>(null);
  const step = `${going.round.ready} ${asked?.id ?? ""}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: at each step
  useEffect(() => {
    top.current?.scrollIntoView({ block: "start" });
  }, [step]);
  const end = (
    <Button variant="outlined" sx={{ minHeight: 48 }} onClick={going.end}>
      End the round
    </Button>
  );
  return (
    <Stack spacing={2} ref={top} sx={{ scrollMarginTop: 16 }}>
      <ProblemNote error={round.error} />
      <Kept waiting={outbox.waiting} onRead={outbox.drop} />
      {!going.round.ready ? (
        <>
          <Typography variant="h3" component="h2">
            Switch on what usually runs, and tick it
          </Typography>
          <SwitchOn going={going} />
          <Button variant="contained" color="act" sx={{ minHeight: 56 }} disabled={count === 0} onClick={going.allOn}>
            {count === 0 ? "Nothing is on yet" : `${count} on: that is all, clamp`}
          </Button>
          {end}
        </>
      ) : going.places.length === 0 ? (
        <LinearProgress aria-label="Working out where the clamp goes" />
      ) : (
        <>
          <Asked going={going} />
          {asked === undefined && walks && now !== undefined && <LeaveAll going={going} />}
          {asked === undefined && !walks && now !== undefined && (
            <ClampCard key={now.said + now.panel} going={going} place={now} last={last} />
          )}
          {now === undefined && asked === undefined && (
            <>
              <Alert severity="success">The round is done.</Alert>
              <ReadLast last={last} />
              <Button component={Link} to={`/houses/${id}/loads`} variant="contained" sx={{ minHeight: 56 }}>
                See what it says
              </Button>
              {end}
            </>
          )}
          {asked === undefined && !walks && (going.round.done ?? []).length > 0 && <SwitchOne going={going} />}
        </>
      )}
      <Button aria-pressed={voice} sx={{ alignSelf: "start" }} onClick={() => setVoice(!voice)}>
        {voice ? "Voice on" : "Voice off"}
      </Button>
    </Stack>
  );
}

/** What is said aloud. */
function place({ now, round }: Going, walks: boolean): string {
  if (!round.ready) {
    return "Switch on what usually runs";
  }
  if (now === undefined) {
    return "The round is done";
  }
  return walks ? "Leave everything as it is" : `${now.panel}: clamp ${now.said}`;
}

/** In the rooms while the other clamps. */
function LeaveAll({ going }: { going: Going }) {
  return (
    <>
      <Paper variant="outlined" sx={{ p: 2 }} aria-live="polite">
        <Typography variant="h2" gutterBottom>
          Leave everything as it is
        </Typography>
        <Typography>
          Somebody clamps {going.now?.said}, {going.now?.panel}: {going.nth} of {going.places.length}. What switches by
          itself: tick it below.
        </Typography>
      </Paper>
      <SwitchOn going={going} />
    </>
  );
}
