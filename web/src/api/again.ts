import { newKey } from "./newKey";

/** A request whose answer was lost: it may have been done. */
interface Lost<T> {
  body: T;
  key: string;
  at: number;
}

/** After so long a person means something else, in ms. */
const SAME_WISH = 10 * 60_000;
const TIME = /^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/;

/** Ids given out on this page that no answered request held: each press makes them anew. All others mean a thing that is there. */
const fresh = new Set<number>();

/** Notes ids as given out for new things. */
export function issued(first: number, count: number) {
  for (let id = first; id < first + count; id++) {
    fresh.add(id);
  }
}

/** What is wished for, without what every press makes anew. */
function wish(body: unknown): string {
  return JSON.stringify(body, (_, value: unknown) =>
    typeof value === "number" && fresh.has(value)
      ? "id"
      : typeof value === "string" && TIME.test(value)
        ? "time"
        : value,
  );
}

/** What it made is there now. */
function isThere(body: unknown) {
  JSON.stringify(body, (_, value: unknown) => {
    if (typeof value === "number") {
      fresh.delete(value);
    }
    return value;
  });
}

/**
 * A second try after a lost answer is the same request: with its ids and under its key, so that it counts once.
 * The same wish after an answer is a new one.
 */
export function secondTries<T>(now: () => number = Date.now) {
  const lost = new Map<string, Lost<T>>();
  return {
    /** What to send, and under which key. */
    sending(body: T): { body: T; key: string } {
      const known = lost.get(wish(body));
      return known !== undefined && now() - known.at < SAME_WISH ? known : { body, key: newKey() };
    },
    lost(body: T, key: string) {
      lost.set(wish(body), { body, key, at: now() });
    },
    answered(body: T) {
      lost.delete(wish(body));
      isThere(body);
    },
  };
}
