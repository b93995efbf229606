import { useNavigate } from "react-router";
import { keepHalf, useHalf } from "../parts/useHalf";
import { type Answers, kindOf } from "./answers";

/** A job that is to be done in the same shutdown as another. */
export interface Beside {
  kind: string;
  answers: Answers;
}

/** Where what was answered of a kind of job is kept. */
export const formOf = (house: number, kind: string) => `plan-${house}-${kind}`;

/** What it is, in a few words. */
export function besideTitle({ kind, answers }: Beside): string {
  const title = kindOf(kind)?.title ?? kind;
  const name = typeof answers.name === "string" ? answers.name.trim() : "";
  return name === "" ? title : `${title}: ${name}`;
}

/** Jobs chosen for one shutdown so far, and what can be done with them. */
export function useBeside(house: number) {
  const [jobs, set] = useHalf<Beside[]>(`beside-${house}`, "jobs", []);
  const go = useNavigate();
  const without = (nth: number) => jobs.filter((_, n) => n !== nth);
  return {
    jobs,
    add: (job: Beside) => set([...jobs, job]),
    remove: (nth: number) => set(without(nth)),
    clear: () => set([]),
    /** Opens one of them, the others beside it. */
    open: (nth: number) => {
      const job = jobs.at(nth);
      if (job !== undefined) {
        set(without(nth));
        keepHalf(formOf(house, job.kind), "", job.answers);
        void go(`/houses/${house}/plan-work/${job.kind}`);
      }
    },
  };
}
