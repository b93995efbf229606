import { expect, test } from "vitest";
import { readTape, writeTape } from "../src/parts/tape";

test("inches are read as a tape shows them, or as a number", () => {
  const typed = ["4 1/4", '4-1/4"', "4.25", "4,25", "4.25 in", "17/4"];
  expect(typed.map(readTape)).toEqual(typed.map(() => 4.25));
  expect([readTape("9"), readTape("1/2"), readTape("11 15/16")]).toEqual([9, 0.5, 11.9375]);
});

test("what is no length is nothing", () => {
  for (const text of ["", "wide", "4 1/", "1/0", "4 x 9", "-3", "4 1/4 1/4"]) {
    expect(readTape(text), text).toBeNull();
  }
});

test("what is written reads back the same, and what no tape shows stays as it is", () => {
  expect([4.25, 9, 0.5, 11.9375, 4.3].map(writeTape)).toEqual(["4 1/4", "9", "1/2", "11 15/16", "4.3"]);
  for (let sixteenths = 1; sixteenths < 600; sixteenths += 7) {
    expect(readTape(writeTape(sixteenths / 16))).toBe(sixteenths / 16);
  }
});
