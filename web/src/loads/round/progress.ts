import type { Change, Round, RoundDone, RoundPlace } from "../../api/client";

/** A place of a round as a word that can be compared. */
export function placeKey({ place, of }: RoundPlace): string {
  return `${place.at} ${"breaker" in place ? place.breaker : "panel" in place ? place.panel : ""} ${of ?? ""}`;
}

function without(done: readonly RoundDone[], at: RoundPlace): RoundDone[] {
  return done.filter((d) => placeKey(d) !== placeKey(at));
}

function acted(round: Round, change: Change): Round {
  const done = round.done ?? [];
  const on = round.on ?? [];
  if (change.type === "note-reading" && change.reading.quantity.quantity === "amps") {
    const at = { place: change.reading.place, of: change.reading.quantity.of ?? null };
    return { ...round, done: [...without(done, at), { ...at, reading: change.reading.id }] };
  }
  if (change.type !== "go-round") {
    return round;
  }
  const { act } = change;
  switch (act.what) {
    case "ready":
      return { ...round, ready: true };
    case "asked":
      return { ...round, asked: act.load ?? null };
    case "passed":
      return { ...round, done: [...without(done, act.at), act.at] };
    case "back":
      return { ...round, done: done.slice(0, -1) };
    case "switched": {
      const others = on.filter((load) => !act.loads.includes(load));
      const asked = round.asked != null && act.loads.includes(round.asked);
      return {
        ...round,
        on: act.on ? [...others, ...act.loads] : others,
        ...(asked ? { asked: null, done: done.slice(0, -1) } : {}),
      };
    }
  }
}

/** A round as it stands once what this device has kept is taken too: the core does the same when it hears of it. */
export function afterChanges(round: Round, changes: readonly Change[]): Round {
  return changes.reduce(acted, round);
}
