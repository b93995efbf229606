import { Alert, Box, Button, LinearProgress, Paper, Typography } from "@mui/material";
import { Link } from "react-router";
import { useHouseView } from "../app/house";
import { useStored } from "../app/stored";
import { useKeys } from "../parts/keys";
import { ProblemNote } from "../parts/ProblemNote";
import { Undoable } from "../parts/Undoable";
import { AskCard } from "./AskCard";
import { Kept, WaitingCard } from "./Kept";
import { LoadCard } from "./LoadCard";
import { LookCard } from "./LookCard";
import { DoneCard, OrderCard, searchIsDue } from "./OrderCard";
import { ReceiverCard } from "./ReceiverCard";
import { RoomCard } from "./RoomCard";
import type { Tracing } from "./useTracing";

const asBoolean = (value: unknown) => (typeof value === "boolean" ? value : undefined);

/** A question over the rows of a room: they stay where they are, and it takes no tap that was meant for one of them. */
const over = {
  position: "fixed",
  left: 8,
  right: 8,
  bottom: 72,
  zIndex: "modal",
  maxWidth: 620,
  mx: "auto",
  boxShadow: 6,
  "@keyframes late": { from: { pointerEvents: "none" }, to: { pointerEvents: "auto" } },
  animation: "late 0.4s step-end",
};

/** What to do now, whatever it is, with its keys and with undo. */
export function Now({ tracing, big = false }: { tracing: Tracing; big?: boolean }) {
  const { id } = useHouseView();
  const { phase, settling, moved, noted } = tracing;
  const busy = tracing.busy || settling;
  const [whole, setWhole] = useStored("wayfinder.whole-room", false, asBoolean);
  const looking =
    phase.name === "ask" ? phase.point : phase.name === "look" && phase.using === "any" ? phase.point : undefined;
  const rows = whole && looking !== undefined;
  useKeys({
    b: () => !busy && tracing.run === undefined && tracing.beginRun(),
    l: () => tracing.answer("live"),
    d: () => tracing.answer("dead"),
    n: () => tracing.answer("unsure"),
    o: () => {
      if (phase.name === "order" && !busy) {
        moved(phase.advice);
      } else if (phase.name === "done" && !busy && searchIsDue(tracing, phase.advice)) {
        tracing.beginSearch(phase.advice);
      } else if (phase.name === "done" && !busy && phase.advice.switch_on.length > 0) {
        tracing.allOn();
      }
    },
    // A slip is seen the moment it is made: what follows need not be known yet.
    z: () => !tracing.busy && tracing.takeBack(),
  });
  return (
    <>
      <ProblemNote error={tracing.error} />
      <Kept waiting={tracing.waiting} onRead={tracing.dropRefused} />
      {tracing.held.map((who) => (
        <Alert key={who} severity="warning" role="status" sx={{ mb: 1.5 }}>
          {who}. What is off for that stays as it is; points there are looked at later.
        </Alert>
      ))}
      <Box
        // Neither a tap nor a key on a button counts for what is no longer asked.
        // Rows of a room are answered one after the other, whatever is on its way.
        onClickCapture={(event) => settling && !rows && event.stopPropagation()}
        sx={settling && !rows ? { opacity: 0.6 } : {}}
        aria-busy={busy}
        data-keys
      >
        {phase.name === "loading" && <LinearProgress aria-label="Working out what to do next" />}
        {phase.name === "nothing-to-trace" && (
          <Paper variant="outlined" sx={{ p: 2 }}>
            <Typography gutterBottom>
              First enter what is there: the breakers, and the rooms with their points.
            </Typography>
            <Button variant="contained" component={Link} to={`/houses/${id}/survey`}>
              Go to Survey
            </Button>
          </Paper>
        )}
        {phase.name === "order" && (
          <OrderCard advice={phase.advice} tracing={tracing} big={big} onMoved={() => moved(phase.advice)} />
        )}
        {phase.name === "done" && <DoneCard advice={phase.advice} tracing={tracing} onMoved={tracing.allOn} />}
        {phase.name === "load" && (
          <LoadCard key={phase.point.id} advice={phase.advice} point={phase.point} tracing={tracing} />
        )}
        {phase.name === "receiver" && <ReceiverCard point={phase.point} tracing={tracing} />}
        {phase.name === "ask" && (
          <Box sx={whole ? over : {}}>
            <AskCard ask={phase.ask} point={phase.point} tracing={tracing} big={big} />
          </Box>
        )}
        {phase.name === "waiting" && <WaitingCard kept={phase.kept} />}
        {rows && (
          <RoomCard key={tracing.step?.id} point={looking} tracing={tracing} onOneByOne={() => setWhole(false)} />
        )}
        {phase.name === "look" && !whole && (
          <LookCard
            phase={phase}
            tracing={tracing}
            big={big}
            onWholeRoom={phase.using === "any" ? () => setWhole(true) : undefined}
          />
        )}
      </Box>
      {!rows && (
        <Undoable
          noted={noted}
          busy={busy}
          centred={big}
          onUndo={tracing.takeBack}
          onGone={() => tracing.setNoted(undefined)}
        />
      )}
    </>
  );
}
