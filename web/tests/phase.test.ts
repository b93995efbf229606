import { expect, test } from "vitest";
import type { Change } from "../src/api/client";
import { answers, askKey, type Phase, phaseOf, type Situation } from "../src/trace/phase";

type House = Situation["house"];
type Read = NonNullable<Situation["read"]>;

const point = (id: number) => ({ id, tag: `P${id}` }) as House["points"][number];
const evidence = (id: number, at: number) => ({
  id,
  point: at,
  step: 9,
  observation: { what: "power", off: [1], seen: "dead", how: "tester" },
});
const advice = (action: string, points: number[] = []) =>
  ({ action, points, switch_on: [] }) as unknown as Read["advice"];

/** Points 1 to 3 are to be looked at in step 9; all that is known was read at revision 4. */
function touring(
  change: { house?: Partial<House>; guide?: object | null } & Partial<Omit<Situation, "house">> = {},
): Situation {
  const { house, guide, ...rest } = change;
  const about = { next: 1, left: [1, 2, 3], take: [], with: "any", ask: null, rows: [] };
  return {
    house: {
      revision: 4,
      step: { id: 9, off: [1], visit: [1, 2, 3] },
      evidence: [],
      points: [point(1), point(2), point(3)],
      breakers: [{ id: 1 }],
      ...house,
    } as unknown as House,
    people: 1,
    read: { revision: 4, advice: advice("switch"), guide: guide === undefined ? about : guide } as unknown as Read,
    waiting: [],
    sent: [],
    cut: false,
    waited: false,
    passed: undefined,
    again: undefined,
    shown: { name: "loading" },
    ...rest,
  };
}

const row = (point: number, live_asks = false, dead_asks = false) => ({ point, open: true, live_asks, dead_asks });
const foretold = (rows: object[]) => ({ next: 1, left: [1, 2, 3], with: "any", ask: null, rows });

const waiting = (change: object) => ({ house: 1, key: "k", base: 4, author: "Wren", change: change as Change });
const record = (id: number, at: number) => waiting({ type: "record", evidence: evidence(id, at) });
const looking = (id: number): Phase => ({ name: "look", point: point(id), nth: 1, of: 3, using: "any", take: [] });
const lookedAt = (phase: Phase) => (phase.name === "look" ? phase.point.id : phase.name);

test("an empty house has nothing to trace; one without a step shows the order", () => {
  expect(phaseOf(touring({ house: { points: [], step: null } })).phase.name).toBe("nothing-to-trace");
  expect(phaseOf(touring({ house: { step: null }, guide: null })).phase.name).toBe("order");
});

test("the guide says which point is next and where in the tour that is", () => {
  const { phase, settling } = phaseOf(touring({ guide: { next: 2, left: [2, 3], with: "leave-lamp", take: [2] } }));
  expect(phase).toEqual({ name: "look", point: point(2), nth: 1, of: 3, using: "leave-lamp", take: [2] });
  expect(settling).toBe(false);
});

test("after an answer the card stays and takes none until what follows was read", () => {
  const asked = looking(1);
  const kept = phaseOf(touring({ waiting: [record(20, 1)], shown: asked }));
  expect(kept).toEqual({ phase: asked, settling: true });
  const sent = { ...record(20, 1), revision: 5 };
  expect(phaseOf(touring({ sent: [sent], shown: asked }))).toEqual({ phase: asked, settling: true });
  const read = touring({
    house: { revision: 5, evidence: [evidence(20, 1)] as House["evidence"] },
    sent: [sent],
    shown: asked,
    guide: { next: 3, left: [2, 3], with: "any" },
  });
  expect(phaseOf(read).settling).toBe(true);
  const both = { ...read, read: { ...read.read, revision: 5 } as Read };
  expect(lookedAt(phaseOf(both).phase)).toBe(3);
});

test("what took too long is not waited for: the tour goes on in walking order", () => {
  const { phase, settling } = phaseOf(touring({ waiting: [record(20, 1)], shown: looking(1), waited: true }));
  expect([lookedAt(phase), settling]).toEqual([2, false]);
});

test("a point once asked about stays until it is answered, whatever the guide would take next", () => {
  const at = touring({ shown: looking(3), guide: { next: 1, left: [1, 2, 3], with: "any" } });
  expect(lookedAt(phaseOf(at).phase)).toBe(3);
  expect(lookedAt(phaseOf({ ...at, shown: { name: "loading" } }).phase)).toBe(1);
});

test("a point whose answer was taken back is asked for again", () => {
  const back = touring({
    house: { evidence: [evidence(20, 1)] as House["evidence"] },
    waiting: [waiting({ type: "retract", evidence: 20 })],
    again: { step: 9, point: 1 },
    cut: true,
    shown: looking(2),
  });
  expect(lookedAt(phaseOf(back).phase)).toBe(1);
  expect(lookedAt(phaseOf({ ...back, again: { step: 8, point: 1 } }).phase)).toBe(2);
});

test("a question stands until it is answered or passed over, and is asked anew at the next revision", () => {
  const ask = { point: 2, check: "switch", chance: 0.01 };
  const at = touring({ guide: { next: 1, left: [1, 2, 3], with: "any", ask } });
  expect(phaseOf(at).phase.name).toBe("ask");
  expect(phaseOf({ ...at, passed: askKey(ask as never, 4) }).phase.name).toBe("look");
  expect(phaseOf({ ...at, passed: askKey(ask as never, 3) }).phase.name).toBe("ask");
});

test("out of reach somebody alone may follow the order read last; of two nobody is shown an old one", () => {
  const cut = touring({ house: { step: null, revision: 5 }, guide: null, cut: true });
  expect(phaseOf(cut).phase.name).toBe("order");
  expect(phaseOf({ ...cut, people: 2 }).phase).toEqual({ name: "waiting", kept: 0 });
  const kept = { ...cut, waiting: [record(20, 1), { ...record(21, 2), refused: "no" }] };
  expect(phaseOf(kept).phase, "a refused one is not waited for").toEqual({ name: "waiting", kept: 1 });
});

test("an old order is never shown for a new one, however long that takes", () => {
  const ordered: Phase = { name: "waiting", kept: 0 };
  const at = touring({ house: { step: null, revision: 5 }, guide: null, waited: true, shown: ordered });
  expect(phaseOf(at)).toEqual({ phase: ordered, settling: true });
});

test("the receiver goes to the panel with the point named; nothing before breakers are on again", () => {
  const order = { ...touring({ house: { step: null }, guide: null }) };
  const told = (on: number[]) =>
    ({ ...order.read, advice: { ...advice("receiver", [2]), switch_on: on } }) as unknown as Read;
  expect(phaseOf({ ...order, read: told([]) }).phase.name).toBe("receiver");
  expect(phaseOf({ ...order, read: told([1]) }).phase.name).toBe("order");
});

test("an answer that the guide foretold not to ask about shows the next point at once", () => {
  const guide = foretold([row(1), row(3), row(2)]);
  const at = touring({ guide, waiting: [record(20, 1)], shown: looking(1) });
  expect([lookedAt(phaseOf(at).phase), phaseOf(at).settling], "in the order of the rows").toEqual([3, false]);
  const both = { ...at, waiting: [record(20, 1), record(21, 3)], shown: looking(3) };
  expect(lookedAt(phaseOf(both).phase)).toBe(2);
  const all = { ...both, waiting: [record(20, 1), record(21, 3), record(22, 2)], shown: looking(2) };
  expect(phaseOf(all), "after the last one what follows has to be known").toEqual({
    phase: looking(2),
    settling: true,
  });
});

test("an answer that may be asked about is waited for", () => {
  const guide = foretold([row(1, false, true), row(2), row(3)]);
  const at = touring({ guide, waiting: [record(20, 1)], shown: looking(1) });
  expect(phaseOf(at)).toEqual({ phase: looking(1), settling: true });
  const taken = { ...at, waiting: [waiting({ type: "retract", evidence: 19 })] };
  expect(phaseOf(taken).settling, "so is one that was taken back").toBe(true);
});

test("somebody who looks at another point already is not called back to a surprising one", () => {
  const ask = { point: 1, check: "look-again", chance: 0.01 };
  const at = touring({
    guide: { ...foretold([row(1), row(2), row(3)]), next: 3, left: [2, 3], ask },
    shown: looking(2),
  });
  expect(lookedAt(phaseOf(at).phase)).toBe(2);
  expect(phaseOf({ ...at, shown: looking(1) }).phase.name).toBe("ask");
});

test("a point's answer is its newest, and none where that was taken back", () => {
  const at = touring({
    waiting: [record(20, 1), waiting({ type: "retract", evidence: 20 }), record(21, 1), record(22, 2)],
  });
  expect([...answers(at)]).toEqual([
    [1, { seen: "dead", evidence: 21 }],
    [2, { seen: "dead", evidence: 22 }],
  ]);
});
