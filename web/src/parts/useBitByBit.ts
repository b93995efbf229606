import { startTransition, useEffect, useState } from "react";

/** How many of a long list are drawn by now: some at once, then as many again, so that a finger never waits for all of them. */
export function useBitByBit(total: number, some: number): number {
  const [drawn, setDrawn] = useState(some);
  useEffect(() => {
    if (drawn < total) {
      const soon = setTimeout(() => startTransition(() => setDrawn(drawn + some)));
      return () => clearTimeout(soon);
    }
  }, [drawn, total, some]);
  return Math.min(drawn, total);
}
