import createClient from "openapi-fetch";
import type { components, paths } from "./schema.gen";

export type Schemas = components["schemas"];
export type House = Schemas["ShownHouse"];
export type Panel = Schemas["Panel"];
export type Breaker = Schemas["Breaker"];
export type Room = Schemas["Room"];
export type Load = Schemas["Load"];
export type Point = Schemas["Point"];
export type Evidence = Schemas["Evidence"];
export type Change = Schemas["Change"];
export type Beliefs = Schemas["Beliefs"];
export type PointBelief = Schemas["PointBelief"];
export type BreakerRef = Schemas["BreakerRef"];
export type Advice = Schemas["Order"];
export type Face = Schemas["Face"];
export type FaceBreaker = Schemas["FaceBreaker"];
export type Item = Schemas["Item"];
export type Seen = Schemas["Seen"];
export type Way = Schemas["Way"];
export type Subject = Schemas["Subject"];
export type Circuit = Schemas["Circuit"];
export type Opening = Schemas["Opening"];
export type Spot = Schemas["Spot"];
export type Wall = Schemas["Wall"];
export type PlanView = Schemas["PlanView"];
export type Found = Schemas["Found"];
export type Target = Schemas["Target"];
export type Shutdown = Schemas["Shutdown"];
export type Complaint = Schemas["Complaint"];
export type Diagnosis = Schemas["Diagnosis"];
export type Check = Schemas["Check"];
export type ResetGuide = Schemas["ResetGuide"];
export type Event = Schemas["Event"];
export type Picture = Schemas["Picture"];
export type PictureOf = Schemas["PictureOf"];
export type HouseItem = Schemas["HouseItem"];
export type ShelfWord = Schemas["ShelfWord"];
export type Crew = Schemas["Crew"];
export type Method = Schemas["Method"];
export type Pace = Schemas["Pace"];
export type Run = Schemas["Run"];
export type Round = Schemas["Round"];
export type RoundAct = Schemas["RoundAct"];
export type RoundDone = Schemas["RoundDone"];
export type RoundPlace = Schemas["RoundPlace"];
export type ToRead = Schemas["ToRead"];
export type Guide = Schemas["Guide"];
export type Ask = Schemas["Ask"];
export type Fault = Schemas["Fault"];
export type Observation = Schemas["Observation"];
export type Forecast = Schemas["Forecast"];
export type Report = Schemas["Report"];
export type LineKind = Schemas["LineKind"];
export type CircuitLoad = Schemas["CircuitLoad"];
export type PanelLegs = Schemas["PanelLegs"];
export type Drawn = Schemas["Drawn"];
export type MeasuredAt = Schemas["MeasuredAt"];
export type Quantity = Schemas["Quantity"];
export type Instrument = Schemas["Instrument"];
export type Sheet = Schemas["Sheet"];

export const client = createClient<paths>({ baseUrl: "" });

/** What went wrong, in the words of the problem document. */
export class Problem extends Error {
  readonly status: number;
  readonly field: string | undefined;
  readonly title: string;
  /** What a careful change would take away. */
  readonly cost: Schemas["Cost"] | undefined;

  constructor(status: number, title: string, detail: string, field?: string, cost?: Schemas["Cost"]) {
    super(detail);
    this.status = status;
    this.title = title;
    this.field = field;
    this.cost = cost;
  }
}

function text(of: Record<string, unknown>, name: string): string | undefined {
  const value = of[name];
  return typeof value === "string" ? value : undefined;
}

/** The problem of an error answer. */
export function problemOf(status: number, body: unknown): Problem {
  const of = typeof body === "object" && body !== null ? (body as Record<string, unknown>) : {};
  const title = text(of, "title") ?? "Something went wrong";
  const detail = text(of, "detail") ?? "Nothing was lost. Please try again.";
  return new Problem(status, title, detail, text(of, "field"), of.cost as Schemas["Cost"] | undefined);
}

interface Answer<T> {
  data?: T | undefined;
  error?: unknown;
  response: Response;
}

/** The data of an answer, or its problem thrown. */
export async function data<T>(answer: Promise<Answer<T>>): Promise<T> {
  const got = await answer.catch(() => {
    throw new Problem(0, "No connection", "Wayfinder cannot be reached. Nothing was lost; try again.");
  });
  if (got.error !== undefined || got.data === undefined) {
    throw problemOf(got.response.status, got.error);
  }
  return got.data;
}
