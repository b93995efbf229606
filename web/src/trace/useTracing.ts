import { useState } from "react";
import type { Advice, Ask, Change, Crew, Fault, Observation, Point, Seen, Way } from "../api/client";
import { newId, useCommit, useRevisionSeen, useUndo } from "../api/edits";
import { newKey } from "../api/newKey";
import { useOutbox } from "../api/outbox";
import { useHouseView } from "../app/house";
import { author } from "../app/who";
import type { Noted } from "../parts/Undoable";
import { openRun, useCrew } from "./crew";
import { mayUndoNewest, noteDone, takeNewest } from "./doneHere";
import type { With } from "./phase";
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
  const { phase, progress, settling, passOver, askAgain, error, rows, answered } = usePhase(crew, outbox);
  const revisionSeen = useRevisionSeen(id);
  const [noted, setNoted] = useState<Noted>();
  const note = (what: Noted) => {
    setNoted(what);
    noteDone(id, what);
  };
  const [way, setWay] = useState<Way>();
  const step = house.step;
  const run = openRun(house);

  /** Makes a change that can be taken back with one tap. */
  const make = (change: Change, text: string, base?: null) =>
    commit.mutate(base === null ? { change, base } : change, { onSuccess: ({ revision }) => note({ text, revision }) });

  /** Every handle is back on, and no tour is under way. */
  const allOn = () => make({ type: "begin-step", step: { id: newId(), off: [], visit: [] } }, "All are on");

  /** The handles are moved as asked. */
  const moved = (order: Advice) => {
    const off = order.off.map((b) => b.breaker);
    make({ type: "begin-step", step: { id: newId(), off, visit: order.points } }, "Handles moved");
  };

  const keep = (point: Point, observation: Observation, inStep: boolean): number => {
    const evidence = {
      id: newId(),
      point: point.id,
      time: new Date().toISOString(),
      who: author(),
      step: inStep ? (step?.id ?? null) : null,
      observation,
    };
    // Kept on this device first: a walk through a dead corner of the house loses nothing.
    void outbox.put({ type: "record", evidence }, revisionSeen(), author(), newKey());
    return evidence.id;
  };

  const record = (point: Point, observations: Observation[], text: string, inStep = true) => {
    const evidence = observations.map((o) => keep(point, o, inStep));
    note({ text, answer: { evidence, point: point.id } });
  };

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

  /** What was found when the switch or device was tried. */
  const tried = (ask: Ask, point: Point, wasOff: boolean) => {
    const cause = ask.check === "device" ? ("device" as const) : ("switch" as const);
    const off = house.step?.off ?? null;
    record(
      point,
      [{ what: "tried", cause, was_off: wasOff, off }],
      `${point.tag}: ${wasOff ? "power now" : "still dark"}`,
    );
  };

  const pointed = (point: Point, breaker: number) =>
    record(point, [{ what: "pointed", at: breaker }], `${point.tag}: receiver noted`, false);

  /** A known load was switched on: the current of a breaker rose by so much. */
  const rose = (point: Point, at: number, expected: number, by: number) =>
    record(point, [{ what: "rise", at, expected, rose: by }], `${point.tag}: rise noted`, false);

  /** No current rose: on none of the wires clamped, or, where all are watched, nothing feeds the point. */
  const noRise = (point: Point, clamped: number[], expected: number) => {
    const none: Observation[] = clamped.map((at) => ({ what: "rise", at, expected, rose: 0 }));
    const dead: Observation = { what: "power", off: [], seen: "dead", how: "meter" };
    record(point, none.length > 0 ? none : [dead], `${point.tag}: no rise`, false);
  };

  /** Breakers that feed nothing on the list are switched off to look for what else is dead. */
  const beginSearch = (order: Advice) =>
    make(
      { type: "begin-step", step: { id: newId(), off: order.search.map((b) => b.breaker), visit: [] } },
      "Handles moved",
    );

  /** Nothing else was dead while these were off. */
  const foundNothing = (order: Advice) => {
    if (run !== undefined) {
      const breakers = order.search.map((b) => b.breaker);
      make({ type: "searched", run: run.id, breakers }, "Nothing else is dead", null);
    }
  };

  const fault = (point: Point, what: Fault) =>
    record(point, [{ what: "fault", fault: what }], `${point.tag}: fault noted`, false);

  /** Ends the tour early; what was answered stays. */
  const endTour = () => make({ type: "end-step" }, "Tour ended");

  const setCrew = (next: Crew) => {
    keepCrew(next);
    if (run !== undefined) {
      // Whatever a step counts meanwhile stays.
      commit.mutate({ change: { type: "set-crew", run: run.id, crew: next }, base: null });
    }
  };

  const beginRun = () =>
    make(
      {
        type: "put-run",
        run: { id: newId(), begun: new Date().toISOString(), crew, steps: 0, outages: 0 },
      },
      "Run begun",
    );

  const endRun = () =>
    run !== undefined && make({ type: "end-run", run: run.id, time: new Date().toISOString() }, "Run ended", null);

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
    progress,
    settling,
    step,
    run,
    crew,
    setCrew,
    way,
    setWay,
    moved,
    allOn,
    answer,
    answerRows,
    rows,
    answered,
    tried,
    passOver,
    pointed,
    rose,
    noRise,
    beginSearch,
    foundNothing,
    fault,
    endTour,
    beginRun,
    endRun,
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
