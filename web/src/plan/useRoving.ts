import { type KeyboardEvent, useRef, useState } from "react";

const arrows: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
};

interface Acts {
  /** Takes hold of it. */
  choose: () => void;
  /** Moves it by steps; what cannot be moved has none. */
  nudge?: (right: number, down: number) => void;
}

/**
 * One tab stop for all things of a kind: arrows go from one to the next, Enter takes hold of one. What is held is moved
 * by the arrows, and Escape lets go.
 */
export function useRoving<Kind extends string>(things: Record<Kind, number[]>, letGo: () => void) {
  const [last, setLast] = useState<Partial<Record<Kind, number>>>({});
  const drawn = useRef(new Map<string, SVGGElement>());
  const stop = (kind: Kind) => {
    const at = last[kind];
    return at !== undefined && things[kind].includes(at) ? at : things[kind][0];
  };
  const go = (kind: Kind, id: number, by: number) => {
    const all = things[kind];
    const next = all[(all.indexOf(id) + by + all.length) % all.length];
    drawn.current.get(`${kind}-${next}`)?.focus();
  };
  return (kind: Kind, id: number, held: boolean, { choose, nudge }: Acts) => ({
    tabIndex: stop(kind) === id ? 0 : -1,
    ref: (element: SVGGElement | null) => {
      if (element === null) {
        drawn.current.delete(`${kind}-${id}`);
      } else {
        drawn.current.set(`${kind}-${id}`, element);
      }
    },
    onFocus: () => setLast((old) => (old[kind] === id ? old : { ...old, [kind]: id })),
    onKeyDown: (event: KeyboardEvent) => {
      const by = arrows[event.key];
      if (by !== undefined) {
        event.preventDefault();
        if (held && nudge !== undefined) {
          nudge(by[0], by[1]);
        } else {
          go(kind, id, by[0] + by[1]);
        }
      } else if (event.key === "Enter" || event.key === " ") {
        event.preventDefault();
        choose();
      } else if (event.key === "Escape" && held) {
        letGo();
      }
    },
  });
}
