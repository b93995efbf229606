import { useEffect, useRef } from "react";
import { useLocation } from "react-router";
import { pageAt } from "./pages";

/** Moves the title with the page, and the focus too, so that who listens or types goes on at the new page's beginning. */
export function usePageFocus<T extends HTMLElement>(house: string) {
  const { pathname } = useLocation();
  const page = pageAt(pathname);
  const main = useRef<T>(null);
  const shown = useRef(page);
  useEffect(() => {
    document.title = `${page?.label ?? "House"}: ${house}`;
    if (shown.current !== page) {
      shown.current = page;
      main.current?.focus();
    }
  }, [page, house]);
  return main;
}
