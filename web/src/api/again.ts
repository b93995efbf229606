import { newKey } from "./newKey";

/** A request whose answer was lost: it may have been done. */
interface Lost<T> {
  body: T;
  key: string;
  at: number;
}

/** After so long a person means something else, in ms. */
const SAME_WISH = 10 * 60_000;
/** Ids of new things are larger than any other number: they are made anew at each press. */
const NEW_ID = 2 ** 40;
const TIME = /^\d{4}-\d{2}-\d{2}T[\d:.]+Z$/;

/** What is wished for, without what every press makes anew. */
function wish(body: unknown): string {
  return JSON.stringify(body, (_, value: unknown) =>
    typeof value === "number" && value > NEW_ID ? "id" : typeof value === "string" && TIME.test(value) ? "time" : value,
  );
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
    },
  };
}
