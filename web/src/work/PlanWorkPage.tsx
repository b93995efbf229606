import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useAnsweredPlan, useJobPlan } from "../api/reads";
import { useAsking, useHouseView, useShownFace } from "../app/house";
import { useStance } from "../app/stance";
import { author } from "../app/who";
import { FaceBelow } from "../parts/FaceBelow";
import { PanelChoice } from "../parts/PanelChoice";
import { ProblemNote } from "../parts/ProblemNote";
import { forgetHalf, useHalf } from "../parts/useHalf";
import { count } from "../parts/words";
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
import { JobForm } from "./JobForm";
import { Pairs } from "./Pairs";
import { StepList } from "./StepList";

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
  const form = `plan-${id}-${kind.name}`;
  const [half, setHalf] = useHalf<Answers>(form, of ?? "", of === null ? {} : { breaker: Number(of) });
  // What stands in a field and is no number is gone with a reload, and so is that it was none.
  const [unread, setUnread] = useState<readonly string[]>([]);
  const { stance } = useStance();
  // The panel that the page speaks of is the one that is shown.
  const ofPanel = kind.fields.some((field) => field.name === "panel") && panel !== undefined ? { panel } : {};
  const answers: Answers = { ...half, ...ofPanel };
  const [first] = useState(() => newId(4));
  const [way, setWay] = useState<Goal>();
  const [at, setAt] = useState<string>();
  const said = complete(kind, answers, unread);
  const ofAnswers = useAnsweredPlan(id, kind.name, first, way === undefined ? said : undefined);
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
          No panel is entered yet: work is planned from what stands in it.
        </Alert>
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
      {shown !== undefined && <Shown plan={shown} stale={stale} onWay={setWay} onBegun={() => forgetHalf(form)} />}
      {shown?.faces.after != null && <BeforeAfter faces={shown.faces} />}
      {shown !== undefined && isOpen(shown) && <Whole plan={shown} />}
    </Stack>
  );
}

/** Questions that a space answers as well as a breaker. */
const tapsSpaces: readonly string[] = ["space", "poles", "wishes"];

const isOpen = (plan: Plan) => plan.asks.length === 0 && plan.refused.length === 0;

interface ShownPlan {
  plan: Plan;
  /** The next one is on its way. */
  stale: boolean;
  onWay: (goal: Goal) => void;
  onBegun: () => void;
}

function Shown({ plan, stale, onWay, onBegun }: ShownPlan) {
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
        </Alert>
      ))}
      {plan.ways.length > 0 && <Ways plan={plan} onWay={onWay} />}
      {plan.cautions.length > 0 && (
        <Alert severity="warning">
          {plan.cautions.map((caution) => (
            <Typography key={caution} sx={{ mb: 0.75, fontSize: "inherit" }}>
              {caution}
            </Typography>
          ))}
        </Alert>
      )}
      {isOpen(plan) && <Begin plan={plan} stale={stale} onBegun={onBegun} />}
    </Stack>
  );
}

/** Where what is asked for is said, other than here. */
const whereToSay: Record<string, [string, string]> = {
  tracing: ["trace", "Trace it"],
  wire: ["survey", "To the panel"],
  colours: ["survey", "To the panel"],
};

function Ways({ plan, onWay }: { plan: Plan; onWay: (goal: Goal) => void }) {
  return (
    <Box component="section" aria-labelledby="ways">
      <Typography variant="h3" component="h2" id="ways" gutterBottom>
        {plan.ways.length === 1 ? "The way" : `${plan.ways.length} ways, the least trouble first`}
      </Typography>
      <Stack spacing={1} role="radiogroup" aria-labelledby="ways">
        {plan.ways.map((way, nth) => (
          <Paper
            key={way.title}
            variant="outlined"
            component="button"
            role="radio"
            aria-checked={way.chosen}
            onClick={() => onWay(way.goal)}
            sx={{
              p: 1.5,
              textAlign: "left",
              cursor: "pointer",
              font: "inherit",
              color: "inherit",
              borderWidth: 2,
              borderColor: way.chosen ? "primary.main" : "divider",
            }}
          >
            <Typography sx={{ fontWeight: 700 }}>
              {nth + 1}. {way.title}
              {way.chosen && " (chosen)"}
            </Typography>
            <Typography>
              {way.why} {count(way.bodies, "breaker")} moved or put in, {count(way.wires, "wire")} landed anew; to buy:{" "}
              {costWord[way.cost]}.
            </Typography>
          </Paper>
        ))}
      </Stack>
    </Box>
  );
}

const costWord: Record<Schemas["CostClass"], string> = {
  nothing: "nothing",
  small: "a connector",
  breaker: "a breaker",
  large: "more than that",
};

function Begin({ plan, stale, onBegun }: { plan: Plan; stale: boolean; onBegun: () => void }) {
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
        {plan.permit} About {plan.minutes} minutes, {plan.steps.length} steps.
      </Typography>
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
      <Box component="section" aria-labelledby="parts">
        <Typography variant="h3" component="h2" id="parts" gutterBottom>
          At hand before you begin
        </Typography>
        <Box component="ul" sx={{ m: 0, pl: 2.5 }}>
          {plan.parts.map((part) => (
            <li key={part.what}>
              {part.count} × {part.what}
            </li>
          ))}
          <li>Tools: {plan.tools.join(", ")}</li>
        </Box>
      </Box>
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
