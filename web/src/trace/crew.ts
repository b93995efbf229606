import type { Crew, House } from "../api/client";
import { useStored } from "../stored";

export const usualCrew: Crew = {
  people: 1,
  testers: 1,
  transmitter: false,
  keep_on: [],
  pace: "even",
  method: "adaptive",
};

function read(value: unknown): Crew | undefined {
  if (typeof value !== "object" || value === null || !("keep_on" in value)) {
    return undefined;
  }
  return { ...usualCrew, ...(value as Partial<Crew>) };
}

/** The crew of the run that goes on, or else the one last used on this device for this house. */
export function useCrew(id: number, house: House): [Crew, (crew: Crew) => void] {
  const [kept, keep] = useStored(`wayfinder.crew.${id}`, usualCrew, read);
  const known = new Set(house.breakers.map((b) => b.id));
  const crew = openRun(house)?.crew ?? kept;
  return [{ ...crew, keep_on: (crew.keep_on ?? []).filter((b) => known.has(b)) }, keep];
}

/** The run that goes on. */
export function openRun(house: House) {
  return house.runs?.find((r) => r.ended === undefined || r.ended === null);
}
