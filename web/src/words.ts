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
} from "./api/client";

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

export const missingWord: Record<Missing, string> = {
  certainty: "more readings, to be sure enough",
  "seen-dead": "to be seen dead with this breaker off",
  "seen-back": "to be seen coming back when it is on again",
};

export const hintWord: Record<Schemas["HintKind"], string> = {
  rating: "its rating and poles",
  "feeds-panel": "it feeds a panel",
  "label-names-thing": "the old label names this thing",
  "label-names-room": "the old label names this room",
  "label-names-kind": "the kind of thing on the old label",
  "label-names-other": "the old label names something else",
  "label-says-spare": "the old label says spare",
};

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

export function percent(p: number): string {
  const value = p * 100;
  return value > 99 && value < 100 ? ">99 %" : `${Math.round(value)} %`;
}

export function amps(breaker: Breaker | FaceBreaker): string {
  return `${breaker.amps} A`;
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
    case "unknown":
      return "not known";
  }
}
