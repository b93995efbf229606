import { useState } from "react";
import type { Advice, Change, Point, Seen, Way } from "../api/client";
import { newId, useCommit, useUndo } from "../api/edits";
import { useAdvice } from "../api/reads";
import { useHouseView } from "../house";
import type { Noted } from "../parts/Undoable";
import { author } from "../who";
import { useCrew } from "./crew";

/** Where the tracing stands: handles to move, a point to look at, or done. */
export type Phase =
  | { name: "loading" }
  | { name: "nothing-to-trace" }
  | { name: "order"; advice: Advice }
  | { name: "receiver"; advice: Advice; point: Point }
  | { name: "look"; point: Point; nth: number; of: number }
  | { name: "done"; advice: Advice };

/** How such a point is usually looked at. */
export function usualWay(point: Point): Way {
  return point.kind === "light" ? "light" : "tester";
}

/** Tracing as any stance shows it: what to do now, and how to answer. */
export function useTracing() {
  const { id, house } = useHouseView();
  const [crew, setCrew] = useCrew(id);
  const known = new Set(house.breakers.map((b) => b.id));
  const advice = useAdvice(id, { ...crew, keepOn: crew.keepOn.filter((b) => known.has(b)) });
  const commit = useCommit(id);
  const undo = useUndo(id);
  const [noted, setNoted] = useState<Noted>();
  const [way, setWay] = useState<Way>();
  const step = house.step;
  const answered = new Set(house.evidence.filter((e) => e.step === step?.id).map((e) => e.point));
  const nextId = step?.visit.find((p) => !answered.has(p));
  const next = house.points.find((p) => p.id === nextId);
  const phase = phaseNow();

  function phaseNow(): Phase {
    if (house.breakers.length === 0 || house.points.length === 0) {
      return { name: "nothing-to-trace" };
    }
    if (next !== undefined && step != null) {
      return { name: "look", point: next, nth: step.visit.indexOf(next.id) + 1, of: step.visit.length };
    }
    if (advice.data === undefined) {
      return { name: "loading" };
    }
    const point = house.points.find((p) => p.id === advice.data.points[0]);
    if (advice.data.action === "receiver" && point !== undefined && advice.data.switch_on.length === 0) {
      return { name: "receiver", advice: advice.data, point };
    }
    return { name: advice.data.action === "done" ? "done" : "order", advice: advice.data };
  }

  /** Makes a change that can be taken back with one tap. */
  const make = (change: Change, text: string) =>
    commit.mutate(change, { onSuccess: (done) => setNoted({ text, revision: done.revision }) });

  /** Every handle is back on, and no tour is under way. */
  const allOn = () => make({ type: "begin-step", step: { id: newId(), off: [], visit: [] } }, "All are on");

  /** The handles are moved as asked. */
  const moved = (order: Advice) => {
    const off = order.off.map((b) => b.breaker);
    make({ type: "begin-step", step: { id: newId(), off, visit: order.points } }, "Handles moved");
  };

  const answer = (seen: Seen) => {
    if (next === undefined || step == null) {
      return;
    }
    const observation = { what: "power" as const, off: step.off, seen, how: way ?? usualWay(next) };
    const evidence = {
      id: newId(),
      point: next.id,
      time: new Date().toISOString(),
      who: author(),
      step: step.id,
      observation,
    };
    const word = seen === "unsure" ? "NOT SURE" : seen.toUpperCase();
    make({ type: "record", evidence }, `${next.tag}: ${word}`);
  };

  const pointed = (point: Point, breaker: number) => {
    const observation = { what: "pointed" as const, at: breaker };
    const evidence = { id: newId(), point: point.id, time: new Date().toISOString(), who: author(), observation };
    make({ type: "record", evidence }, `${point.tag}: receiver noted`);
  };

  /** Ends the tour early; what was answered stays. */
  const endTour = () => make({ type: "end-step" }, "Tour ended");

  const takeBack = (revision?: number) => undo.mutate(revision, { onSuccess: () => setNoted(undefined) });

  const busy = commit.isPending || undo.isPending;
  const error = commit.error ?? undo.error ?? advice.error;
  return {
    phase,
    crew,
    setCrew,
    way,
    setWay,
    moved,
    allOn,
    answer,
    pointed,
    endTour,
    noted,
    setNoted,
    takeBack,
    busy,
    error,
  };
}

export type Tracing = ReturnType<typeof useTracing>;
