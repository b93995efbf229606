import { expect, test } from "vitest";
import { grouped } from "../src/log/grouped";

const made = (minute: number, author: string, said: string, undone_by: number | null = null) => ({
  time: new Date(Date.UTC(2026, 0, 1, 12, minute)).toISOString(),
  author,
  said,
  undone_by,
});

test("what one person did of one sort without a pause is one line", () => {
  const entries = [
    made(50, "Wren", "answer"),
    made(49, "Wren", "answer"),
    made(48, "Ash", "answer"),
    made(47, "Ash", "space entered"),
    made(46, "Ash", "space entered"),
    made(10, "Ash", "space entered"),
  ];
  expect(grouped(entries).map((group) => group.length)).toEqual([2, 1, 2, 1]);
  expect(grouped(entries).flat()).toEqual(entries);
  expect(grouped([])).toEqual([]);
});

test("what was taken back stands by itself", () => {
  const entries = [made(3, "Wren", "answer"), made(2, "Wren", "answer", 9), made(1, "Wren", "answer")];
  expect(grouped(entries).map((group) => group.length)).toEqual([1, 1, 1]);
});
