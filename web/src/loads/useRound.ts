import { useHouseView } from "../app/house";
import { useStored } from "../app/stored";

export type Way = "clamp" | "meter" | "plug";

/** Where a round stands, kept on this device through a reload. */
interface Kept {
  way: Way;
  started: boolean;
  /** What is off of what the house has: a new load counts as on. */
  off: number[];
  /** Places of the round that were read or passed over. */
  done: string[];
}

const fresh: Kept = { way: "clamp", started: false, off: [], done: [] };

function read(value: unknown): Kept | undefined {
  return typeof value === "object" && value !== null && "done" in value ? { ...fresh, ...(value as Kept) } : undefined;
}

/** A round of measuring: with what, what is on, and which places are done. */
export function useRound(breaker?: number) {
  const { id, house } = useHouseView();
  const [kept, keep] = useStored(`wayfinder.round.${id}`, fresh, read);
  const all = (house.loads ?? []).map((l) => l.id);
  return {
    way: kept.way,
    setWay: (way: Way) => keep({ ...kept, way }),
    started: kept.started,
    start: () => keep({ ...kept, started: true, done: [] }),
    end: () => keep({ ...kept, started: false, done: [] }),
    /** The one breaker that this round is about, if it is about one. */
    breaker,
    on: all.filter((load) => !kept.off.includes(load)),
    flip: (load: number, on: boolean) =>
      keep({ ...kept, off: on ? kept.off.filter((l) => l !== load) : [...kept.off, load] }),
    done: kept.done,
    pass: (place: string) => keep({ ...kept, done: [...kept.done.filter((p) => p !== place), place] }),
    back: () => keep({ ...kept, done: kept.done.slice(0, -1) }),
  };
}
