import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { type Complaint, type Crew, client, data, type LineKind, type Target } from "./client";

const path = (id: number) => ({ params: { path: { id } } });

/** The key under which everything read of a house is kept. */
export const houseKey = (id: number) => ["house", id] as const;

export function useHouses() {
  return useQuery({ queryKey: ["houses"], queryFn: () => data(client.GET("/api/v1/houses")) });
}

export function useHouse(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "document"],
    queryFn: () => data(client.GET("/api/v1/houses/{id}", path(id))),
  });
}

export function useBeliefs(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "beliefs"],
    queryFn: () => data(client.GET("/api/v1/houses/{id}/beliefs", path(id))),
    placeholderData: keepPreviousData,
  });
}

/** A breaker that must stay on, with the time until when, if any. */
function kept(breaker: number, times: Crew["keep_until"]): string {
  const until = times?.find((k) => k.breaker === breaker)?.until;
  return until === undefined ? String(breaker) : `${breaker}@${until}`;
}

function crewQuery(crew: Crew) {
  return {
    people: crew.people,
    testers: crew.testers,
    transmitter: crew.transmitter ?? false,
    radio: crew.radio ?? false,
    clamp: crew.clamp ?? false,
    monitor: crew.monitor ?? false,
    walking: crew.walking ?? 1,
    keep_on: (crew.keep_on ?? []).map((b) => kept(b, crew.keep_until)).join(","),
    pace: crew.pace ?? "even",
    method: crew.method ?? "adaptive",
  };
}

export function useAdvice(id: number, crew: Crew) {
  const query = crewQuery(crew);
  return useQuery({
    queryKey: [...houseKey(id), "advice", query],
    queryFn: () => data(client.GET("/api/v1/houses/{id}/advice", { params: { path: { id }, query } })),
  });
}

/** What to look at next in the step under way. */
export function useGuide(id: number, crew: Crew) {
  const query = crewQuery(crew);
  return useQuery({
    queryKey: [...houseKey(id), "guide", query],
    placeholderData: keepPreviousData,
    queryFn: () => data(client.GET("/api/v1/houses/{id}/guide", { params: { path: { id }, query } })),
  });
}

/** What each way would come to from here on; worked out anew at each step, not at each answer. */
export function useForecast(id: number, crew: Crew, step: number | undefined, enabled: boolean) {
  const query = crewQuery({ ...crew, method: "adaptive" });
  return useQuery({
    queryKey: ["forecast", id, query, step ?? 0],
    enabled,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    queryFn: () => data(client.GET("/api/v1/houses/{id}/forecast", { params: { path: { id }, query } })),
  });
}

/** Points whose observations disagree. */
export function useDoubts(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "doubts"],
    placeholderData: keepPreviousData,
    queryFn: () => data(client.GET("/api/v1/houses/{id}/doubts", path(id))),
  });
}

/** A run summed up. */
export function useReport(id: number, run: number | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "report", run],
    enabled: run !== undefined,
    queryFn: () =>
      data(client.GET("/api/v1/houses/{id}/runs/{run}/report", { params: { path: { id, run: run ?? 0 } } })),
  });
}

const faceOf = (id: number, panel: number) => ({
  queryKey: [...houseKey(id), "face", panel],
  queryFn: () => data(client.GET("/api/v1/houses/{id}/panels/{panel}/face", { params: { path: { id, panel } } })),
});

export function useFace(id: number, panel: number | undefined) {
  return useQuery({ ...faceOf(id, panel ?? 0), enabled: panel !== undefined, placeholderData: keepPreviousData });
}

/** Reads the face as it is now, shared with whoever reads it at the same time. */
export function useReadFace(id: number, panel: number) {
  const queries = useQueryClient();
  return () => queries.fetchQuery(faceOf(id, panel));
}

export function useHistory(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "history"],
    queryFn: () => data(client.GET("/api/v1/houses/{id}/history", path(id))),
  });
}

export function usePlan(id: number, floor: string | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "plan", floor],
    enabled: floor !== undefined,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(client.GET("/api/v1/houses/{id}/plans/{floor}", { params: { path: { id, floor: floor ?? "" } } })),
  });
}

export function useFind(id: number, q: string) {
  return useQuery({
    queryKey: [...houseKey(id), "find", q],
    enabled: q.trim() !== "",
    placeholderData: keepPreviousData,
    queryFn: () => data(client.GET("/api/v1/houses/{id}/find", { params: { path: { id }, query: { q } } })),
  });
}

export function useGlance(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "glance"],
    queryFn: () => data(client.GET("/api/v1/houses/{id}/glance", path(id))),
  });
}

export function useDueTests(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "tests"],
    queryFn: () => data(client.GET("/api/v1/houses/{id}/tests", path(id))),
  });
}

export interface LogFilter {
  kind?: LineKind;
  panel?: number;
  breaker?: number;
}

export function useLog(id: number, filter: LogFilter) {
  return useQuery({
    queryKey: [...houseKey(id), "log", filter],
    placeholderData: keepPreviousData,
    queryFn: () => data(client.GET("/api/v1/houses/{id}/log", { params: { path: { id }, query: filter } })),
  });
}

/** What must be off for this work. */
export function useShutdown(id: number, target: Target | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "shutdown", target],
    enabled: target !== undefined,
    placeholderData: keepPreviousData,
    queryFn: () =>
      data(client.POST("/api/v1/houses/{id}/shutdown", { ...path(id), body: target ?? { at: "points", points: [] } })),
  });
}

/** What may be the cause of this. */
export function useDiagnosis(id: number, complaint: Complaint) {
  return useQuery({
    queryKey: [...houseKey(id), "diagnosis", complaint],
    enabled: complaint.dead.length > 0,
    placeholderData: keepPreviousData,
    queryFn: () => data(client.POST("/api/v1/houses/{id}/diagnosis", { ...path(id), body: complaint })),
  });
}

export function useReset(id: number, breaker: number) {
  return useQuery({
    queryKey: [...houseKey(id), "reset", breaker],
    queryFn: () =>
      data(client.GET("/api/v1/houses/{id}/breakers/{breaker}/reset", { params: { path: { id, breaker } } })),
  });
}

export function useCatalog() {
  return useQuery({
    queryKey: ["catalog"],
    queryFn: () => data(client.GET("/api/v1/catalog")),
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** The load that is switched on at a point to see which current rises; nothing of it before the catalogue is read. */
export function useKnownLoad(): { watts: number | null; amps: number | null } {
  return useCatalog().data?.known_load ?? { watts: null, amps: null };
}

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: () => data(client.GET("/api/v1/session")) });
}

/** Reads everything of a house anew when another device changed it. */
export function useLive(id: number) {
  const queries = useQueryClient();
  useEffect(() => {
    let events: EventSource | undefined;
    const listen = () => {
      events?.close();
      events = new EventSource(`/api/v1/houses/${id}/events`);
      events.addEventListener("revision", (event) => {
        const known = queries.getQueryData<{ revision: number }>([...houseKey(id), "document"])?.revision;
        if (known !== Number(event.data)) {
          void queries.invalidateQueries({ queryKey: houseKey(id) });
        }
      });
    };
    // A page kept for "back" would hold its connection, and a browser opens only six to one place.
    const pause = () => events?.close();
    listen();
    window.addEventListener("pagehide", pause);
    window.addEventListener("pageshow", listen);
    return () => {
      window.removeEventListener("pagehide", pause);
      window.removeEventListener("pageshow", listen);
      events?.close();
    };
  }, [id, queries]);
}
