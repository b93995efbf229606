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

/** What outlives a reload of the page. */
type Keeping = Pick<Storage, "getItem" | "setItem">;

/** A page that is loaded anew knows what was lost before. */
function kept<T>(name: string, storage: Keeping | undefined): Map<string, Lost<T>> {
  try {
    return new Map(JSON.parse(storage?.getItem(name) ?? "[]") as [string, Lost<T>][]);
  } catch {
    return new Map();
  }
}

/**
 * A second try after a lost answer is the same request: with its ids and under its key, so that it counts once, after a reload of
 * the page as well. The same wish after an answer is a new one.
 */
export function secondTries<T>(
  of: string,
  now: () => number = Date.now,
  storage: Keeping | undefined = globalThis.sessionStorage,
) {
  const name = `wayfinder.lost.${of}`;
  const lost = kept<T>(name, storage);
  const keep = () => {
    try {
      storage?.setItem(name, JSON.stringify([...lost]));
    } catch {
      // No room: what is lost is known as long as the page stands.
    }
  };
  return {
    /** What to send, and under which key. */
    sending(body: T): { body: T; key: string } {
      const known = lost.get(wish(body));
      return known !== undefined && now() - known.at < SAME_WISH ? known : { body, key: newKey() };
    },
    lost(body: T, key: string) {
      lost.set(wish(body), { body, key, at: now() });
      keep();
    },
    answered(body: T) {
      const wished = wish(body);
      // After a reload the ids of what was sent before are fresh no more: it is known by itself.
      const done = [...lost].filter(([known, { body: sent }]) => known === wished || sent === body);
      for (const [known] of done) {
        lost.delete(known);
      }
      if (done.length > 0) {
        keep();
      }
      isThere(body);
    },
  };
}
