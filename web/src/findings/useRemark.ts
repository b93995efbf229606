import type { Schemas } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { author } from "../app/who";

/** Writes down what was seen of a thing, or decided of a finding. */
export function useRemark(house: number) {
  const commit = useCommit(house);
  const remark = (of: Schemas["Subject"], says: Schemas["Remarks"], note = "") =>
    commit.mutate({
      type: "put-remark",
      remark: { id: newId(), of, says, time: new Date().toISOString(), who: author(), note },
    });
  return { remark, busy: commit.isPending, error: commit.error };
}
