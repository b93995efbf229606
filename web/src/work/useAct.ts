import type { Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { author } from "../app/who";

/** What happens in a job, with who and when. */
export function useAct(house: number, job: number) {
  const commit = useCommit(house);
  const act = (what: Schemas["JobAct"], done?: () => void) =>
    commit.mutate(
      { type: "act-in-job", job, act: what, who: author(), time: new Date().toISOString() },
      done === undefined ? {} : { onSuccess: done },
    );
  return { act, busy: commit.isPending, error: commit.error };
}

export type Acting = ReturnType<typeof useAct>;
