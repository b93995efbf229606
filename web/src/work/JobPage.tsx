import { Alert, Box, Button, LinearProgress, Stack, Typography } from "@mui/material";
import { useEffect, useRef } from "react";
import { Link, useParams } from "react-router";
import type { Panel, Schemas } from "../api/client";
import { useJob } from "../api/reads";
import { useHouseView } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { ProblemNote } from "../parts/ProblemNote";
import { useCardState } from "../parts/useCardState";
import { timeOfDay } from "../parts/words";
import { useAwake } from "../trace/voice";
import { Shopping } from "./Shopping";
import { StepCard } from "./StepCard";
import { StepList } from "./StepList";
import { type Acting, useAct } from "./useAct";

type Shown = Schemas["JobShown"];

/** A job under way: what is live always on top, one step at a time, no further than its hold points allow. */
export function JobPage() {
  const { id } = useHouseView();
  const wanted = Number(useParams().job);
  const job = useJob(id, wanted);
  return (
    <Stack spacing={2}>
      <ProblemNote error={job.error} />
      {job.data === undefined ? (
        job.error === null && <LinearProgress aria-label="Loading the job" />
      ) : (
        <Under shown={job.data} />
      )}
    </Stack>
  );
}

function Under({ shown }: { shown: Shown }) {
  const { id, house, setPanel } = useHouseView();
  const { stance } = useStance();
  const { job, now } = shown;
  const acting = useAct(id, job.id);
  const open = now.ending == null;
  const panel = house.panels.find((p) => p.id === job.panel);
  useAwake(open && now.stopped == null);
  useEffect(() => setPanel(job.panel), [job.panel, setPanel]);
  const step = now.next == null ? undefined : job.steps[now.next];
  const small = stance !== "desk";
  // What is to be done next begins at the top, and so does what a reading says.
  const top = useRef<HTMLHeadingElement>(null);
  const turn = `${now.next} ${job.done?.length ?? 0}`;
  // biome-ignore lint/correctness/useExhaustiveDependencies: at each step
  useEffect(() => {
    top.current?.scrollIntoView({ block: "start" });
  }, [turn]);
  const at = step?.place != null && "breaker" in step.place ? step.place.breaker : undefined;
  return (
    <>
      <Typography variant="h2" component="h1" ref={top} sx={{ scrollMarginTop: 16 }}>
        {job.title}
      </Typography>
      <State now={now} />
      {now.conflict != null && (
        <Alert severity="warning">
          {now.conflict} since this was planned. Give it up, leave things safe, and plan again from what stands now.
        </Alert>
      )}
      {open && step !== undefined && <StepCard key={step.key} shown={shown} step={step} acting={acting} />}
      {!open && <Ended shown={shown} acting={acting} />}
      {open && <Mishaps all={shown.mishaps} />}
      {now.made && panel !== undefined && <After panel={panel} job={job.id} />}
      {small ? (
        open && <FaceBelow selected={at} />
      ) : (
        <StepList steps={job.steps} done={(of) => doneOf(job, of)} next={now.next ?? undefined} />
      )}
      {(job.parts?.length ?? 0) > 0 && now.ending == null && (
        <Box component="details" sx={{ "& summary": { cursor: "pointer", fontWeight: 650, py: 1.25 } }}>
          <summary>Parts, tools, shopping list …</summary>
          <Shopping of={{ job: job.id }} />
        </Box>
      )}
      <Button
        component="a"
        href={`/api/v1/houses/${id}/jobs/${job.id}/protocol.pdf`}
        target="_blank"
        rel="noreferrer"
        variant="outlined"
        sx={{ alignSelf: "flex-start", minHeight: 48 }}
      >
        Protocol (PDF)
      </Button>
    </>
  );
}

/** What is off and what is live now: danger's colour for what is live and near alone. */
function State({ now }: { now: Schemas["JobNow"] }) {
  if (now.ending != null) {
    return null;
  }
  const dead = now.dead;
  return (
    <Box
      role="status"
      aria-label="What is live now"
      sx={{
        position: "sticky",
        top: 0,
        zIndex: 2,
        bgcolor: "background.default",
        border: 2,
        borderRadius: 1,
        borderColor: "error.main",
        px: 1.25,
        py: 0.5,
      }}
    >
      {now.off.map((off) => (
        <Typography key={off} sx={{ fontWeight: 650 }}>
          {off}
        </Typography>
      ))}
      {now.live.map((live) => (
        <Typography key={live} sx={{ fontWeight: 700, color: "error.main" }}>
          {live}
        </Typography>
      ))}
      {dead != null && (
        <Typography>
          Shown dead at {timeOfDay(new Date(dead.since))}, as long as {dead.rests_on.join("; ")}.
        </Typography>
      )}
    </Box>
  );
}

function doneOf(job: Schemas["Job"], step: Schemas["JobStep"]): string | undefined {
  const all = job.done?.filter((done) => done.step === step.key) ?? [];
  const words = all.map((done) => {
    const value = done.value == null ? "" : `${done.value.toFixed(1)} V, `;
    const mark = done.void ? `counts no more (${done.void}): ` : done.passed ? "✓ " : "✗ did not pass: ";
    const noted = done.noted ? `${done.noted}, ` : "";
    return `${mark}${value}${noted}${new Date(done.time).toLocaleTimeString()}, ${done.who}`;
  });
  return words.length === 0 ? undefined : words.join("; ");
}

function Ended({ shown: { job, now }, acting }: { shown: Shown; acting: Acting }) {
  if (now.left_open) {
    return (
      <Alert severity="error" icon={false}>
        <Typography sx={{ fontWeight: 700 }}>Given up, and not safe yet. {now.off.join("; ")}</Typography>
        {now.leave_safe}
        <Button
          fullWidth
          variant="contained"
          color="act"
          sx={{ minHeight: 56, mt: 1.5 }}
          disabled={acting.busy}
          onClick={() => acting.act({ what: "made-safe" })}
        >
          It is left safe: cover on, nothing loose
        </Button>
        <ProblemNote error={acting.error} />
      </Alert>
    );
  }
  return (
    <Alert severity={now.ending === "finished" ? "success" : "info"}>
      {now.ending === "finished"
        ? "Done: its last check passed, and the house is as planned."
        : job.made == null
          ? "Given up: the record of the house is as it was."
          : "Left before it was written down; the house is as planned."}
      {now.off.length > 0 && ` Still ${now.off.join("; ")}.`}
    </Alert>
  );
}

/** What usually goes wrong, and the way on. */
function Mishaps({ all }: { all: Shown["mishaps"] }) {
  return (
    <Box component="details" sx={{ "& summary": { cursor: "pointer", fontWeight: 650, py: 1.25 } }}>
      <summary>Something goes wrong …</summary>
      {all.map((mishap) => (
        <Typography key={mishap.what} sx={{ mb: 1 }}>
          <strong>{mishap.what}.</strong> {mishap.then}
        </Typography>
      ))}
    </Box>
  );
}

/** What is to be printed once the house has become as planned. */
function After({ panel, job }: { panel: Panel; job: number }) {
  const { id } = useHouseView();
  const { stale, said } = useCardState(panel);
  return (
    <Alert severity="info" icon={false}>
      <Typography sx={{ fontWeight: 700 }}>{said}</Typography>
      <Stack direction="row" sx={{ gap: 1, flexWrap: "wrap", mt: 1 }}>
        <Button
          component={Link}
          to={`/houses/${id}/directory`}
          variant={stale || panel.printed == null ? "contained" : "outlined"}
          sx={{ minHeight: 48 }}
        >
          {panel.card == null ? "Measure its place and print it" : "Print the card"}
        </Button>
        <Button
          component="a"
          href={`/api/v1/houses/${id}/jobs/${job}/tags.pdf`}
          target="_blank"
          rel="noreferrer"
          variant="outlined"
          sx={{ minHeight: 48 }}
        >
          Plate labels and wire tags (PDF)
        </Button>
      </Stack>
    </Alert>
  );
}
