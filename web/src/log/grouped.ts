/** What a line of the list of changes is made from. */
interface Made {
  time: string;
  author: string;
  said: string;
  undone_by?: number | null;
  undoes?: number | null;
}

/** A pause longer than this begins a new line. */
const PAUSE_MS = 30 * 60_000;

/** Changes of one sort that one person made without a pause, together: newest first, as they come. */
export function grouped<T extends Made>(entries: readonly T[]): T[][] {
  const groups: T[][] = [];
  for (const entry of entries) {
    const last = groups.at(-1)?.at(-1);
    const goesOn =
      last !== undefined &&
      last.author === entry.author &&
      last.said === entry.said &&
      [last, entry].every((e) => e.undone_by == null && e.undoes == null) &&
      Date.parse(last.time) - Date.parse(entry.time) <= PAUSE_MS;
    if (goesOn) {
      groups.at(-1)?.push(entry);
    } else {
      groups.push([entry]);
    }
  }
  return groups;
}
