import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { ids_of_job, most_jobs } from "../api/core.gen.json";
import { newId, useCommit } from "../api/edits";
import { useAnsweredPlan, useJobPlan } from "../api/reads";
import { useAsking, useHouseView, useShownFace } from "../app/house";
import { useStance } from "../app/stance";
import { author } from "../app/who";
import { FaceBelow } from "../parts/FaceBelow";
import { PanelChoice } from "../parts/PanelChoice";
import { ProblemNote } from "../parts/ProblemNote";
import { forgetHalf, useHalf } from "../parts/useHalf";
import {
  type Answers,
  asked,
  chosenBreakers,
  complete,
  type Kind,
  kindOf,
  tapBreaker,
  tappedField,
  tapSpace,
} from "./answers";
import { BeforeAfter } from "./BeforeAfter";
import { BesideList } from "./BesideList";
import { JobForm } from "./JobForm";
import { Pairs } from "./Pairs";
import { Shopping } from "./Shopping";
import { StepList } from "./StepList";
import { formOf, useBeside } from "./useBeside";
import { type LeftOut, Ways } from "./Ways";

type Goal = Schemas["Goal"];
type Plan = Schemas["Pictured"];

/** A job planned: what it asks, what stands against it, the ways, the panel before and after, parts, steps. */
export function PlanWorkPage() {
  const known = kindOf(useParams().kind);
  return known === undefined ? (
    <Typography>There is no such job. Work shows all there are.</Typography>
  ) : (
    <Planning key={known.name} kind={known} />
  );
}

function Planning({ kind }: { kind: Kind }) {
  const { id, house, panel, setPanel } = useHouseView();
  const [wanted] = useSearchParams();
  const of = wanted.get("breaker");
  const form = formOf(id, kind.name);
  const beside = useBeside(id);
  const go = useNavigate();
  const [half, setHalf] = useHalf<Answers>(form, of ?? "", of === null ? {} : { breaker: Number(of) });
  // What stands in a field and is no number is gone with a reload, and so is that it was none.
  const [unread, setUnread] = useState<readonly string[]>([]);
  const { stance } = useStance();
  // The panel that the page speaks of is the one that is shown.
  const ofPanel = kind.fields.some((field) => field.name === "panel") && panel !== undefined ? { panel } : {};
  const answers: Answers = { ...half, ...ofPanel };
  // Ids for this job and for as many beside it as one shutdown takes.
  const [first] = useState(() => newId(ids_of_job * most_jobs));
  const [way, setWay] = useState<Goal>();
  const [at, setAt] = useState<string>();
  const said = complete(kind, answers, unread);
  const ofAnswers = useAnsweredPlan(id, kind.name, first, way === undefined ? said : undefined, beside.jobs);
  const ofWay = useJobPlan(id, way);
  const plan = way === undefined ? ofAnswers : ofWay;
  const shown = said !== undefined && !plan.isError ? (plan.data ?? ofAnswers.data) : undefined;
  // What is shown until the next plan is there is of what was said before: it is not begun.
  const stale = plan.isPlaceholderData || plan.data === undefined;
  const change = ({ panel: onPanel, ...next }: Answers, now: readonly string[] = []) => {
    setWay(undefined);
    setUnread(now);
    setHalf(next);
    if (typeof onPanel === "number" && onPanel !== panel) {
      setPanel(onPanel);
    }
  };
  const face = useShownFace();
  const field = tappedField(asked(kind, answers), answers, at);
  const chosen = chosenBreakers(kind.fields, answers);
  const spaces = field !== undefined && tapsSpaces.includes(field.sort);
  useAsking(
    field && face && `${field.name} ${spaces} ${[...chosen]} ${face.panel}`,
    field &&
      face && {
        chosen,
        onBreaker: (breaker) => {
          setAt(field.sort === "breakers" ? field.name : undefined);
          change(tapBreaker(field, answers, breaker, face), unread);
        },
        ...(spaces ? { onSpace: (space: number) => change(tapSpace(field, answers, space), unread) } : {}),
      },
  );
  // What is done at a box, the panel closed, is a job of its own.
  const atABox = kind.fields.some((of) => of.sort === "point");
  const leaves = kind.fields.find((of) => of.name === "leave" || of.name === "fixed")?.name;
  const where = stance === "desk" ? "on the panel beside" : "on the panel below";
  return (
    <Stack spacing={2.5}>
      <Typography variant="h2" component="h1">
        {kind.title}
      </Typography>
      {house.panels.length === 0 && (
        <Alert
          severity="info"
          action={
            <Button component={Link} to="../survey" color="inherit">
              Enter it
            </Button>
          }
        >
          {kind.name === "makeup"
            ? "No panel is entered yet. The first one can be laid out here, from its spaces, its main and a list of its circuits."
            : "No panel is entered yet: work is planned from what stands in it."}
        </Alert>
      )}
      {beside.jobs.length > 0 && (
        <BesideList
          jobs={beside.jobs}
          title="In the same shutdown"
          onOpen={beside.open}
          onRemove={(nth) => {
            setWay(undefined);
            beside.remove(nth);
          }}
        />
      )}
      <JobForm kind={kind} answers={answers} unread={unread} onChange={change} onAt={setAt} />
      {kind.name === "combine" && (
        <Pairs onChoose={(pair) => change({ ...answers, keep: pair.keep, "give-up": pair.give_up })} />
      )}
      <ProblemNote error={said === undefined ? null : plan.error} />
      {field !== undefined && face !== undefined && (said === undefined || (spaces && stance === "desk")) && (
        <Typography>
          {field.sort === "wishes" ? "The space, if it matters" : field.label}: tap it {where}.
        </Typography>
      )}
      {said === undefined && (
        <Typography sx={{ color: "text.secondary" }}>
          Fill in what is known: the plan comes at once, and changes nothing until you begin.
        </Typography>
      )}
      {said === undefined && stance !== "desk" && (
        <>
          <PanelChoice />
          <FaceBelow selected={undefined} />
        </>
      )}
      {shown !== undefined && (
        <Shown
          plan={shown}
          stale={stale}
          onWay={setWay}
          left={leaves === undefined ? undefined : leftOf(answers[leaves])}
          onLeave={(breakers) => leaves !== undefined && change({ ...answers, [leaves]: breakers }, unread)}
          onBegun={() => {
            forgetHalf(form);
            beside.clear();
          }}
          {...(said !== undefined && beside.jobs.length < most_jobs - 1 && !atABox
            ? {
                onAnother: () => {
                  beside.add({ kind: kind.name, answers: said });
                  forgetHalf(form);
                  void go(`/houses/${id}/work`);
                },
              }
            : {})}
        />
      )}
      {shown?.faces.after != null && <BeforeAfter faces={shown.faces} />}
      {shown !== undefined && isOpen(shown) && <Whole plan={shown} />}
    </Stack>
  );
}

const leftOf = (answer: Answers[string] | undefined) => (Array.isArray(answer) ? answer : []);

/** Questions that a space answers as well as a breaker. */
const tapsSpaces: readonly string[] = ["space", "poles", "wishes"];

const isOpen = (plan: Plan) => plan.asks.length === 0 && plan.refused.length === 0;

interface ShownPlan {
  plan: Plan;
  /** The next one is on its way. */
  stale: boolean;
  onWay: (goal: Goal) => void;
  onBegun: () => void;
  /** Another job is to be done in the same shutdown; nothing where no more go into one. */
  onAnother?: () => void;
}

function Shown({ plan, stale, onWay, left, onLeave, onBegun, onAnother }: ShownPlan & LeftOut) {
  return (
    <Stack spacing={2.5}>
      {plan.asks.map((ask) => (
        <Alert
          key={ask.question}
          severity="info"
          action={
            whereToSay[ask.field] && (
              <Button component={Link} to={`../${whereToSay[ask.field]?.[0]}`} color="inherit">
                {whereToSay[ask.field]?.[1]}
              </Button>
            )
          }
        >
          {ask.question}.
        </Alert>
      ))}
      {plan.refused.map((no) => (
        <Alert key={no.rule + no.why} severity="error" icon={false}>
          <Typography sx={{ fontWeight: 700 }}>Not so: {no.why}.</Typography>
          {no.instead !== "" && <Typography>Instead: {no.instead}.</Typography>}
          <Typography sx={{ fontSize: 14 }}>{no.source}. Local code decides.</Typography>
          <Another job={no.job} plan={plan} />
        </Alert>
      ))}
      {(plan.ways.length > 0 || (left?.length ?? 0) > 0) && (
        <Ways plan={plan} onWay={onWay} left={left} onLeave={onLeave} />
      )}
      {plan.cautions.length > 0 && (
        <Alert severity="warning">
          {plan.cautions.map((caution) => (
            <Typography key={caution} sx={{ mb: 0.75, fontSize: "inherit" }}>
              {caution}
            </Typography>
          ))}
        </Alert>
      )}
      {isOpen(plan) && <Begin plan={plan} stale={stale} onBegun={onBegun} onAnother={onAnother} />}
    </Stack>
  );
}

/** The job that would be possible instead, one press away: about the same breaker, where it is about one. */
function Another({ job, plan }: { job: string | null | undefined; plan: Plan }) {
  const kind = kindOf(job ?? undefined);
  const of = plan.touches.at(0);
  if (kind === undefined) {
    return null;
  }
  const about = of !== undefined && kind.fields.some((field) => field.name === "breaker") ? `?breaker=${of}` : "";
  return (
    <Button component={Link} to={`../plan-work/${kind.name}${about}`} variant="outlined" sx={{ mt: 1, minHeight: 44 }}>
      Plan instead: {kind.title}
    </Button>
  );
}

/** Where what is asked for is said, other than here. */
const whereToSay: Record<string, [string, string]> = {
  tracing: ["trace", "Trace it"],
  wire: ["survey", "To the panel"],
  colours: ["survey", "To the panel"],
};

interface Beginning {
  plan: Plan;
  stale: boolean;
  onBegun: () => void;
  onAnother: (() => void) | undefined;
}

function Begin({ plan, stale, onBegun, onAnother }: Beginning) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const go = useNavigate();
  const [job] = useState(newId);
  const begin = () =>
    commit.mutate(
      { type: "begin-job", job, goal: plan.goal, who: author(), time: new Date().toISOString() },
      {
        onSuccess: () => {
          onBegun();
          void go(`/houses/${id}/job/${job}`);
        },
      },
    );
  const pdf = `/api/v1/houses/${id}/job-plan.pdf?${new URLSearchParams({ goal: JSON.stringify(plan.goal) })}`;
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography sx={{ fontWeight: 700 }}>{plan.title}</Typography>
      <Typography>{plan.who.said}</Typography>
      <Typography>
        {plan.permit} {plan.steps.length} steps, about {plan.minutes} minutes for practised hands, {plan.minutes_first}{" "}
        the first time.
      </Typography>
      {plan.spared !== undefined && <Typography sx={{ fontWeight: 650 }}>{plan.spared}</Typography>}
      {plan.changes.length > 0 && (
        <Box component="ul" sx={{ my: 1, pl: 2.5 }}>
          {plan.changes.map((change) => (
            <li key={change}>{change}</li>
          ))}
        </Box>
      )}
      <Stack direction="row" sx={{ gap: 1.5, flexWrap: "wrap", mt: 1.5 }}>
        <Button
          variant="contained"
          color="act"
          sx={{ minHeight: 48 }}
          disabled={commit.isPending || stale}
          onClick={begin}
        >
          Begin this job
        </Button>
        <Button variant="outlined" component="a" href={pdf} target="_blank" rel="noreferrer" sx={{ minHeight: 48 }}>
          Work sheet (PDF)
        </Button>
        {onAnother !== undefined && (
          <Button variant="outlined" onClick={onAnother} sx={{ minHeight: 48 }}>
            Another job in the same shutdown
          </Button>
        )}
        <Button component={Link} to="../work" sx={{ minHeight: 48 }}>
          Not now
        </Button>
      </Stack>
      <ProblemNote error={commit.error} />
    </Paper>
  );
}

function Whole({ plan }: { plan: Plan }) {
  return (
    <Stack spacing={2.5}>
      <Shopping of={{ goal: plan.goal }} />
      <StepList steps={plan.steps} />
      <Box component="section" aria-labelledby="mishaps">
        <Typography variant="h3" component="h2" id="mishaps" gutterBottom>
          If something goes wrong
        </Typography>
        {plan.mishaps.map((mishap) => (
          <Typography key={mishap.what} sx={{ mb: 1 }}>
            <strong>{mishap.what}.</strong> {mishap.then}
          </Typography>
        ))}
      </Box>
    </Stack>
  );
}
