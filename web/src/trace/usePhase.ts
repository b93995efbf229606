import { useEffect, useRef, useState } from "react";
import type { Advice, Ask, Crew, Guide, Point, Schemas } from "../api/client";
import type { useOutbox } from "../api/outbox";
import { useTracingRead } from "../api/reads";
import { useHouseView } from "../app/house";

/** Where the tracing stands: handles to move, a point to look at, something to try first, or done. */
export type Phase =
  | { name: "loading" }
  | { name: "nothing-to-trace" }
  | { name: "order"; advice: Advice }
  | { name: "receiver"; advice: Advice; point: Point }
  | { name: "load"; advice: Advice; point: Point }
  | { name: "look"; point: Point; nth: number; of: number; using: With; take: number[] }
  | { name: "ask"; point: Point; ask: Ask }
  | { name: "waiting"; kept: number }
  | { name: "done"; advice: Advice };

/** What the point is looked at with, as the guide says. */
export type With = Schemas["With"];

/** The guide is waited for so long after an answer; then the tour goes on in walking order. */
const SETTLE_MS = 1500;

/**
 * What to do now, and whether that is still being worked out.
 *
 * What is shown never changes under a finger: after an answer the card stays, and takes none, until what follows is
 * known; a point once asked about stays until it is answered or settled otherwise; an order is shown only if it was
 * given after the last answer. Out of reach, the tour goes on in walking order; after it somebody alone may follow the
 * order read last, which nobody else can have changed.
 */
export function usePhase(crew: Crew, outbox: ReturnType<typeof useOutbox>) {
  const { id, house, presence } = useHouseView();
  const tracing = useTracingRead(id, crew);
  const read = tracing.data;
  const [passed, setPassed] = useState<string>();
  const [again, setAgain] = useState<{ step: number | undefined; point: number }>();
  const shown = useRef<Phase>({ name: "loading" });
  const kept = outbox.waiting.filter((w) => w.refused === undefined);
  const unread = [...kept, ...outbox.sent.filter((s) => s.revision > house.revision)];
  const step = house.step;
  const changes = unread.map((w) => w.change);
  const takenBack = changes.flatMap((c) => (c.type === "retract" ? [c.evidence] : []));
  const answered = new Set(
    [...house.evidence, ...changes.flatMap((c) => (c.type === "record" ? [c.evidence] : []))]
      .filter((e) => e.step === step?.id && e.observation.what === "power" && !takenBack.includes(e.id))
      .map((e) => e.point),
  );
  const left = step?.visit.filter((p) => !answered.has(p)) ?? [];
  const ready = unread.length === 0 && read?.revision === house.revision;
  const told = step == null ? undefined : look(ready ? read?.guide : undefined);
  const waited = useWaited(!ready);
  // An old order is not shown for a new one, however long that takes; out of reach there is no new one.
  const settling = !ready && !presence.cut && !(waited && (told !== undefined || kept.length > 0));
  const phase = settling ? shown.current : now();
  useEffect(() => {
    shown.current = phase;
  }, [phase]);

  function now(): Phase {
    if (house.breakers.length === 0 || house.points.length === 0) {
      return { name: "nothing-to-trace" };
    }
    if (told !== undefined) {
      return told;
    }
    // With two people an order that was read long ago may be another by now.
    if (kept.length > 0 || (presence.cut && crew.people === 2)) {
      return { name: "waiting", kept: kept.length };
    }
    if (read === undefined) {
      return { name: "loading" };
    }
    const { advice } = read;
    const point = house.points.find((p) => p.id === advice.points[0]);
    if (
      (advice.action === "receiver" || advice.action === "load") &&
      point !== undefined &&
      advice.switch_on.length === 0
    ) {
      return { name: advice.action, advice, point };
    }
    return { name: advice.action === "done" ? "done" : "order", advice };
  }

  /** The step under way: as the guide says where it is at hand, else in walking order. */
  function look(at: Guide | null | undefined): Phase | undefined {
    const find = (p: number | null | undefined) => house.points.find((x) => x.id === p);
    const ask = at?.ask ?? undefined;
    const asked = find(ask?.point);
    if (ask !== undefined && asked !== undefined && passed !== askKey(ask)) {
      return { name: "ask", point: asked, ask };
    }
    const open = at == null ? left : left.filter((p) => at.left.includes(p));
    const before = shown.current.name === "look" ? shown.current.point.id : undefined;
    const next = find(
      [again?.step === step?.id ? again?.point : undefined, before, at?.next].find(
        (p) => p != null && open.includes(p),
      ) ?? open[0],
    );
    if (next === undefined || step == null) {
      return undefined;
    }
    const nth = step.visit.length - left.length + 1;
    const using = at?.next === next.id ? at.with : "any";
    return { name: "look", point: next, nth, of: step.visit.length, using, take: at?.take ?? [] };
  }

  function askKey(ask: Ask) {
    return `${ask.point} ${house.revision}`;
  }

  return {
    phase,
    /** How far the work is. */
    progress: read?.progress,
    settling,
    /** An answer was taken back: its point is the next one, unless it has been answered again. */
    askAgain: (point: number) => setAgain({ step: step?.id, point }),
    passOver: (ask: Ask) => setPassed(askKey(ask)),
    error: kept.length > 0 ? null : tracing.error,
  };
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
