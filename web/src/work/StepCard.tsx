import { Alert, Box, Button, Checkbox, FormControlLabel, Paper, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { Schemas } from "../api/client";
import { newId } from "../api/edits";
import { useHasStandIns, useHouseView } from "../app/house";
import { MeterAddress, ReadIt, useReadMeter } from "../loads/meter";
import { NumberPad } from "../loads/NumberPad";
import { standInReads } from "../loads/standIn";
import { Gauge } from "../parts/Gauge";
import { ProblemNote } from "../parts/ProblemNote";
import { stageWord } from "../parts/words";
import { bandOf } from "./StepList";
import { TakeOver } from "./TakeOver";
import type { Acting } from "./useAct";

interface Props {
  shown: Schemas["JobShown"];
  step: Schemas["JobStep"];
  acting: Acting;
}

/** The step that is next: what to do, why, with which tool; a reading where it is a hold point. */
export function StepCard({ shown: { job, now }, step, acting }: Props) {
  const stopped = now.stopped != null;
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
      <Typography sx={{ color: "text.secondary" }}>
        {(now.next ?? 0) + 1} of {now.steps}, {stageWord[step.stage]}
      </Typography>
      {now.voided != null && !stopped && <Alert severity="error">{now.voided}</Alert>}
      {now.others.map((said) => (
        <Alert key={said} severity="error">
          {said}
        </Alert>
      ))}
      <Typography variant="h3" component="h2" aria-live="polite" sx={{ fontSize: "1.35rem", my: 0.5 }}>
        {step.do}
      </Typography>
      {step.tool !== undefined && step.tool !== "" && <Typography>With: {step.tool}.</Typography>}
      {step.why !== undefined && step.why !== "" && (
        <Typography sx={{ color: "text.secondary" }}>{step.why}</Typography>
      )}
      {now.stays_off.map((said) => (
        <Typography key={said} sx={{ fontWeight: 700 }}>
          {said}.
        </Typography>
      ))}
      {stopped ? (
        <Resume now={now} acting={acting} />
      ) : (
        <>
          {step.hold != null ? (
            <HoldPoint hold={step.hold} step={step} now={now} acting={acting} />
          ) : (
            <DoneOrNoted step={step} acting={acting} />
          )}
          <ProblemNote error={acting.error} />
          <Ways job={job} now={now} acting={acting} />
        </>
      )}
    </Paper>
  );
}

/** A step without a reading; where something is to be written down with it, that is typed first. */
function DoneOrNoted({ step, acting }: { step: Schemas["JobStep"]; acting: Acting }) {
  const [noted, setNoted] = useState("");
  return (
    <Stack spacing={1.5} sx={{ mt: 2 }}>
      {step.note ? (
        <TextField
          label={step.note}
          value={noted}
          onChange={(e) => setNoted(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off" } }}
        />
      ) : null}
      <Button
        fullWidth
        variant="contained"
        color="act"
        sx={{ minHeight: 64, fontSize: "1.2rem" }}
        disabled={acting.busy}
        onClick={() => acting.act({ what: "done", step: step.key, ...(noted.trim() === "" ? {} : { noted }) })}
      >
        Done
      </Button>
    </Stack>
  );
}

/** What is typed, where it is a plain number as it stands: all else, a comma too, is read once it is entered. */
function plain(typed: string): number | undefined {
  return /^\s*-?\d+(\.\d*)?\s*$/.test(typed) ? Number(typed) : undefined;
}

/** A reading that must lie in its band before the next step opens. */
function HoldPoint({
  hold,
  step,
  now,
  acting,
}: {
  hold: Schemas["Hold"];
  step: Schemas["JobStep"];
  now: Schemas["JobNow"];
  acting: Acting;
}) {
  const { id } = useHouseView();
  const standIns = useHasStandIns();
  const [typed, setTyped] = useState("");
  const [loaded, setLoaded] = useState(false);
  const [why, setWhy] = useState("");
  const [setting, setSetting] = useState(false);
  const meter = useReadMeter(id);
  const quantity = { quantity: "volts" as const, between: hold.conductors ?? null };
  const enter = (value: number) =>
    acting.act({ what: "read", step: step.key, value, loaded, why, reading: newId() }, () => {
      setTyped("");
      setWhy("");
    });
  const standIn = async () => {
    // A source that is no part of the house is a proving unit: it shows what is printed on it.
    const shown =
      hold.place == null ? { value: 240 } : await standInReads(id, "meter", hold.place, quantity, [], newId());
    setTyped(shown?.value == null ? "" : String(shown.value));
  };
  return (
    <>
      <Typography sx={{ mt: 1, fontWeight: 700 }}>
        Must read {bandOf(hold)}, between {hold.between}
      </Typography>
      <Gauge from={hold.expect.from} to={hold.expect.to} unit="V" typed={plain(typed)} />
      {now.verdict != null && (
        <Alert severity="error" sx={{ mt: 1 }}>
          <Typography sx={{ fontWeight: 700 }}>That did not pass. The next step stays closed.</Typography>
          {now.verdict.said}
        </Alert>
      )}
      {now.asks_why && (
        <TextField
          fullWidth
          sx={{ mt: 1.5 }}
          label="What was wrong, or what was done since"
          helperText="Test the meter on the live source first. Without a reason the next reading opens nothing."
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
      )}
      <NumberPad label="Read" unit="V" value={typed} onChange={setTyped} onEnter={enter} busy={acting.busy} />
      {hold.kind === "dead" && (
        <FormControlLabel
          control={<Checkbox checked={loaded} onChange={(_, ticked) => setLoaded(ticked)} />}
          label="read in low-impedance mode, or with a lamp"
        />
      )}
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap" }}>
        {hold.place != null && (
          <ReadIt
            meter={meter}
            place={hold.place}
            quantity={quantity}
            label={step.do}
            onRead={(read) => setTyped(String(read))}
          />
        )}
        {standIns && (
          <Button sx={{ minHeight: 48 }} onClick={() => void standIn()}>
            Read the stand-in
          </Button>
        )}
        <Button sx={{ minHeight: 48 }} aria-expanded={setting} onClick={() => setSetting(!setting)}>
          A meter on the network …
        </Button>
      </Stack>
      <ProblemNote error={meter.read.error} />
      {setting && <MeterAddress />}
    </>
  );
}

/** Back, stop here, give up. There is no way to skip. */
function Ways({ job, now, acting }: { job: Schemas["Job"]; now: Schemas["JobNow"]; acting: Acting }) {
  const [leaving, setLeaving] = useState(false);
  const [why, setWhy] = useState("");
  const passed = (job.done ?? []).some((done) => done.passed) && !now.made;
  if (leaving) {
    return (
      <Box sx={{ mt: 2 }}>
        <Alert severity="warning">
          <Typography sx={{ fontWeight: 700 }}>Leave it safe:</Typography>
          {now.leave_safe}
        </Alert>
        <TextField
          fullWidth
          sx={{ mt: 1.5 }}
          label="Why, for whoever comes next"
          value={why}
          onChange={(e) => setWhy(e.target.value)}
        />
        <Stack direction="row" sx={{ gap: 1, mt: 1.5, flexWrap: "wrap" }}>
          <Button
            variant="contained"
            sx={{ minHeight: 48 }}
            disabled={acting.busy}
            onClick={() => acting.act({ what: "stop", why }, () => setLeaving(false))}
          >
            It is safe: stop here
          </Button>
          <Button
            color="error"
            sx={{ minHeight: 48 }}
            disabled={acting.busy}
            onClick={() => acting.act({ what: "give-up" })}
          >
            Give it up for good
          </Button>
          <Button sx={{ minHeight: 48 }} onClick={() => setLeaving(false)}>
            Go on
          </Button>
        </Stack>
        <TakeOver now={now} acting={acting} />
      </Box>
    );
  }
  return (
    <Stack direction="row" sx={{ gap: 1, mt: 1.5 }}>
      <Button
        variant="outlined"
        sx={{ minHeight: 48, flex: 1 }}
        disabled={!(passed || now.verdict != null) || acting.busy}
        onClick={() => acting.act({ what: "back" })}
      >
        {now.verdict == null ? "Last step not done" : "That was a slip: take it back"}
      </Button>
      <Button variant="outlined" sx={{ minHeight: 48, flex: 1 }} onClick={() => setLeaving(true)}>
        Stop here …
      </Button>
    </Stack>
  );
}

function Resume({ now, acting }: { now: Schemas["JobNow"]; acting: Acting }) {
  return (
    <>
      <Alert severity="warning" sx={{ mt: 1 }}>
        <Typography sx={{ fontWeight: 700 }}>
          {now.stopped?.taken_over === true ? "Taken over at the panel" : "Stopped"} by {now.stopped?.who}
          {now.stopped?.why ? `: ${now.stopped.why}` : ""}
        </Typography>
        {now.leave_safe}
      </Alert>
      <Stack direction="row" sx={{ gap: 1, mt: 1.5, flexWrap: "wrap" }}>
        <Button
          variant="contained"
          color="act"
          sx={{ minHeight: 56, flexGrow: 1 }}
          disabled={acting.busy}
          onClick={() => acting.act({ what: "go-on" })}
        >
          Go on with it
        </Button>
        <Button
          color="error"
          sx={{ minHeight: 56 }}
          disabled={acting.busy}
          onClick={() => acting.act({ what: "give-up" })}
        >
          Give it up
        </Button>
      </Stack>
      <TakeOver now={now} acting={acting} />
      <ProblemNote error={acting.error} />
    </>
  );
}
