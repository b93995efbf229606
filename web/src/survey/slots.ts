import type { Face, FaceBreaker } from "../api/client";

type Space = Face["spaces"][number];

/** What stands in one place of a space, as the taps put it together. */
export interface Slot {
  what: "breaker" | "free" | "unknown";
  poles: number;
  amps: number;
  asFound: boolean;
  type: string;
  /** Handle, tie, cable and shared neutral, as they are written: kept, not asked for. */
  rest: string;
  label: string;
}

/** How the bodies of a space lie, from the top down; each place with its poles. */
export type Body = "full" | "halves" | "pair-in-pair" | "two-in-pair" | "pair-between";

export const bodies: Record<Body, { word: string; places: [string, number][]; spaces: number }> = {
  full: { word: "full size", places: [["", 1]], spaces: 1 },
  halves: {
    word: "two halves",
    places: [
      ["Upper half", 1],
      ["Lower half", 1],
    ],
    spaces: 1,
  },
  "pair-between": {
    word: "4 halves, a pair in the middle",
    places: [
      ["Topmost half", 1],
      ["Two poles between", 2],
      ["Lowest half", 1],
    ],
    spaces: 2,
  },
  "pair-in-pair": {
    word: "4 halves, a pair in a pair",
    places: [
      ["Outer two poles", 2],
      ["Inner two poles", 2],
    ],
    spaces: 2,
  },
  "two-in-pair": {
    word: "4 halves, two in a pair",
    places: [
      ["Outer two poles", 2],
      ["Inner half, upper", 1],
      ["Inner half, lower", 1],
    ],
    spaces: 2,
  },
};

/** The halves that a body's places take, counted from the top. */
const taken: Record<Exclude<Body, "full">, number[][]> = {
  halves: [[0], [1]],
  "pair-between": [[0], [1, 2], [3]],
  "pair-in-pair": [
    [0, 3],
    [1, 2],
  ],
  "two-in-pair": [[0, 3], [1], [2]],
};

export function freshSlot(poles: number): Slot {
  return { what: "breaker", poles, amps: poles > 1 ? 30 : 20, asFound: false, type: "", rest: "", label: "" };
}

function slotOf(breaker: FaceBreaker): Slot {
  return {
    what: "breaker",
    poles: breaker.legs.length,
    amps: breaker.amps,
    asFound: breaker.as_found,
    type: breaker.device === "plain" ? "" : breaker.device,
    rest: breaker.rest,
    label: breaker.label,
  };
}

/** What stands in a space now; nothing where it lies so that only the notation can say it. */
export function standing(face: Face, space: Space): { body: Body; slots: Slot[] } | undefined {
  const below = face.spaces.find((s) => s.column === space.column && s.row === space.row + 1);
  const halves = [space, below].flatMap((s) => (s === undefined ? [] : [`${s.space}a`, `${s.space}b`]));
  const full = face.breakers.find((b) => b.at.split("-")[0] === String(space.space));
  if (full !== undefined) {
    return { body: "full", slots: [slotOf(full)] };
  }
  const here = face.breakers.filter((b) => b.at.split("-").some((at) => halves.slice(0, 2).includes(at)));
  if (here.length === 0) {
    return { body: "full", slots: [freshSlot(1)] };
  }
  const ties = here.some((b) => b.at.split("-").some((at) => !halves.slice(0, 2).includes(at)));
  const all = ties ? face.breakers.filter((b) => b.at.split("-").some((at) => halves.includes(at))) : here;
  const free = [...space.free, ...(below?.free ?? [])];
  for (const body of Object.keys(taken) as (keyof typeof taken)[]) {
    const slots = taken[body].map((places): Slot | undefined => {
      const at = places.map((nth) => halves[nth]);
      const found = all.find((b) => b.at === at.join("-"));
      if (found !== undefined) {
        return slotOf(found);
      }
      const [one] = at;
      const bare = places.length === 1 && one !== undefined && !all.some((b) => b.at.split("-").includes(one));
      return bare ? { ...freshSlot(1), what: free.includes(one) ? "free" : "unknown" } : undefined;
    });
    const placed = slots.filter((s) => s?.what === "breaker").length;
    if (bodies[body].spaces === (ties ? 2 : 1) && placed === all.length && slots.every((s) => s !== undefined)) {
      return { body, slots };
    }
  }
  return undefined;
}

function written(slot: Slot, quoted: boolean): string {
  if (slot.what !== "breaker") {
    return slot.what === "free" ? "-" : "?";
  }
  const label = slot.label.trim();
  // In quotes a label is never read as something else.
  const said = label === "" || !quoted ? label : `"${label.replaceAll('"', '""')}"`;
  const rating = `${slot.poles > 1 ? `${slot.poles}p` : ""}${slot.amps}${slot.asFound ? "!" : ""}`;
  return [rating, slot.type, slot.rest, said].filter((part) => part !== "").join(" ");
}

/** The short notation of what the taps put together; `quoted` as it is sent, otherwise as people read it. */
export function notation(body: Body, slots: Slot[], quoted: boolean): string {
  const [first = "", ...inner] = slots.map((slot) => written(slot, quoted));
  const around = body === "pair-in-pair" || body === "two-in-pair";
  return around ? `${first} (${inner.join(" / ")})` : [first, ...inner].join(" / ");
}
