import { expect, test } from "vitest";
import { writeTape } from "../src/parts/tape";

test("inches are written as a tape shows them, and what no tape shows stays as it is", () => {
  expect([4.25, 9, 0.5, 11.9375, 4.3].map(writeTape)).toEqual(["4 1/4", "9", "1/2", "11 15/16", "4.3"]);
});
