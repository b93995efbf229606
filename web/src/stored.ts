import { useState } from "react";

/** A setting of this device that outlives the page. */
export function useStored<T>(key: string, usual: T, read: (value: unknown) => T | undefined): [T, (value: T) => void] {
  const [value, setValue] = useState<T>(() => {
    try {
      return read(JSON.parse(localStorage.getItem(key) ?? "null")) ?? usual;
    } catch {
      return usual;
    }
  });
  const store = (next: T) => {
    localStorage.setItem(key, JSON.stringify(next));
    setValue(next);
  };
  return [value, store];
}
