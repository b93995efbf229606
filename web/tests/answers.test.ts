import { describe, expect, test } from "vitest";
import type { Face } from "../src/api/client";
import { type Answers, asked, complete, kindOf, kinds, tapBreaker, tappedField, tapSpace } from "../src/work/answers";

const of = (name: string) => {
  const kind = kindOf(name);
  if (kind === undefined) {
    throw new Error(`no kind ${name}`);
  }
  return kind;
};
const sent = (name: string, answers: Answers, unread: string[] = []) => complete(of(name), answers, unread);
const face = {
  breakers: [
    { breaker: 7, at: "5-7" },
    { breaker: 8, at: "12b" },
  ],
} as unknown as Face;

describe("what a job asks is answered", () => {
  test("while the least is missing nothing is sent", () => {
    expect(sent("replace", {})).toBeUndefined();
    expect(sent("combine", { keep: 3 })).toBeUndefined();
    expect(sent("tandem", { upper: 3, lower: 4, space: null })).toBeUndefined();
    expect(sent("makeup", { spaces: null })).toBeUndefined();
    expect(sent("add", { name: "oven" })).toBeUndefined();
    expect(kindOf("no such job")).toBeUndefined();
    expect(kinds.length).toBeGreaterThan(10);
  });

  test("while something stands in a field that is no number nothing is sent", () => {
    expect(sent("add", { room: 7, watts: null }, ["watts"])).toBeUndefined();
    expect(sent("add", { room: 7, watts: 9600 })).toEqual({ room: 7, watts: 9600 });
  });

  test("what holds where nothing is said need not be said", () => {
    expect(sent("rearrange", {})).toEqual({});
    expect(sent("convert", { breaker: 3 })).toEqual({ breaker: 3 });
  });

  test("what is not asked is not sent", () => {
    const names = (answers: Answers) => asked(of("dedicated"), answers).map((field) => field.name);
    expect(names({})).toContain("neutral");
    expect(names({ volts: "120" })).not.toContain("neutral");
    expect(sent("dedicated", { room: 1, volts: "120", neutral: true })).toEqual({ room: 1, volts: "120" });
  });
});

describe("a tap on the panel answers", () => {
  test("the first question that is open, or the one at hand", () => {
    const fields = of("combine").fields;
    expect(tappedField(fields, {}, undefined)?.name).toBe("keep");
    expect(tappedField(fields, { keep: 7 }, undefined)?.name).toBe("give-up");
    expect(tappedField(fields, { keep: 7 }, "keep")?.name).toBe("keep");
  });

  test("with the breaker, with its space, or with one of several", () => {
    const field = (kind: string, name: string) => {
      const found = of(kind).fields.find((f) => f.name === name);
      if (found === undefined) {
        throw new Error(name);
      }
      return found;
    };
    expect(tapBreaker(field("replace", "breaker"), {}, 7, face)).toEqual({ breaker: 7 });
    expect(tapBreaker(field("tandem", "space"), {}, 8, face)).toEqual({ space: 12 });
    const carried = tapBreaker(field("generator", "carries"), { carries: [8] }, 7, face);
    expect(carried).toEqual({ carries: [8, 7] });
    expect(tapBreaker(field("generator", "carries"), carried, 8, face)).toEqual({ carries: [7] });
    const at = field("generator", "at");
    expect(tapSpace(at, tapSpace(at, {}, 4), 2)).toEqual({ at: "2-4" });
    expect(tapSpace(at, { at: "2-4" }, 9)).toEqual({ at: "9" });
    expect(tapSpace(field("rearrange", "for"), { for: "1p" }, 9)).toEqual({ for: "9=1p" });
  });
});
