import type { Noted } from "../parts/Undoable";

/** What was done on this device and still stands, newest last, by house: taken back one by one, whatever page is shown. */
const done = new Map<number, Noted[]>();
/** Houses where something of that was taken back: what is newest in their log may be that very taking back. */
const wentBack = new Set<number>();

export function noteDone(house: number, what: Noted) {
  done.set(house, [...(done.get(house) ?? []), what]);
}

/** The newest that still stands, or what is named; it counts as taken back from now on. */
export function takeNewest(house: number, named?: Noted): Noted | undefined {
  const all = done.get(house) ?? [];
  const what = named ?? all.at(-1);
  done.set(
    house,
    all.filter((d) => d !== what),
  );
  if (what !== undefined) {
    wentBack.add(house);
  }
  return what;
}

/** True where nothing was taken back yet, so that the newest change in the log is what somebody means. */
export function mayUndoNewest(house: number): boolean {
  return !wentBack.has(house);
}
