import { useEffect, useRef } from "react";
import { useStored } from "../app/stored";

/** What is typed into. */
const TYPED = "input, textarea, select, [role=dialog], [role=listbox], [role=menu]";
/** What a key may be meant for that has the focus. */
const OTHERS = `${TYPED}, a, button, [tabindex="0"]`;
/** The work that the keys answer: on its own buttons they act too. */
const WORK = "[data-keys]";

/** True where nothing else has the focus that a key could be meant for: the page itself, its work area, or what is in that. */
function isFree(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) {
    return true;
  }
  const within = target.closest(WORK) !== null && target.closest("a") === null;
  return target.closest(within ? TYPED : OTHERS) === null;
}

const asOn = (value: unknown) => (typeof value === "boolean" ? value : undefined);

/** Whether single keys act at all: who speaks to the computer switches them off (WCAG 2.1.4). */
export function useSingleKeys() {
  return useStored("wayfinder.keys", true, asOn);
}

/** Single keys that act where the work area has the focus, as long as they are not switched off. */
export function useKeys(keys: Record<string, () => void>) {
  const [on] = useSingleKeys();
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    if (!on) {
      return;
    }
    const press = (event: KeyboardEvent) => {
      const act = newest.current[event.key.toLowerCase()];
      // A key held down acts once: what it would answer next was never read.
      if (
        act !== undefined &&
        !event.repeat &&
        !event.ctrlKey &&
        !event.metaKey &&
        !event.altKey &&
        isFree(event.target)
      ) {
        event.preventDefault();
        act();
      }
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, [on]);
}
