import type { Face } from "../api/client";
import kindsOfJob from "../api/core.gen.json";

/** One question of a kind of job, as the core declares it. */
export interface Field {
  name: string;
  label: string;
  help?: string;
  sort:
    | "breaker"
    | "breakers"
    | "panel"
    | "room"
    | "space"
    | "poles"
    | "wishes"
    | "half-sizes"
    | "point"
    | "load"
    | "number"
    | "choice"
    | "thing"
    | "yes-no"
    | "tick"
    | "text";
  required: boolean;
  /** Seldom needed: shown when asked for more. */
  rare: boolean;
  usual?: string;
  /** Not asked where another field has one of these answers. */
  unless?: [string, string[]];
  unit?: string;
  choices?: [string, string][];
}

/** A kind of job, by what people want. */
export interface Kind {
  name: string;
  group: string;
  title: string;
  under: string;
  fields: Field[];
}

export const kinds = kindsOfJob.kinds as unknown as readonly Kind[];

export function kindOf(name: string | undefined): Kind | undefined {
  return kinds.find((kind) => kind.name === name);
}

/** What was answered, by the names of the fields. */
export type Answers = Record<string, Answer>;
export type Answer = string | number | boolean | number[] | null;

/** What stands in a field: the answer, or what holds where nothing is said. */
export function answerIn(field: Field, answers: Answers): Answer {
  return answers[field.name] ?? field.usual ?? null;
}

/** The questions that are asked, by what was answered so far. */
export function asked(kind: Kind, answers: Answers): Field[] {
  const is = (name: string) => {
    const of = kind.fields.find((field) => field.name === name);
    return of === undefined ? "" : String(answerIn(of, answers) ?? "");
  };
  return kind.fields.filter((field) => field.unless === undefined || !field.unless[1].includes(is(field.unless[0])));
}

/** What is sent: answers to what is asked; nothing while the least is missing, or something stands there that is no number. */
export function complete(kind: Kind, answers: Answers, unread: readonly string[]): Answers | undefined {
  const fields = asked(kind, answers);
  const missing = fields.some((field) => field.required && (answerIn(field, answers) ?? "") === "");
  if (missing || unread.length > 0) {
    return undefined;
  }
  const said = fields.map((field) => [field.name, answers[field.name] ?? null] as const);
  return Object.fromEntries(said.filter(([, answer]) => answer !== null && answer !== ""));
}

const tapped: readonly Field["sort"][] = ["breaker", "breakers", "space", "poles", "wishes"];

/** The question that a tap on the panel answers: the one at hand, or the first that is open. */
export function tappedField(fields: readonly Field[], answers: Answers, at: string | undefined): Field | undefined {
  const shown = (field: Field) => !field.rare || field.name === at;
  const all = fields.filter((field) => tapped.includes(field.sort) && shown(field));
  const open = (field: Field) => field.sort !== "wishes" && (answers[field.name] ?? "") === "";
  return (
    all.find((field) => field.name === at) ??
    all.find((field) => field.required && open(field)) ??
    all.find((field) => field.sort === "poles" && open(field)) ??
    all.find((field) => field.sort === "wishes") ??
    all.at(0)
  );
}

/** Spaces that a breaker takes, as its place is written. */
function spacesOf(at: string): number[] {
  return at.split("-").map((part) => Number.parseInt(part, 10));
}

/** Breakers that are answers already, to be marked. */
export function chosenBreakers(fields: readonly Field[], answers: Answers): Set<number> {
  const of = (field: Field) => {
    const answer = answers[field.name];
    return Array.isArray(answer) ? answer : field.sort === "breaker" && typeof answer === "number" ? [answer] : [];
  };
  return new Set(fields.flatMap(of));
}

/** Answers after a breaker was tapped. */
export function tapBreaker(field: Field, answers: Answers, breaker: number, face: Face): Answers {
  const before = answers[field.name];
  switch (field.sort) {
    case "breaker":
      return { ...answers, [field.name]: breaker };
    case "breakers": {
      const now = Array.isArray(before) ? before : [];
      const next = now.includes(breaker) ? now.filter((b) => b !== breaker) : [...now, breaker];
      return { ...answers, [field.name]: next };
    }
    default: {
      const space = spacesOf(face.breakers.find((b) => b.breaker === breaker)?.at ?? "").at(0);
      return space === undefined ? answers : tapSpace(field, answers, space);
    }
  }
}

/** Answers after a space was tapped. A second space beside the first makes two poles. */
export function tapSpace(field: Field, answers: Answers, space: number): Answers {
  switch (field.sort) {
    case "space":
      return { ...answers, [field.name]: space };
    case "poles": {
      const first = String(answers[field.name] ?? "");
      const two = /^\d+$/.test(first) && Number(first) !== space;
      const both = [Number(first), space].sort((a, b) => a - b).join("-");
      return { ...answers, [field.name]: two ? both : String(space) };
    }
    case "wishes": {
      const { poles } = wish(String(answerIn(field, answers) ?? ""));
      return { ...answers, [field.name]: `${space}=${poles}` };
    }
    default:
      return answers;
  }
}

/** A wish apart: how many poles, and at which space. */
export function wish(text: string): { poles: string; space: string } {
  const [space, poles] = text.includes("=") ? text.split("=") : ["", text];
  return { poles: poles ?? "2p", space: space ?? "" };
}
