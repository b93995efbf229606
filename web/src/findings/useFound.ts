import { useMemo } from "react";
import { useAudit } from "../api/reads";
import { severityWord } from "../parts/words";

/** What is found at each breaker and each point, in words, for the drawings: the gravest, as findings come in that order. */
export function useFound(id: number, enabled = true) {
  const findings = useAudit(id, enabled).data?.findings;
  return useMemo(() => {
    const breakers = new Map<number, string>();
    const points = new Map<number, string>();
    for (const { breaker, point, severity } of findings?.filter((f) => f.severity !== "improve") ?? []) {
      if (point != null) {
        points.set(point, points.get(point) ?? severityWord[severity]);
      } else if (breaker != null) {
        breakers.set(breaker, breakers.get(breaker) ?? severityWord[severity]);
      }
    }
    return { breakers, points };
  }, [findings]);
}
