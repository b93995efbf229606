import { useMemo, useSyncExternalStore } from "react";

/** Told when a setting of this page changes; other pages of the browser are heard by its own event. */
const listeners = new Set<() => void>();

function subscribe(listener: () => void) {
  listeners.add(listener);
  window.addEventListener("storage", listener);
  return () => {
    listeners.delete(listener);
    window.removeEventListener("storage", listener);
  };
}

/** A setting of this device that outlives the page, the same wherever it is used. */
export function useStored<T>(key: string, usual: T, read: (value: unknown) => T | undefined): [T, (value: T) => void] {
  const text = useSyncExternalStore(subscribe, () => localStorage.getItem(key));
  const value = useMemo(() => {
    try {
      return read(JSON.parse(text ?? "null")) ?? usual;
    } catch {
      return usual;
    }
  }, [text, usual, read]);
  const store = (next: T) => {
    localStorage.setItem(key, JSON.stringify(next));
    for (const listener of listeners) {
      listener();
    }
  };
  return [value, store];
}
