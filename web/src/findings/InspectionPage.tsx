import {
  Accordion,
  AccordionDetails,
  AccordionSummary,
  Alert,
  AlertTitle,
  Button,
  FormControlLabel,
  LinearProgress,
  Paper,
  Stack,
  Switch,
  TextField,
  Typography,
} from "@mui/material";
import { useEffect, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useInspection } from "../api/reads";
import { useAsking, useHouseView } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { ProblemNote } from "../parts/ProblemNote";
import { alertOf, capital, count, lookWhereWord, pointName, sawWord } from "../parts/words";
import { LookPicture } from "./LookPicture";
import { useRemark } from "./useRemark";

type Ask = Schemas["InspectionAsk"];
type Saw = Schemas["Saw"];

/** A walk through the house that asks for what nobody looked at: one question after the other, the gravest of each place first. */
export function InspectionPage() {
  const { id } = useHouseView();
  const [qualified, setQualified] = useState(false);
  const [bad, setBad] = useState<Ask>();
  const [again, setAgain] = useState<Ask>();
  const inspection = useInspection(id, qualified);
  const walk = inspection.data;
  const next = again ?? walk?.open[0];
  const asked = walk?.asked.length ?? 0;
  const unclear = walk?.asked.filter((answer) => answer.saw === "cannot-tell") ?? [];
  const all = asked + (walk?.open.length ?? 0);
  return (
    <Stack spacing={2} sx={{ maxWidth: 620 }}>
      <Typography variant="h2" component="h1">
        Inspection
      </Typography>
      <ProblemNote error={inspection.error} />
      {walk !== undefined && (
        <>
          <LinearProgress
            variant="determinate"
            value={all === 0 ? 0 : (100 * asked) / all}
            aria-label={`${asked} of ${all} looked at`}
          />
          <Typography>
            {asked} of {all} looked at
            {walk.open.length > 0 && `, about ${Math.ceil(walk.seconds / 60)} min to go`}. Whoever else is in the house
            may answer on another phone.
          </Typography>
        </>
      )}
      {bad !== undefined && (
        <Alert severity={alertOf[bad.severity]}>
          <AlertTitle>
            {bad.place}: {bad.title}
          </AlertTitle>
          {capital(bad.cure)}.
        </Alert>
      )}
      {next !== undefined && (
        <Question
          key={JSON.stringify([next.of, next.fact])}
          ask={next}
          onAnswer={(well) => {
            setBad(well ? undefined : next);
            setAgain(undefined);
          }}
        />
      )}
      {walk !== undefined && next === undefined && (
        <Paper variant="outlined" sx={{ p: 2 }}>
          <Typography gutterBottom>All of it was asked.</Typography>
          {unclear.length > 0 && (
            <Typography gutterBottom>
              {count(unclear.length, "answer")} could not be told, and stays unknown:{" "}
              {unclear.map(({ ask }) => `${ask.place}: ${ask.said}`).join(" ")}
            </Typography>
          )}
          <Button component={Link} to="../findings" variant="contained" color="act" sx={{ minHeight: 56 }}>
            See what was found
          </Button>
        </Paper>
      )}
      {walk !== undefined && <Answered all={walk.asked} onAgain={setAgain} />}
      <FormControlLabel
        control={<Switch checked={qualified} onChange={(_, may) => setQualified(may)} />}
        label="I am qualified to take a cover off: ask what is behind it, too"
        sx={{ minHeight: 48 }}
      />
    </Stack>
  );
}

/** What was answered, by whoever did; each may be looked at again. */
function Answered({ all, onAgain }: { all: Schemas["InspectionAnswer"][]; onAgain: (ask: Ask) => void }) {
  return all.length === 0 ? null : (
    <Accordion variant="outlined" disableGutters>
      <AccordionSummary sx={{ minHeight: 48 }}>What was answered ({all.length}) …</AccordionSummary>
      <AccordionDetails>
        {all.map(({ ask, saw }) => (
          <Stack
            key={JSON.stringify([ask.of, ask.fact])}
            direction="row"
            spacing={1}
            sx={{ alignItems: "center", justifyContent: "space-between" }}
          >
            <Typography variant="body2">
              {ask.place}: {ask.said} <strong>{sawWord[saw]}</strong>
            </Typography>
            <Button
              aria-label={`Look again: ${ask.place}, ${ask.said}`}
              onClick={() => onAgain(ask)}
              sx={{ minHeight: 44, flexShrink: 0 }}
            >
              Look again
            </Button>
          </Stack>
        ))}
      </AccordionDetails>
    </Accordion>
  );
}

/** One question, answered with a tap; where it is not well, by a tap on what it is. */
function Question({ ask, onAnswer }: { ask: Ask; onAnswer: (well: boolean) => void }) {
  const { id } = useHouseView();
  const { remark, busy, error } = useRemark(id);
  const [note, setNote] = useState("");
  const [picks, setPicks] = useState(false);
  const answer = (saw: Saw, of = ask.of) => {
    remark(of, { what: "looked", fact: ask.fact, saw }, note.trim());
    onAnswer(saw === ask.well || saw === "cannot-tell");
  };
  const say = (saw: Saw) =>
    ask.pick != null && saw !== ask.well && saw !== "cannot-tell" ? setPicks(true) : answer(saw);
  const bad: Saw = ask.well === "yes" ? "no" : "yes";
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
      <Typography sx={{ color: "text.secondary" }}>
        {lookWhereWord[ask.stand]}: {ask.place}
      </Typography>
      <Typography sx={{ fontSize: "1.2rem", fontWeight: 650, mb: 1.5 }}>{ask.said}</Typography>
      <LookPicture fact={ask.fact} />
      {picks ? (
        <Pick ask={ask} busy={busy} onPick={(of) => answer(bad, of)} onBack={() => setPicks(false)} />
      ) : (
        <>
          <Stack direction="row" spacing={1.5}>
            {(["yes", "no"] as const).map((saw) => (
              <Button
                key={saw}
                variant="contained"
                color="act"
                disabled={busy}
                onClick={() => say(saw)}
                sx={{ minHeight: 56, flex: 1 }}
              >
                {sawWord[saw]}
              </Button>
            ))}
          </Stack>
          <Button fullWidth disabled={busy} onClick={() => say("cannot-tell")} sx={{ minHeight: 48, mt: 1 }}>
            {sawWord["cannot-tell"]}
          </Button>
        </>
      )}
      <TextField
        label="Where exactly, or what else (if you like)"
        value={note}
        onChange={(e) => setNote(e.target.value)}
        size="small"
        fullWidth
        sx={{ mt: 1 }}
      />
      <ProblemNote error={error} />
    </Paper>
  );
}

interface PickProps {
  ask: Ask;
  busy: boolean;
  onPick: (of: Schemas["Subject"]) => void;
  onBack: () => void;
}

/** What it is: a breaker on the panel's drawing, or a point of the room. */
function Pick({ ask, busy, onPick, onBack }: PickProps) {
  const { house, setPanel } = useHouseView();
  const { stance } = useStance();
  const panel = ask.pick?.pick === "breaker" ? ask.pick.panel : undefined;
  const room = ask.pick?.pick === "point" ? ask.pick.room : undefined;
  useEffect(() => {
    if (panel !== undefined) {
      setPanel(panel);
    }
  }, [panel, setPanel]);
  useAsking(panel === undefined ? undefined : `found at ${panel}`, {
    what: "Tap the breaker where you see it",
    chosen: new Set(),
    onBreaker: (breaker) => !busy && onPick({ thing: "breaker", id: breaker }),
  });
  return (
    <Stack spacing={1}>
      <Typography>
        {panel === undefined ? "Which one?" : `Tap it on the panel ${stance === "desk" ? "beside" : "below"}.`}
      </Typography>
      {house.points
        .filter((point) => point.room === room)
        .map((point) => (
          <Button
            key={point.id}
            variant="outlined"
            disabled={busy}
            onClick={() => onPick({ thing: "point", id: point.id })}
            sx={{ minHeight: 48, justifyContent: "flex-start" }}
          >
            {pointName(point)} <span className="mono">&nbsp;{point.tag}</span>
          </Button>
        ))}
      {panel !== undefined && stance !== "desk" && <FaceBelow selected={undefined} />}
      <Button onClick={onBack} sx={{ minHeight: 48 }}>
        Back
      </Button>
    </Stack>
  );
}
