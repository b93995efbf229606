import type { Crew, House } from "../api/client";
import { usual_crew } from "../api/core.gen.json";
import { useStored } from "../app/stored";

const usualCrew = usual_crew as Crew;

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
  const keptOn = (crew.keep_on ?? []).filter((b) => known.has(b));
  return [keepingOn(crew, keptOn), keep];
}

/** The same crew with just these kept on; the times of others go. */
export function keepingOn(crew: Crew, breakers: number[]): Crew {
  const times = (crew.keep_until ?? []).filter((k) => breakers.includes(k.breaker));
  return { ...crew, keep_on: breakers, keep_until: times };
}

/** The run of tracing that goes on. */
export function openRun(house: House) {
  return house.runs?.find((r) => r.id === house.run_now && r.round == null);
}

/** A round of measuring goes on. */
export function isMeasuring(house: House): boolean {
  return house.run_now != null && openRun(house) === undefined;
}
