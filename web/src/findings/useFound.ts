import type { Schemas } from "../api/client";
import { useAudit } from "../api/reads";

type Severity = Schemas["Severity"];

/** What is found at each breaker and each point, for the drawings: the gravest, as the findings come in that order. */
export function useFound(id: number, enabled = true) {
  const findings = useAudit(id, enabled).data?.findings ?? [];
  const breakers = new Map<number, Severity>();
  const points = new Map<number, Severity>();
  for (const { breaker, point, severity } of findings.filter((f) => f.severity !== "improve")) {
    if (point != null) {
      points.set(point, points.get(point) ?? severity);
    } else if (breaker != null) {
      breakers.set(breaker, breakers.get(breaker) ?? severity);
    }
  }
  return { breakers, points };
}
