import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate } from "react-router";
import type { Schemas } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { author } from "../app/who";
import { ProblemNote } from "../parts/ProblemNote";
import { kindOf } from "./answers";
import { BeforeAfter } from "./BeforeAfter";
import { Shopping } from "./Shopping";
import { StepList } from "./StepList";
import { type LeftOut, Ways } from "./Ways";

type Goal = Schemas["Goal"];
type Plan = Schemas["Pictured"];

const isOpen = (plan: Plan) => plan.asks.length === 0 && plan.refused.length === 0;

interface ShownPlan {
  plan: Plan;
  /** The next one is on its way. */
  stale: boolean;
  onWay: (goal: Goal) => void;
  onBegun: () => void;
  /** Jobs that it takes the place of, once it begins. */
  instead?: number[];
  /** Another job is to be done in the same shutdown; nothing where no more go into one. */
  onAnother?: () => void;
}

/** A plan: what has to be known first, what stands against it, the ways, the panel before and after, parts, steps. */
export function PlanShown(shown: ShownPlan & LeftOut) {
  const { plan } = shown;
  return (
    <>
      <Shown {...shown} />
      {plan.faces.after != null && <BeforeAfter faces={plan.faces} />}
      {isOpen(plan) && <Whole plan={plan} />}
    </>
  );
}

function Shown({ plan, stale, onWay, left, onLeave, onBegun, onAnother, instead }: ShownPlan & LeftOut) {
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
      {isOpen(plan) && (
        <Begin plan={plan} stale={stale} onBegun={onBegun} onAnother={onAnother} instead={instead ?? []} />
      )}
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
  instead: number[];
}

function Begin({ plan, stale, onBegun, onAnother, instead }: Beginning) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const go = useNavigate();
  const [job] = useState(newId);
  const begin = () =>
    commit.mutate(
      { type: "begin-job", job, goal: plan.goal, instead, who: author(), time: new Date().toISOString() },
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
