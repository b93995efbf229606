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
 * One tab stop for a whole drawing: arrows go from one thing to the next, kind after kind, Enter takes hold of one. What is
 * held is moved by the arrows, and Escape lets go.
 */
export function useRoving<Kind extends string>(things: Record<Kind, number[]>, letGo: () => void) {
  const [last, setLast] = useState<string>();
  const drawn = useRef(new Map<string, SVGGElement>());
  const all = (Object.keys(things) as Kind[]).flatMap((kind) => things[kind].map((id) => `${kind} ${id}`));
  const stop = last !== undefined && all.includes(last) ? last : all[0];
  const go = (key: string, by: number) => {
    const next = all[(all.indexOf(key) + by + all.length) % all.length];
    drawn.current.get(next ?? "")?.focus();
  };
  const of = (key: string, held: boolean, { choose, nudge }: Acts) => ({
    tabIndex: stop === key ? 0 : -1,
    ref: (element: SVGGElement | null) => {
      if (element === null) {
        drawn.current.delete(key);
      } else {
        drawn.current.set(key, element);
      }
    },
    onFocus: () => setLast(key),
    onKeyDown: (event: KeyboardEvent) => {
      const by = arrows[event.key];
      if (by !== undefined) {
        event.preventDefault();
        if (held && nudge !== undefined) {
          nudge(by[0], by[1]);
        } else {
          go(key, by[0] + by[1]);
        }
      } else if (event.key === "Enter" || event.key === " ") {
        event.preventDefault();
        choose();
      } else if (event.key === "Escape" && held) {
        letGo();
      }
    },
  });
  return (kind: Kind, id: number, held: boolean, acts: Acts) => of(`${kind} ${id}`, held, acts);
}
