import { useEffect, useRef, useState } from "react";
import type { Ask, Crew } from "../api/client";
import type { useOutbox } from "../api/outbox";
import { useTracingRead } from "../api/reads";
import { useHouseView } from "../app/house";
import { SETTLE_MS } from "../app/times";
import { answers, askKey, isReady, type Phase, phaseOf, type Situation } from "./phase";
import { usePresence } from "./presence";

/** What to do now, and whether that is still being worked out: see [phaseOf]. */
export function usePhase(crew: Crew, outbox: ReturnType<typeof useOutbox>) {
  const { id, house } = useHouseView();
  const presence = usePresence();
  const tracing = useTracingRead(id, crew);
  useCaughtUp(tracing, house.revision, presence.cut);
  const [passed, setPassed] = useState<string>();
  const [again, setAgain] = useState<Situation["again"]>();
  const shown = useRef<Phase>({ name: "loading" });
  const { waiting, sent } = outbox;
  const read = { house, read: tracing.data, waiting, sent };
  const waited = useWaited(!isReady(read));
  const at = { ...read, people: crew.people, cut: presence.cut, waited, passed, again, shown: shown.current };
  const { phase, settling } = phaseOf(at);
  useEffect(() => {
    shown.current = phase;
  }, [phase]);
  return {
    phase,
    /** The whole tour as rows, as far as it was read. */
    rows: tracing.data?.guide?.rows ?? [],
    /** What was answered in it, the last of each point. */
    answered: answers(read),
    /** How far the work is. */
    progress: tracing.data?.progress,
    /** What goes back on when somebody leaves off, and who holds the rest. */
    backOn: tracing.data?.advice.back_on ?? [],
    held: tracing.data?.advice.held ?? [],
    settling,
    /** An answer was taken back: its point is the next one, unless it has been answered again. */
    askAgain: (point: number) => setAgain({ step: house.step?.id, point }),
    passOver: (ask: Ask) => setPassed(askKey(ask, house.revision)),
    error: waiting.some((w) => w.refused === undefined) ? null : tracing.error,
  };
}

/**
 * Answers that follow one another quickly may leave what was read for tracing a revision behind the house: the house was read
 * after the last of them, this before. Then once more.
 */
function useCaughtUp(tracing: ReturnType<typeof useTracingRead>, revision: number, cut: boolean) {
  const { data, isFetching, isError, refetch } = tracing;
  const behind = data !== undefined && data.revision < revision && !isFetching && !isError && !cut;
  useEffect(() => {
    if (behind) {
      void refetch();
    }
  }, [behind, refetch]);
}

/** True once something has lasted for the time that is worth waiting. */
function useWaited(lasts: boolean): boolean {
  const [waited, setWaited] = useState(false);
  useEffect(() => {
    if (!lasts) {
      setWaited(false);
      return;
    }
    const timer = setTimeout(() => setWaited(true), SETTLE_MS);
    return () => clearTimeout(timer);
  }, [lasts]);
  return waited;
}
