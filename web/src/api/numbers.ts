import { client, data, Problem, type Schemas } from "./client";

export type Unit = Schemas["Unit"];

/** What came of what was typed. */
export type Read =
  | { is: "empty" }
  | { is: "reading" }
  | { is: "read"; value: number; unit: Unit }
  | { is: "either"; ways: Schemas["Number"][]; said: string }
  | { is: "unread"; said: string };

/** Digits that mean one thing to everybody: a point before three of them may part thousands. */
const plain = /^\d+(\.\d{1,2})?$/;
/** All that is taken while the server is out of reach. */
const digits = /^\d+(\.\d+)?$/;

/** What can be told at once; nothing where the server has to read it. */
export function readAtOnce(text: string, unit: Unit): Read | undefined {
  const trimmed = text.trim();
  if (trimmed === "") {
    return { is: "empty" };
  }
  return plain.test(trimmed) && (unit !== "count" || !trimmed.includes("."))
    ? { is: "read", value: Number(trimmed), unit }
    : undefined;
}

/** Reads a number as it was typed or dictated, with its unit if one was; a bare one is in the first. */
export async function readNumber(text: string, units: [Unit, ...Unit[]], signal?: AbortSignal): Promise<Read> {
  const [unit] = units;
  const known = readAtOnce(text, unit);
  if (known !== undefined) {
    return known;
  }
  const query = { text, units: units.join(",") };
  try {
    const { number, either, said } = await data(
      client.GET("/api/v1/number", { params: { query }, ...(signal && { signal }) }),
    );
    return number == null ? { is: "either", ways: either, said: said ?? "" } : { is: "read", ...number };
  } catch (error) {
    if (error instanceof Problem && error.status === 0 && digits.test(text.trim())) {
      return { is: "read", value: Number(text.trim()), unit };
    }
    const outOfReach = "Out of reach only plain digits are read, like 12.5";
    return { is: "unread", said: error instanceof Problem && error.status !== 0 ? error.message : outOfReach };
  }
}
