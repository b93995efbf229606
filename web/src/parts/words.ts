import type { Breaker, BreakerRef, FaceBreaker, House, Point, PointBelief, Schemas, Seen, Way } from "../api/client";
import { words } from "../api/core.gen.json";

/** Words on screen for the values of the API; those of closed lists are made in the core. */

export const seenWord: Record<Seen, string> = words.Seen;
export const wayWord: Record<Way, string> = words.Way;
export const deviceWord: Record<Schemas["Device"], string> = { ...words.Device, plain: "" };
export const hintWord: Record<Schemas["HintKind"], string> = words.HintKind;
export const methodWord: Record<Schemas["Method"], string> = words.Method;
export const mindWord: Record<Schemas["Mind"], string> = words.Mind;
export const paceWord: Record<Schemas["Pace"], string> = words.Pace;
export const faultWord: Record<Schemas["Fault"], string> = words.Fault;
export const mannerWord: Record<Schemas["TripManner"], string> = words.TripManner;
export const signWord: Record<Schemas["Sign"], string> = words.Sign;
export const statusWord: Record<PointBelief["status"], string> = words.Status;

export const habitWord: Record<Schemas["Habit"], string> = words.Habit;
export const loadKindWord: Record<Schemas["LoadKind"], string> = words.LoadKind;
export const instrumentWord: Record<Schemas["Instrument"], string> = words.Instrument;
export const complainsWord: Record<Schemas["Complains"], string> = words.Complains;

export const stageWord: Record<Schemas["Stage"], string> = words.Stage;
export const severityWord: Record<Schemas["Severity"], string> = words.Severity;
export const schoolWord: Record<Schemas["School"], string> = words.School;
export const tagKindWord: Record<Schemas["TagKind"], string> = words.TagKind;
export const mendsWord: Record<Schemas["Who"], string> = words.Who;
export const lookWhereWord: Record<Schemas["LookWhere"], string> = words.LookWhere;
export const sawWord: Record<Schemas["Saw"], string> = words.Saw;
export const outcomeWord: Record<Schemas["Outcome"], string> = words.Outcome;

/** A breaker as the API names it. */
export function named(house: House, breaker: Breaker): BreakerRef {
  const panel = house.panels.find((p) => p.id === breaker.panel)?.name ?? "";
  return { breaker: breaker.id, panel, at: breaker.at.join("-") };
}

/** How a matter of a rule's severity is shown. */
export const alertOf: Record<Schemas["Severity"], "error" | "warning" | "info"> = {
  danger: "error",
  mend: "warning",
  improve: "info",
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

/** Without its capital, to stand in the middle of a sentence. */
export function uncapital(words: string): string {
  return words.charAt(0).toLowerCase() + words.slice(1);
}

/** With a capital, to begin a sentence or a button. */
export function capital(words: string): string {
  return words.charAt(0).toUpperCase() + words.slice(1);
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
      return belief.verdict.level === "danger" ? `DANGER: ${belief.verdict.short}` : belief.verdict.short;
    case "two-handles":
      return twoHandles(house, belief);
    case "unknown":
      return "not known";
  }
}
