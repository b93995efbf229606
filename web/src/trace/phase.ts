import type { Advice, Ask, Crew, House, Point, Schemas } from "../api/client";
import type { Sent, Waiting } from "../api/outbox";

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

/** All that the phase follows from. */
export interface Situation {
  house: Pick<House, "revision" | "step" | "evidence" | "points" | "breakers">;
  people: Crew["people"];
  /** What was read for tracing last. */
  read: Schemas["TracingRead"] | undefined;
  waiting: readonly Waiting[];
  sent: readonly Sent[];
  /** The house is out of reach. */
  cut: boolean;
  /** What is read has been waited for long enough. */
  waited: boolean;
  /** The question that was passed over, by its key. */
  passed: string | undefined;
  /** The point whose answer was taken back, and in which step. */
  again: { step: number | undefined; point: number } | undefined;
  /** What is on the screen. */
  shown: Phase;
}

/** A question, as it is remembered once passed over: asked anew at the next revision. */
export function askKey(ask: Ask, revision: number): string {
  return `${ask.point} ${revision}`;
}

/** True where all that this device knows has been read back. */
export function isReady({ house, read, waiting, sent }: Pick<Situation, "house" | "read" | "waiting" | "sent">) {
  const unread = waiting.some((w) => w.refused === undefined) || sent.some((s) => s.revision > house.revision);
  return !unread && read?.revision === house.revision;
}

/**
 * What to do now, and whether that is still being worked out.
 *
 * What is shown never changes under a finger: after an answer the card stays, and takes none, until what follows is
 * known; a point once asked about stays until it is answered or settled otherwise; an order is shown only if it was
 * given after the last answer. Out of reach, the tour goes on in walking order; after it somebody alone may follow the
 * order read last, which nobody else can have changed.
 */
export function phaseOf(at: Situation): { phase: Phase; settling: boolean } {
  const ready = isReady(at);
  const kept = at.waiting.filter((w) => w.refused === undefined).length;
  const told = at.house.step == null ? undefined : look(at, ready ? at.read?.guide : undefined);
  // An old order is not shown for a new one, however long that takes; out of reach there is no new one.
  const settling = !ready && !at.cut && !(at.waited && (told !== undefined || kept > 0));
  return { phase: settling ? at.shown : now(at, told, kept), settling };
}

function now({ house, people, read, cut }: Situation, told: Phase | undefined, kept: number): Phase {
  if (house.breakers.length === 0 || house.points.length === 0) {
    return { name: "nothing-to-trace" };
  }
  if (told !== undefined) {
    return told;
  }
  // With two people an order that was read long ago may be another by now.
  if (kept > 0 || (cut && people === 2)) {
    return { name: "waiting", kept };
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

/** Points of the step that have no answer yet, here or on the way to the server. */
function open({ house, waiting, sent }: Situation): number[] {
  const unread = [
    ...waiting.filter((w) => w.refused === undefined),
    ...sent.filter((s) => s.revision > house.revision),
  ];
  const changes = unread.map((w) => w.change);
  const takenBack = changes.flatMap((c) => (c.type === "retract" ? [c.evidence] : []));
  const answered = new Set(
    [...house.evidence, ...changes.flatMap((c) => (c.type === "record" ? [c.evidence] : []))]
      .filter((e) => e.step === house.step?.id && e.observation.what === "power" && !takenBack.includes(e.id))
      .map((e) => e.point),
  );
  return house.step?.visit.filter((p) => !answered.has(p)) ?? [];
}

/** The step under way: as the guide says where it is at hand, else in walking order. */
function look(at: Situation, guide: Schemas["Guide"] | null | undefined): Phase | undefined {
  const { house, passed, again, shown } = at;
  const { step } = house;
  const find = (p: number | null | undefined) => house.points.find((x) => x.id === p);
  const ask = guide?.ask ?? undefined;
  const asked = find(ask?.point);
  if (ask !== undefined && asked !== undefined && passed !== askKey(ask, house.revision)) {
    return { name: "ask", point: asked, ask };
  }
  const left = open(at);
  const wanted = guide == null ? left : left.filter((p) => guide.left.includes(p));
  const before = shown.name === "look" ? shown.point.id : undefined;
  const next = find(
    [again?.step === step?.id ? again?.point : undefined, before, guide?.next].find(
      (p) => p != null && wanted.includes(p),
    ) ?? wanted[0],
  );
  if (next === undefined || step == null) {
    return undefined;
  }
  const nth = step.visit.length - left.length + 1;
  const using = guide?.next === next.id ? guide.with : "any";
  return { name: "look", point: next, nth, of: step.visit.length, using, take: guide?.take ?? [] };
}
