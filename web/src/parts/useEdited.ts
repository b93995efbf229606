import { useState } from "react";
import { useRevisionSeen } from "../api/edits";
import { useHouseView } from "../app/house";

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/**
 * A thing being changed in a form. As long as nothing is typed it follows what others do; what was typed stays, and is sent
 * as a change of what stood there when it was begun, so that a clash is told and nothing of either is lost.
 */
export function useEdited<T>(thing: T) {
  const seen = useRevisionSeen(useHouseView().id);
  const [origin, setOrigin] = useState(thing);
  const [begun, setBegun] = useState(seen);
  const [draft, setDraft] = useState(thing);
  const begin = (from: T) => {
    setOrigin(from);
    setBegun(seen());
    setDraft(from);
  };
  if (!same(thing, origin) && (same(draft, origin) || same(draft, thing))) {
    begin(thing);
  }
  return {
    draft,
    set: (part: Partial<T>) => setDraft((old) => ({ ...old, ...part })),
    /** The revision that it is a change of. */
    base: begun,
    /** Others changed it since, and something else is typed here. */
    clashes: !same(thing, origin),
    /** What others made is taken, and what was typed goes. */
    takeTheirs: () => begin(thing),
    /** What is typed here stands against what others made. */
    keepMine: () => {
      setOrigin(thing);
      setBegun(seen());
    },
  };
}

export type Edited<T> = ReturnType<typeof useEdited<T>>;
