import type { Crew } from "../api/reads";
import { useStored } from "../stored";

const usual: Crew = { people: 1, transmitter: false, keepOn: [] };

function read(value: unknown): Crew | undefined {
  if (typeof value !== "object" || value === null) {
    return undefined;
  }
  const { people, transmitter, keepOn } = value as Record<string, unknown>;
  return {
    people: people === 2 ? 2 : 1,
    transmitter: transmitter === true,
    keepOn: Array.isArray(keepOn) ? keepOn.filter((id) => typeof id === "number") : [],
  };
}

/** The people and tools at hand, kept on this device for each house. */
export function useCrew(house: number): [Crew, (crew: Crew) => void] {
  return useStored(`wayfinder.crew.${house}`, usual, read);
}
