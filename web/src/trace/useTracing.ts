import { useState } from "react";
import type { Point, Seen, Way } from "../api/client";
import { useCommit, useUndo } from "../api/edits";
import { newKey } from "../api/newKey";
import { useOutbox } from "../api/outbox";
import { useHouseView } from "../app/house";
import { author } from "../app/who";
import type { Noted } from "../parts/Undoable";
import { openRun, useCrew } from "./crew";
import { mayUndoNewest, noteDone, takeNewest } from "./doneHere";
import type { With } from "./phase";
import { toursOf } from "./tours";
import { useObservations } from "./useObservations";
import { usePhase } from "./usePhase";

export const usingWay: Record<With, Way | undefined> = {
  any: undefined,
  "leave-lamp": "lamp",
  "see-lamp": "lamp",
  "leave-radio": "radio",
  "hear-radio": "radio",
  "known-lamp": "lamp",
  tester: "tester",
  meter: "meter",
};

/** Asked for since looks did not fit together: whoever has not got it looks with something else, and says so. */
export const isAnother = (using: With) => using === "known-lamp" || using === "tester" || using === "meter";

/** How such a point is usually looked at. */
export function usualWay(point: Point): Way {
  if (point.kind === "light") {
    return "light";
  }
  return point.shows === true ? "lamp" : "tester";
}

/** Tracing as any stance shows it: what to do now, and how to answer. */
export function useTracing() {
  const { id, house } = useHouseView();
  const [crew, keepCrew] = useCrew(id, house);
  const commit = useCommit(id);
  const undo = useUndo(id);
  const outbox = useOutbox(id);
  const { phase, passOver, askAgain, error, ...now } = usePhase(crew, outbox);
  const [noted, setNoted] = useState<Noted>();
  const note = (what: Noted) => {
    setNoted(what);
    noteDone(id, what);
  };
  const [way, setWay] = useState<Way>();
  const step = house.step;
  const run = openRun(house);
  const tours = toursOf({ run, crew, keepCrew, commit, note });
  const { keep, record, ...observe } = useObservations({ id, house, outbox, note });
  const { settling, rows, answered } = now;

  const answer = (seen: Seen) => {
    const at = phase.name === "look" || phase.name === "ask" ? phase.point : undefined;
    if (at === undefined || step == null || settling) {
      return;
    }
    const using = phase.name === "look" ? usingWay[phase.using] : undefined;
    const observation = {
      what: "power" as const,
      off: step.off,
      seen,
      how: isAnother(phase.name === "look" ? phase.using : "any")
        ? (way ?? using ?? usualWay(at))
        : (using ?? way ?? usualWay(at)),
    };
    record(at, [observation], `${at.tag}: ${seen === "unsure" ? "NOT SURE" : seen.toUpperCase()}`);
  };

  /** Answers of several rows of a room at once; one that was answered otherwise before is corrected. */
  const answerRows = (points: readonly Point[], seen: Seen) => {
    if (step == null || points.length === 0) {
      return;
    }
    const evidence = points.map((point) => {
      const before = answered.get(point.id);
      if (before !== undefined) {
        void outbox.put({ type: "retract", evidence: before.evidence }, null, author(), newKey());
      }
      const using = usingWay[rows.find((row) => row.point === point.id)?.with ?? "any"];
      return keep(point, { what: "power", off: step.off, seen, how: using ?? way ?? usualWay(point) }, true);
    });
    const [first] = points;
    if (first !== undefined) {
      const what = points.length === 1 ? first.tag : `${points.length} points`;
      note({
        text: `${what}: ${seen === "unsure" ? "NOT SURE" : seen.toUpperCase()}`,
        answer: { evidence, point: first.id },
      });
    }
  };

  /** Takes back what is named, or else the newest that still stands. */
  const takeBack = (named?: Noted) => {
    const what = takeNewest(id, named);
    if (what?.answer !== undefined) {
      // Behind the answers themselves, in their order: an answer can be taken back before it was ever sent.
      for (const evidence of what.answer.evidence) {
        void outbox.put({ type: "retract", evidence }, null, author(), newKey());
      }
      askAgain(what.answer.point);
      setNoted(undefined);
      return;
    }
    if (what !== undefined || mayUndoNewest(id)) {
      undo.mutate(what?.revision, { onSuccess: () => setNoted(undefined) });
    }
  };

  return {
    phase,
    ...now,
    ...tours,
    ...observe,
    step,
    run,
    crew,
    way,
    setWay,
    answer,
    answerRows,
    passOver,
    noted,
    setNoted,
    takeBack,
    waiting: outbox.waiting,
    dropRefused: outbox.drop,
    busy: commit.isPending || undo.isPending,
    error: commit.error ?? undo.error ?? error,
  };
}

export type Tracing = ReturnType<typeof useTracing>;
