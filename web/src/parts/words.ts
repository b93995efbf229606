import type {
  Breaker,
  BreakerRef,
  FaceBreaker,
  House,
  Missing,
  Point,
  PointBelief,
  Schemas,
  Seen,
  Way,
} from "../api/client";

/** Words on screen for the values of the API. */

export const seenWord: Record<Seen, string> = { live: "LIVE", dead: "DEAD", unsure: "NOT SURE" };

export const wayWord: Record<Way, string> = {
  tester: "tester",
  lamp: "plugged-in lamp",
  light: "the light itself",
  radio: "radio",
  meter: "meter",
  word: "somebody's word",
};

export const deviceWord: Record<Schemas["Device"], string> = {
  plain: "",
  gfci: "GFCI",
  afci: "AFCI",
  dual: "AFCI+GFCI",
  fuse: "fuse",
};

/** The same where there is room for a letter or two. */
export const deviceMark: Record<Schemas["Device"], string> = {
  plain: "",
  gfci: "GF",
  afci: "AF",
  dual: "AG",
  fuse: "F",
};

const missingWord: Record<Missing, string> = {
  certainty: "more readings, to be sure enough",
  "seen-dead": "to be seen dead with its breaker off",
  "seen-back": "to be seen coming back when that is on again",
  "told-apart": "a look with its breaker off and those that it may be taken for on",
};

/** What a point still needs. To be seen dead or coming back takes more readings anyway: that alone is said of it. */
export function needed(missing: Missing[]): string {
  const owed = missing.filter((m) => m !== "certainty");
  const seen = owed.includes("seen-dead") ? owed.filter((m) => m !== "told-apart") : owed;
  return (seen.length > 0 ? seen : missing).map((m) => missingWord[m]).join(", and ");
}

export const hintWord: Record<Schemas["HintKind"], string> = {
  rating: "its rating and poles",
  "feeds-panel": "it feeds a panel",
  "label-names-thing": "the old label names this thing",
  "label-names-room": "the old label names this room",
  "label-names-kind": "the kind of thing on the old label",
  "label-names-other": "the old label names something else",
  "label-says-spare": "the old label says spare",
  neighbours: "what is known of its neighbours",
};

export const methodWord: Record<Schemas["Method"], string> = {
  adaptive: "what tells most next",
  "one-at-a-time": "one breaker at a time",
  transmitter: "transmitter and receiver",
  halving: "fixed halving rounds",
};

export const paceWord: Record<Schemas["Pace"], string> = {
  fast: "fast: many off at once",
  even: "even: a few off at once",
  gentle: "gentle: three off at most",
};

export const faultWord: Record<Schemas["Fault"], string> = {
  "open-ground": "no ground",
  "open-neutral": "no neutral",
  "open-hot": "no power, all breakers on",
  "hot-ground-reversed": "hot and ground exchanged",
  "hot-neutral-reversed": "hot and neutral exchanged",
  scorched: "scorched, melted or hot",
  loose: "loose or broken",
};

export const storyWord: Record<Schemas["StoryKind"], string> = {
  "two-circuits": "Fed by two circuits at once: dead only with both off. A fault, and a danger to whoever trusts one",
  "either-circuit": "Goes dead with either: two circuits in one box or on one neutral, or it needs both",
  elsewhere: "Fed from elsewhere: it stays live whatever is off here. Stop, and call an electrician",
  "dead-anyway": "Has no power anyway",
  "changed-since": "Was changed in between: first on one, later on the other",
};

function often(times: number): string {
  return times === 1 ? "once" : times === 2 ? "twice" : `${times} times`;
}

/** A reason for a belief, as half a sentence. */
export function whyWord(why: Schemas["Because"]): string {
  switch (why.why) {
    case "dead-with":
      return `it went dead with the breaker off (${often(why.times)})`;
    case "alive-without":
      return `it stayed live while others were off (${often(why.times)})`;
    case "against":
      return `${why.times === 1 ? "one reading disagrees" : `${why.times} readings disagree`}`;
    case "pointed":
      return "the receiver pointed there";
    case "measured":
      return "the current or the wire says so";
    case "label-agrees":
      return "the old label says so";
    case "label-disagrees":
      return "though the old label says something else";
    case "neighbours":
      return "points near by hang there";
    case "guess":
      return "a guess so far; nobody looked";
  }
}

/** A breaker as the API names it. */
export function named(house: House, breaker: Breaker): BreakerRef {
  const panel = house.panels.find((p) => p.id === breaker.panel)?.name ?? "";
  return { breaker: breaker.id, panel, at: breaker.at.join("-") };
}

/** The panel's name is told only where there is more than one panel. */
export function breakerName(house: House, at: BreakerRef): string {
  return house.panels.length > 1 ? `${at.panel} ${at.at}` : at.at;
}

export function roomName(house: House, point: Point): string {
  return house.rooms.find((r) => r.id === point.room)?.name ?? "";
}

export function pointName(point: Point): string {
  return point.name === undefined || point.name === "" ? point.kind : point.name;
}

/** A number of things: "1 order", "2 orders". */
export function count(n: number, thing: string): string {
  return `${n} ${thing}${n === 1 ? "" : "s"}`;
}

/** Hours and minutes, as the device writes them. */
export function timeOfDay(time: Date): string {
  return time.toLocaleTimeString([], { hour: "2-digit", minute: "2-digit" });
}

export function percent(p: number): string {
  const value = p * 100;
  if (value > 0 && value < 1) {
    return "<1 %";
  }
  return value > 99 && value < 100 ? ">99 %" : `${Math.round(value)} %`;
}

export function amps(breaker: Breaker | FaceBreaker): string {
  return `${breaker.amps} A`;
}

/** Both handles of a thing on two single-pole breakers. */
export function twoHandles(house: House, belief: PointBelief): string {
  return (belief.two_handles?.breakers ?? []).map((b) => breakerName(house, b)).join(" and ");
}

/** What is believed of a point, in a few words. */
export function standing(house: House, belief: PointBelief): string {
  const first = belief.candidates[0];
  switch (belief.status) {
    case "proven":
      return first === undefined ? "proven" : breakerName(house, first);
    case "likely":
      return first === undefined ? "likely" : `${breakerName(house, first)} ?`;
    case "no-breaker":
      return belief.elsewhere > belief.no_power ? "DANGER: stays live" : "no power found";
    case "two-handles":
      return twoHandles(house, belief);
    case "unknown":
      return "not known";
  }
}
