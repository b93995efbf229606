import type { Advice, Change, Crew, Run } from "../api/client";
import { newId, type useCommit } from "../api/edits";
import type { Noted } from "../parts/Undoable";

interface Of {
  run: Run | undefined;
  crew: Crew;
  keepCrew: (crew: Crew) => void;
  commit: ReturnType<typeof useCommit>;
  note: (what: Noted) => void;
}

/** Runs and their tours: handles moved, a tour begun and ended, the crew. */
export function toursOf({ run, crew, keepCrew, commit, note }: Of) {
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

  return { moved, allOn, beginSearch, foundNothing, endTour, setCrew, beginRun, endRun };
}
