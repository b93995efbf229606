import { useEffect, useRef } from "react";

/** True where a key is being typed into something. */
function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement && target.closest("input, textarea, select, [role=dialog], [role=listbox]") !== null
  );
}

/** Keys that act wherever nothing is being typed. */
export function useKeys(keys: Record<string, () => void>) {
  const newest = useRef(keys);
  newest.current = keys;
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      const act = newest.current[event.key.toLowerCase()];
      // A key held down acts once: what it would answer next was never read.
      if (
        act !== undefined &&
        !event.repeat &&
        !event.ctrlKey &&
        !event.metaKey &&
        !event.altKey &&
        !isTyping(event.target)
      ) {
        event.preventDefault();
        act();
      }
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, []);
}
