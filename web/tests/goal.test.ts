import { describe, expect, test } from "vitest";
import type { House } from "../src/api/client";
import { type Fields, goalOf } from "../src/work/GoalForm";

const ids = { breaker: 901, circuit: 902, point: 903, load: 904 };
const house = {
  panels: [{ id: 1, name: "Main", spaces: 20, bus: 200, main: 200, empty: ["4"], listed: ["TB"], max_circuits: 30 }],
  points: [
    { id: 5, tag: "E2", room: 7 },
    { id: 6, tag: "E9", room: 7 },
    { id: 8, tag: "K4", room: 9 },
  ],
} as unknown as House;
const goal = (kind: string, fields: Fields) => goalOf(kind, fields, house, 1, ids);

describe("what is typed becomes a goal", () => {
  test("while the least is missing there is none", () => {
    expect(goal("replace", {})).toBeUndefined();
    expect(goal("combine", { breaker: 3 })).toBeUndefined();
    expect(goal("tandem", { breaker: 3, other: 4, space: null })).toBeUndefined();
    expect(goal("makeup", { spaces: null })).toBeUndefined();
    expect(goal("add", { name: "oven" })).toBeUndefined();
    expect(goal("no such job", { breaker: 3 })).toBeUndefined();
  });

  test("while something stands in a field that is no number there is none", () => {
    expect(goal("add", { room: 7, watts: null, unread: ["watts"] })).toBeUndefined();
    expect(goal("add", { room: 7, watts: 9600, unread: [] })).toBeDefined();
  });

  test("a wish is for a place where one is typed", () => {
    const wishes = (fields: Fields) => (goal("rearrange", fields) as { wishes: string[] }).wishes;
    expect(wishes({})).toEqual(["2p"]);
    expect(wishes({ wish: "1p", space: 5 })).toEqual(["5=1p"]);
    expect(wishes({ space: null })).toEqual(["2p"]);
    expect((goal("balance", {}) as { wishes: string[] }).wishes).toEqual(["balance"]);
  });

  test("a new point gets the next free tag of its room", () => {
    const made = goal("add", { room: 7, name: "mixer" }) as { point: { tag: string; kind: string }; load: unknown };
    expect(made.point.tag).toBe("E10");
    expect(made.point.kind).toBe("receptacle");
    expect(made.load).toBeNull();
  });

  test("a nameplate makes it a thing, and what nobody looked at stays open", () => {
    const made = goal("dedicated", { room: 9, name: "second deck oven", draws: 40, long: true }) as {
      point: { tag: string; kind: string; volts: number };
      load: { amps: number; continuous: boolean; volts: number };
      neutral: boolean | null;
    };
    expect(made.point).toMatchObject({ tag: "K5", kind: "appliance", volts: 240 });
    expect(made.load).toMatchObject({ amps: 40, continuous: true, volts: 240 });
    expect(made.neutral).toBeNull();
    expect((goal("dedicated", { room: 9, neutral: "no" }) as { neutral: boolean }).neutral).toBe(false);
  });

  test("a new panel keeps nothing that was read off the old one's label", () => {
    const made = goal("makeup", { spaces: 42 }) as { panel: Record<string, unknown> };
    expect(made.panel).toMatchObject({ spaces: 42, bus: 200, tandem: "none", empty: [] });
    expect(made.panel).not.toHaveProperty("listed");
    expect(made.panel).not.toHaveProperty("max_circuits");
  });

  test("a generator's place is read as its spaces", () => {
    const made = goal("generator", { watts: 7000, at: "2 - 4", listed: "yes" }) as { at: string[]; listed: boolean };
    expect(made.at).toEqual(["2", "4"]);
    expect(made.listed).toBe(true);
    expect((goal("generator", { watts: 7000 }) as { listed: boolean | null }).listed).toBeNull();
  });
});
