import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { ids_of_job, most_jobs } from "../api/core.gen.json";
import { newId } from "../api/edits";
import { useAnsweredPlan, useJobPlan } from "../api/reads";
import { useAsking, useHouseView, useShownFace } from "../app/house";
import { useStance } from "../app/stance";
import { FaceBelow } from "../face/FaceBelow";
import { PanelChoice } from "../parts/PanelChoice";
import { ProblemNote } from "../parts/ProblemNote";
import { forgetHalf, useHalf } from "../parts/useHalf";
import { uncapital } from "../parts/words";
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
import { BesideList } from "./BesideList";
import { JobForm } from "./JobForm";
import { Pairs } from "./Pairs";
import { PlanShown } from "./PlanShown";
import { formOf, useBeside } from "./useBeside";

type Goal = Schemas["Goal"];

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
  const about = Object.fromEntries(
    ["breaker", "point"].flatMap((of) =>
      wanted.has(of) && kind.fields.some((f) => f.name === of) ? [[of, Number(wanted.get(of))]] : [],
    ),
  );
  const form = formOf(id, kind.name);
  const beside = useBeside(id);
  const go = useNavigate();
  const [half, setHalf] = useHalf<Answers>(form, Object.values(about).join(), about);
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
    field && face && `${field.name} ${spaces} ${[...chosen]} ${face.panel} ${said !== undefined}`,
    field &&
      face && {
        // Once there is a plan, what is tapped makes another one.
        optional: said !== undefined,
        what: `Tap ${field.sort === "wishes" ? "the space, if it matters" : uncapital(field.label)}`,
        chosen,
        onBreaker: (breaker) => {
          setAt(field.sort === "breakers" ? field.name : undefined);
          change(tapBreaker(field, answers, breaker, face), unread);
        },
        ...(spaces ? { onSpace: (space: number) => change(tapSpace(field, answers, space), unread) } : {}),
      },
  );
  const leaves = kind.fields.find((of) => of.name === "leave" || of.name === "fixed")?.name;
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
      {field !== undefined && face !== undefined && said === undefined && stance !== "desk" && (
        <Typography>
          {field.sort === "wishes" ? "The space, if it matters" : field.label}: tap it on the panel below.
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
        <PlanShown
          plan={shown}
          stale={stale}
          onWay={setWay}
          left={leaves === undefined ? undefined : leftOf(answers[leaves])}
          onLeave={(breakers) => leaves !== undefined && change({ ...answers, [leaves]: breakers }, unread)}
          onBegun={() => {
            forgetHalf(form);
            beside.clear();
          }}
          {...(said !== undefined && beside.jobs.length < most_jobs - 1 && !shown.panel_closed
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
    </Stack>
  );
}

const leftOf = (answer: Answers[string] | undefined) => (Array.isArray(answer) ? answer : []);

/** Questions that a space answers as well as a breaker. */
const tapsSpaces: readonly string[] = ["space", "poles", "wishes"];
