import { expect, test } from "vitest";
import type { PlanView } from "../src/api/client";
import { nearest } from "../src/plan/marks";

const at = (x: number, y: number) => ({ x, y, em: [0, 0] });
const point = (id: number, x: number) => ({
  point: id,
  mark: { middle: at(x, 0), tag: at(x, 200), frame: at(x, 200), frame_width: 0 },
});

/** Two points 20 px apart, and a door whose middle is at 100 px; at two inches to a pixel. */
const view = {
  points: [point(1, 0), point(2, 40)],
  openings: [{ opening: 9, from: [180, 0], to: [220, 0] }],
} as unknown as PlanView;
const px = (pixels: number) => 2 * pixels;

test("where reaches overlap a finger means the mark that is nearer, whichever was drawn last", () => {
  expect(nearest(view, [18, 0], px)).toEqual({ point: 1 });
  expect(nearest(view, [22, 0], px)).toEqual({ point: 2 });
});

test("a door's line is as easy to hit, and 22 px away nothing is meant", () => {
  expect(nearest(view, [200, 43], px)).toEqual({ opening: 9 });
  expect(nearest(view, [200, 45], px)).toBeUndefined();
});

test("the label is hit as well as the symbol", () => {
  expect(nearest(view, [0, 204], px)).toEqual({ point: 1 });
});
