import { afterEach, expect, test, vi } from "vitest";
import { readAtOnce, readNumber } from "../src/api/numbers";

afterEach(() => vi.unstubAllGlobals());

test("plain digits are read at once, and nothing that could be read in two ways", () => {
  expect(readAtOnce("12.4", "A")).toEqual({ is: "read", value: 12.4, unit: "A" });
  expect(readAtOnce(" 9600 ", "W")).toEqual({ is: "read", value: 9600, unit: "W" });
  expect(readAtOnce("", "A")).toEqual({ is: "empty" });
  for (const text of ["9,600", "9.600", "7 kW", "fast", "-40", "1e5", "twelve"]) {
    expect(readAtOnce(text, "W"), text).toBeUndefined();
  }
});

test("out of reach only digits with one point are taken", async () => {
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no network")));
  expect(await readNumber("9.600", ["W"])).toEqual({ is: "read", value: 9.6, unit: "W" });
  for (const text of ["9,600", "7 kW", "fast"]) {
    expect((await readNumber(text, ["W"])).is, text).toBe("unread");
  }
});
