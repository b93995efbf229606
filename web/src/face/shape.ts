import type { Face, FaceBreaker } from "../api/client";

/** Where things stand on a drawn panel, in pixels: the core says the rows, here is how high and wide they are. */

/** Beside the bodies: the number engraved there, and the bar of what is proven. */
export const GUTTER = 27;
/** Between the columns: the letters of the legs. */
export const SPINE = 22;
/** Above the first row: the main. */
export const HEAD = 48;
/** A body from this height on has its words in two lines, and its rating over its handle. */
export const TALL = 31;
/** From this height on in three. */
const TALLER = 48;
/** Beside the words: the rating and the handle. */
export const AT_SPINE = 48;
/** From one line of words to the next. */
export const LEADING = 1.12;

/** Width of a body on a face of this width. */
export function bodyWidth(width: number): number {
  return (width - SPINE - 2 * GUTTER) / 2;
}

/** Lines of words that a body has room for. */
export function linesOf(height: number): number {
  return height >= TALLER ? 3 : height >= TALL ? 2 : 1;
}

/** A half-size body has its place in its own name. */
export function isHalf(breaker: FaceBreaker): boolean {
  return /[ab]/.test(breaker.at);
}

export function covers(breaker: FaceBreaker, column: string, row: number): boolean {
  return breaker.column === column && breaker.top < row * 2 + 2 && breaker.top + breaker.height > row * 2;
}

/** Where each half row begins, counted from the top. A row with half-size bodies grows where they need more. */
export function edges(face: Face, row: number, half: number): (halfRow: number) => number {
  const halves = face.breakers.filter(isHalf);
  const heights = Array.from({ length: face.rows }, (_, nth) =>
    halves.some((b) => covers(b, b.column, nth)) ? Math.max(row, 2 * half) : row,
  );
  return (halfRow) => {
    const whole = Math.floor(halfRow / 2);
    const above = heights.slice(0, whole).reduce((sum, height) => sum + height, HEAD);
    return above + ((halfRow % 2) * (heights[whole] ?? row)) / 2;
  };
}

/** What arrows go through, down one column and then the other: breakers by id, bare spaces by their number below nothing. */
export function inOrder(face: Face, bare: Face["spaces"], breakers: boolean, spaces: boolean): number[] {
  const places = [
    ...(breakers ? face.breakers.map((b) => ({ id: b.breaker, column: b.column, top: b.top })) : []),
    ...(spaces ? bare.map((s) => ({ id: -s.space, column: s.column, top: 2 * s.row })) : []),
  ];
  return places.sort((a, b) => a.column.localeCompare(b.column) || a.top - b.top).map((place) => place.id);
}

/** A breaker chosen, with the space it is written in. */
export function breakerAndSpace(face: Face, breaker: number): { breaker: number; space?: number } {
  const space = face.breakers.find((b) => b.breaker === breaker)?.at.match(/^\d+/)?.[0];
  return { breaker, ...(space === undefined ? {} : { space: Number(space) }) };
}

/** Where a line to or from a breaker meets it, on a face of this size. */
export function bodyEdge(breaker: FaceBreaker, row: number, width: number, side: "left" | "right") {
  const body = bodyWidth(width);
  const x = breaker.column === "left" ? GUTTER : GUTTER + body + SPINE;
  return { x: side === "left" ? x : x + body, y: HEAD + ((breaker.top + breaker.height / 2) * row) / 2 };
}
