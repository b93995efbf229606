import { keepPreviousData, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import {
  type Complaint,
  type Crew,
  client,
  type Drawn,
  data,
  type LineKind,
  type Schemas,
  type Target,
} from "./client";

/** A read of a house; what is no longer wanted is cancelled. */
interface Wanted {
  signal: AbortSignal;
}
const path = (id: number, { signal }: Wanted) => ({ params: { path: { id } }, signal });

/** The key under which everything read of a house is kept. */
export const houseKey = (id: number) => ["house", id] as const;

export function useHouses() {
  return useQuery({ queryKey: ["houses"], queryFn: ({ signal }) => data(client.GET("/api/v1/houses", { signal })) });
}

export function useHouse(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "document"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}", path(id, wanted))),
  });
}

const beliefsOf = (id: number) => ({
  queryKey: [...houseKey(id), "beliefs"],
  queryFn: (wanted: Wanted) => data(client.GET("/api/v1/houses/{id}/beliefs", path(id, wanted))),
});

/** What feeds every point, with the likeliest candidates. */
export function useBeliefs(id: number, enabled = true) {
  return useQuery({ ...beliefsOf(id), enabled, placeholderData: keepPreviousData });
}

/** What is believed of one point, with every reason. */
export function useBelief(id: number, point: number | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "belief", point],
    enabled: point !== undefined,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/beliefs/{point}", { params: { path: { id, point: point ?? 0 } }, signal })),
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

/** What to look at next and what to do after, and how far the work is. */
export function useTracingRead(id: number, crew: Crew, enabled = true) {
  const query = crewQuery(crew);
  return useQuery({
    queryKey: [...houseKey(id), "tracing", query],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/tracing", { params: { path: { id }, query }, signal })),
  });
}

/** What the crew's way, or all ways, would come to from here on; worked out anew at each step, not at each answer. */
export function useForecast(id: number, crew: Crew, step: number | undefined, which: "none" | "own" | "all") {
  const query = { ...crewQuery(crew), all: which === "all" };
  return useQuery({
    queryKey: ["forecast", id, query, step ?? 0],
    enabled: which !== "none",
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/forecast", { params: { path: { id }, query }, signal })),
  });
}

/** What each cheap help would save this crew. */
export function useHelps(id: number, crew: Crew, step: number | undefined, wanted: boolean) {
  const query = crewQuery(crew);
  return useQuery({
    queryKey: ["helps", id, query, step ?? 0],
    enabled: wanted,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/helps", { params: { path: { id }, query }, signal })),
  });
}

/** Points whose observations disagree. */
export function useDoubts(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "doubts"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/doubts", path(id, wanted))),
  });
}

/** A run summed up. */
export function useReport(id: number, run: number | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "report", run],
    enabled: run !== undefined,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/runs/{run}/report", { params: { path: { id, run: run ?? 0 } }, signal })),
  });
}

const faceOf = (id: number, panel: number) => ({
  queryKey: [...houseKey(id), "face", panel],
  queryFn: ({ signal }: Wanted) =>
    data(client.GET("/api/v1/houses/{id}/panels/{panel}/face", { params: { path: { id, panel } }, signal })),
});

export function useFace(id: number, panel: number | undefined) {
  return useQuery({ ...faceOf(id, panel ?? 0), enabled: panel !== undefined, placeholderData: keepPreviousData });
}

/** The faces of several panels, in their order; nothing for one that has not come yet. */
export function useFaces(id: number, panels: readonly number[]) {
  return useQueries({ queries: panels.map((panel) => faceOf(id, panel)) }).map((face) => face.data);
}

/** Reads once what a phone may have to show out of reach: the map and the face, which not every stance shows. */
export function useKept(id: number, panel: number | undefined, enabled: boolean) {
  const queries = useQueryClient();
  useEffect(() => {
    if (enabled && panel !== undefined) {
      void queries.prefetchQuery(beliefsOf(id));
      void queries.prefetchQuery(faceOf(id, panel));
    }
  }, [id, panel, enabled, queries]);
}

/** Reads the face as it is now, shared with whoever reads it at the same time. */
export function useReadFace(id: number, panel: number) {
  const queries = useQueryClient();
  return () => queries.fetchQuery(faceOf(id, panel));
}

/** Things that people forget to enter, as far as they were not entered or answered. */
export function useForgotten(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "forgotten"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/forgotten", path(id, wanted))),
  });
}

export function useHistory(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "history"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/history", path(id, wanted))),
  });
}

export function usePlan(id: number, floor: string | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "plan", floor],
    enabled: floor !== undefined,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/plans/{floor}", { params: { path: { id, floor: floor ?? "" } }, signal })),
  });
}

/** The same as it was when the step began, for a look at where a point is. */
export function useStillPlan(id: number, floor: string | undefined, step: number | undefined) {
  return useQuery({
    queryKey: ["plan", id, floor, step],
    enabled: floor !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/plans/{floor}", { params: { path: { id, floor: floor ?? "" } }, signal })),
  });
}

export function useFind(id: number, q: string) {
  return useQuery({
    queryKey: [...houseKey(id), "find", q],
    enabled: q.trim() !== "",
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/find", { params: { path: { id }, query: { q } }, signal })),
  });
}

export function useGlance(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "glance"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/glance", path(id, wanted))),
  });
}

export function useToday(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "today"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/today", path(id, wanted))),
  });
}

/** What is wrong in a house, the gravest first. */
export function useAudit(id: number, enabled = true) {
  return useQuery({
    enabled,
    queryKey: [...houseKey(id), "audit"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/audit", path(id, wanted))),
  });
}

/** What is printed, and what of it is no longer so. */
export function useDirectory(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "directory"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/directory", path(id, wanted))),
  });
}

/** What nobody looked at yet, in the order of a walk. */
export function useInspection(id: number, qualified: boolean) {
  return useQuery({
    queryKey: [...houseKey(id), "inspection", qualified],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      data(client.GET("/api/v1/houses/{id}/inspection", { params: { path: { id }, query: { qualified } }, signal })),
  });
}

export function useDueTests(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "tests"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/tests", path(id, wanted))),
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
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/log", { params: { path: { id }, query: filter }, signal })),
  });
}

function placeOf(target: Target | undefined) {
  switch (target?.at) {
    case "circuit":
      return { breaker: target.breaker };
    case "panel":
      return { panel: target.panel };
    default:
      return { points: (target?.points ?? []).join(",") };
  }
}

/** What must be off for this work. */
export function useShutdown(id: number, target: Target | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "shutdown", target],
    enabled: target !== undefined,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/shutdown", { params: { path: { id }, query: placeOf(target) }, signal })),
  });
}

/** What may be the cause of this. */
/** Something is told that causes can be weighed by. */
export const isTold = (complaint: Complaint) =>
  [complaint.dead, complaint.dim, complaint.bright, complaint.flickers, complaint.signs].some(
    (of) => (of?.length ?? 0) > 0,
  );

export function useDiagnosis(id: number, complaint: Complaint) {
  return useQuery({
    queryKey: [...houseKey(id), "diagnosis", complaint],
    enabled: isTold(complaint),
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.POST("/api/v1/houses/{id}/diagnosis", { ...path(id, { signal }), body: complaint })),
  });
}

/** Where a reset stands, and what these points would draw together. */
export function useReset(id: number, breaker: number, on: number[] = []) {
  const query = { on: on.join(",") };
  return useQuery({
    queryKey: [...houseKey(id), "reset", breaker, query],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.GET("/api/v1/houses/{id}/breakers/{breaker}/reset", {
          params: { path: { id, breaker }, query },
          signal,
        }),
      ),
  });
}

/** What each thing draws, and what circuits and legs carry. */
export function useLoads(id: number, enabled = true) {
  return useQuery({
    queryKey: [...houseKey(id), "loads"],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/loads", path(id, wanted))),
  });
}

/** May these run together? */
export function useTogether(id: number, on: Drawn[], breaker?: number) {
  const body = { on, breaker: breaker ?? null };
  return useQuery({
    queryKey: [...houseKey(id), "together", body],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.POST("/api/v1/houses/{id}/together", { ...path(id, { signal }), body })),
  });
}

/** What to read next with these instruments. */
export function useNextReading(id: number, kit: Schemas["Kit"]) {
  return useQuery({
    queryKey: [...houseKey(id), "next-reading", kit],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.POST("/api/v1/houses/{id}/next-reading", { ...path(id, { signal }), body: kit })),
  });
}

/** The round of measuring that goes on. */
export function useRoundNow(id: number, enabled: boolean) {
  return useQuery({
    queryKey: [...houseKey(id), "round"],
    enabled,
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/round", path(id, wanted))),
  });
}

/** The service's load by every method, with and without what is to be added. */
export function useServiceLoad(id: number, add: string) {
  return useQuery({
    queryKey: [...houseKey(id), "service-load", add],
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.GET("/api/v1/houses/{id}/service-load", {
          params: { path: { id }, query: add === "" ? {} : { add } },
          signal,
        }),
      ),
  });
}

/** A job planned; changes nothing. */
export function useJobPlan(id: number, goal: Schemas["Goal"] | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "job-plan", goal],
    enabled: goal !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.POST("/api/v1/houses/{id}/job-plan", {
          ...path(id, { signal }),
          body: goal ?? { job: "retire", breaker: 0 },
        }),
      ),
  });
}

/** What is to be bought for a plan, a job, or all jobs that are begun. */
export function useShopping(id: number, of: { goal: Schemas["Goal"] } | { job: number } | "begun") {
  return useQuery({
    queryKey: [...houseKey(id), "shopping", of],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) => {
      if (of === "begun") {
        return data(client.GET("/api/v1/houses/{id}/jobs-shopping", path(id, { signal })));
      }
      return "job" in of
        ? data(client.GET("/api/v1/houses/{id}/jobs/{job}/shopping", { params: { path: { id, job: of.job } }, signal }))
        : data(
            client.GET("/api/v1/houses/{id}/job-shopping", {
              params: { path: { id }, query: { goal: JSON.stringify(of.goal) } },
              signal,
            }),
          );
    },
  });
}

/** A job of a kind, planned from what was answered of what it asks. */
export function useAnsweredPlan(
  id: number,
  kind: string,
  first: number,
  answers: Record<string, unknown> | undefined,
  beside: Schemas["JobBeside"][],
) {
  return useQuery({
    queryKey: [...houseKey(id), "job-plan", kind, answers, beside],
    enabled: answers !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.POST("/api/v1/houses/{id}/job-plan/{kind}", {
          params: { path: { id, kind } },
          signal,
          body: { first, answers: answers ?? {}, beside },
        }),
      ),
  });
}

/** Whether tools and instruments answer by themselves. It stays as long as the server runs. */
export function useStandIns(id: number) {
  return useQuery({
    queryKey: ["stand-ins", id],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/stand-in", { params: { path: { id } }, signal })),
  });
}

/** Pairs of circuits that might share a breaker. */
export function useJobPairs(id: number, panel: number | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "job-pairs", panel],
    enabled: panel !== undefined,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.GET("/api/v1/houses/{id}/job-pairs", { params: { path: { id }, query: { panel: panel ?? 0 } }, signal }),
      ),
  });
}

/** All jobs, those under way first. */
export function useJobs(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "jobs"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/jobs", path(id, wanted))),
  });
}

/** In which order jobs that are begun are done. */
export function useJobsOrder(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "jobs-order"],
    placeholderData: keepPreviousData,
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/jobs-order", path(id, wanted))),
  });
}

/** A job with its steps, how far it is, and its panel. */
export function useJob(id: number, job: number) {
  return useQuery({
    queryKey: [...houseKey(id), "job", job],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }: Wanted) =>
      data(client.GET("/api/v1/houses/{id}/jobs/{job}", { params: { path: { id, job } }, signal })),
  });
}

/** A year of an energy record by days and hours. */
export function useHeat(id: number, energy: number | undefined) {
  return useQuery({
    queryKey: ["heat", id, energy],
    enabled: energy !== undefined,
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: ({ signal }: Wanted) =>
      data(
        client.GET("/api/v1/houses/{id}/energy/{energy}", { params: { path: { id, energy: energy ?? 0 } }, signal }),
      ),
  });
}

/** Is it the breaker? */
export function useSuspect(id: number, suspected: Schemas["Suspected"] | undefined) {
  return useQuery({
    queryKey: [...houseKey(id), "suspect", suspected],
    enabled: suspected !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: ({ signal }: Wanted) =>
      data(client.POST("/api/v1/houses/{id}/suspect", { ...path(id, { signal }), body: suspected ?? { breaker: 0 } })),
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

/** Rooms to be asked about ground-fault devices. */
export function useButtons(id: number) {
  return useQuery({
    queryKey: [...houseKey(id), "buttons"],
    queryFn: (wanted) => data(client.GET("/api/v1/houses/{id}/buttons", path(id, wanted))),
  });
}

/** Where phones get in. */
export function useDoor() {
  return useQuery({ queryKey: ["door"], queryFn: ({ signal }) => data(client.GET("/api/v1/door", { signal })) });
}

export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: ({ signal }) => data(client.GET("/api/v1/session", { signal })) });
}
