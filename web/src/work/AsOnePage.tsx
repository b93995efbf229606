import { Stack, Typography } from "@mui/material";
import { useState } from "react";
import { useParams } from "react-router";
import type { Schemas } from "../api/client";
import { useJobPlan, useJobsOrder } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { PlanShown } from "./PlanShown";

/** Jobs that were begun apart, planned as one shutdown; or one of them, planned anew. */
export function AsOnePage() {
  const { id } = useHouseView();
  const jobs = (useParams().jobs ?? "").split(",").map(Number);
  const order = useJobsOrder(id);
  const turn = order.data?.turns.find((of) => of.jobs.join() === jobs.join());
  const [way, setWay] = useState<Schemas["Goal"]>();
  const plan = useJobPlan(id, way ?? turn?.goal ?? undefined);
  return (
    <Stack spacing={2.5}>
      <Typography variant="h2" component="h1">
        {jobs.length > 1 ? "In one shutdown" : "Planned anew"}
      </Typography>
      <ProblemNote error={order.error ?? plan.error} />
      {order.data !== undefined && turn?.goal == null && (
        <Typography>These jobs are not to be planned as one any more: Work shows what is under way.</Typography>
      )}
      {turn?.goal != null && plan.data !== undefined && (
        <>
          <Typography>
            {jobs.length > 1 ? "It takes their place" : "It takes the place of the old plan"} once it begins.
          </Typography>
          <PlanShown
            plan={plan.data}
            stale={plan.isPlaceholderData}
            onWay={setWay}
            left={undefined}
            onLeave={() => undefined}
            onBegun={() => undefined}
            instead={jobs}
          />
        </>
      )}
    </Stack>
  );
}
