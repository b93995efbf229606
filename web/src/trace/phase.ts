import type { Advice, Ask, Change, Crew, House, Point, Schemas, Seen } from "../api/client";
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
  return unread({ house, waiting, sent }).length === 0 && read?.revision === house.revision;
}

/**
 * What to do now, and whether that is still being worked out.
 *
 * What is shown never changes under a finger. An answer that the guide foretold not to ask about shows the next point at
 * once; after any other the card stays, and takes none, until what follows is known. A point once asked about stays until it is answered or settled otherwise; an order is shown only if it was
 * given after the last answer. Out of reach, the tour goes on in walking order; after it somebody alone may follow the
 * order read last, which nobody else can have changed.
 */
export function phaseOf(at: Situation): { phase: Phase; settling: boolean } {
  const ready = isReady(at);
  const quick = ready ? undefined : quickLook(at);
  if (quick !== undefined) {
    return { phase: quick, settling: false };
  }
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

type Known = Pick<Situation, "house" | "waiting" | "sent">;

/** Changes of this device that the house as it was read does not have yet. */
function unread({ house, waiting, sent }: Known): Change[] {
  const all = [...waiting.filter((w) => w.refused === undefined), ...sent.filter((s) => s.revision > house.revision)];
  return all.map((w) => w.change);
}

/** An answer of the step under way: what was seen, and the observation that says so. */
export interface Answered {
  seen: Seen;
  evidence: number;
}

/** Points of the step that were answered, here or on the way to the server: the newest answer of each. */
export function answers(known: Known): Map<number, Answered> {
  const { house } = known;
  const changes = unread(known);
  const takenBack = changes.flatMap((c) => (c.type === "retract" ? [c.evidence] : []));
  const all = [...house.evidence, ...changes.flatMap((c) => (c.type === "record" ? [c.evidence] : []))];
  return new Map(
    all.flatMap((e) =>
      e.step === house.step?.id && e.observation.what === "power" && !takenBack.includes(e.id)
        ? [[e.point, { seen: e.observation.seen, evidence: e.id }] as const]
        : [],
    ),
  );
}

/** Points of the step that have no answer yet. */
function open(at: Situation): number[] {
  const answered = answers(at);
  return at.house.step?.visit.filter((p) => !answered.has(p)) ?? [];
}

/** The next point of the tour, where all that is not read back yet are answers that the guide foretold not to ask about. */
function quickLook(at: Situation): Phase | undefined {
  const { house, read, shown } = at;
  const guide = read?.guide;
  if (guide == null || guide.with !== "any" || guide.ask != null || house.step == null || shown.name !== "look") {
    return undefined;
  }
  const row = (point: number) => guide.rows.find((r) => r.point === point);
  const quiet = (change: Change) => {
    if (change.type !== "record" || change.evidence.observation.what !== "power") {
      return false;
    }
    const foretold = row(change.evidence.point);
    const { seen } = change.evidence.observation;
    return (
      foretold?.open === true && !(seen === "live" && foretold.live_asks) && !(seen === "dead" && foretold.dead_asks)
    );
  };
  const changes = unread(at);
  if (changes.length === 0 || !changes.every(quiet)) {
    return undefined;
  }
  const left = open(at);
  const find = (id: number | undefined) => house.points.find((p) => p.id === id);
  const wanted = guide.rows.filter((r) => r.open && left.includes(r.point)).flatMap((r) => find(r.point) ?? []);
  const next =
    wanted.find((p) => p.id === shown.point.id) ?? wanted.find((p) => p.room === shown.point.room) ?? wanted[0];
  if (next === undefined) {
    return undefined;
  }
  const nth = house.step.visit.length - left.length + 1;
  return { name: "look", point: next, nth, of: house.step.visit.length, using: "any", take: [] };
}

/** The step under way: as the guide says where it is at hand, else in walking order. */
function look(at: Situation, guide: Schemas["Guide"] | null | undefined): Phase | undefined {
  const { house, passed, again, shown } = at;
  const { step } = house;
  const find = (p: number | null | undefined) => house.points.find((x) => x.id === p);
  const ask = guide?.ask ?? undefined;
  const asked = find(ask?.point);
  const left = open(at);
  const wanted = guide == null ? left : left.filter((p) => guide.left.includes(p));
  const before = shown.name === "look" ? shown.point.id : undefined;
  // Somebody who looks at another point already is not called back from it.
  const elsewhere = before !== undefined && before !== ask?.point && wanted.includes(before);
  if (ask !== undefined && asked !== undefined && !elsewhere && passed !== askKey(ask, house.revision)) {
    return { name: "ask", point: asked, ask };
  }
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
