import { useEffect, useState } from "react";

const PREFIX = "wayfinder.half.";

/** A field of a form that is half filled: a reload of the page keeps it, closing the page does not. */
export function useHalf<T>(form: string, field: string, empty: T): [T, (value: T) => void] {
  const key = `${PREFIX}${form}.${field}`;
  const [value, setValue] = useState<T>(() => {
    const kept = sessionStorage.getItem(key);
    return kept === null ? empty : (JSON.parse(kept) as T);
  });
  const set = (next: T) => {
    setValue(next);
    keepHalf(form, field, next);
  };
  return [value, set];
}

/** Fills a field of a form that is opened next. */
export function keepHalf<T>(form: string, field: string, value: T) {
  sessionStorage.setItem(`${PREFIX}${form}.${field}`, JSON.stringify(value));
}

/** A form that is left begins anew next time; only a reload of the page keeps what was typed. */
export function useLeft(form: string) {
  useEffect(() => () => forgetHalf(form), [form]);
}

/** The form was sent: it begins empty next time. */
export function forgetHalf(form: string) {
  for (const key of Object.keys(sessionStorage)) {
    if (key.startsWith(`${PREFIX}${form}.`)) {
      sessionStorage.removeItem(key);
    }
  }
}
