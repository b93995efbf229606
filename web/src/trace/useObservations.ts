import type { Ask, Fault, House, Observation, Point } from "../api/client";
import { newId, useRevisionSeen } from "../api/edits";
import { newKey } from "../api/newKey";
import type { useOutbox } from "../api/outbox";
import { author } from "../app/who";
import type { Noted } from "../parts/Undoable";

interface Of {
  id: number;
  house: House;
  outbox: ReturnType<typeof useOutbox>;
  note: (what: Noted) => void;
}

/** Observations, each kept on this device first. */
export function useObservations({ id, house, outbox, note }: Of) {
  const revisionSeen = useRevisionSeen(id);
  const step = house.step;

  const keep = (point: Point, observation: Observation, inStep: boolean): number => {
    const evidence = {
      id: newId(),
      point: point.id,
      time: new Date().toISOString(),
      who: author(),
      step: inStep ? (step?.id ?? null) : null,
      observation,
    };
    // Kept on this device first: a walk through a dead corner of the house loses nothing.
    void outbox.put({ type: "record", evidence }, revisionSeen(), author(), newKey());
    return evidence.id;
  };

  const record = (point: Point, observations: Observation[], text: string, inStep = true) => {
    const evidence = observations.map((o) => keep(point, o, inStep));
    note({ text, answer: { evidence, point: point.id } });
  };

  /** What was found when the switch or device was tried. */
  const tried = (ask: Ask, point: Point, wasOff: boolean) => {
    const cause = ask.check === "device" ? ("device" as const) : ("switch" as const);
    const off = house.step?.off ?? null;
    record(
      point,
      [{ what: "tried", cause, was_off: wasOff, off }],
      `${point.tag}: ${wasOff ? "power now" : "still dark"}`,
    );
  };

  const pointed = (point: Point, breaker: number) =>
    record(point, [{ what: "pointed", at: breaker }], `${point.tag}: receiver noted`, false);

  /** A known load was switched on: the current of a breaker rose by so much. */
  const rose = (point: Point, at: number, expected: number, by: number) =>
    record(point, [{ what: "rise", at, expected, rose: by }], `${point.tag}: rise noted`, false);

  /** No current rose: on none of the wires clamped, or, where all are watched, nothing feeds the point. */
  const noRise = (point: Point, clamped: number[], expected: number) => {
    const none: Observation[] = clamped.map((at) => ({ what: "rise", at, expected, rose: 0 }));
    const dead: Observation = { what: "power", off: [], seen: "dead", how: "meter" };
    record(point, none.length > 0 ? none : [dead], `${point.tag}: no rise`, false);
  };

  const fault = (point: Point, what: Fault) =>
    record(point, [{ what: "fault", fault: what }], `${point.tag}: fault noted`, false);

  return { keep, record, tried, pointed, rose, noRise, fault };
}
