import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useJobsOrder } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { Shopping } from "./Shopping";

/** In which order the jobs that are begun are done, which go into one shutdown, and one list for the shop. */
export function OrderPage() {
  const { id } = useHouseView();
  const order = useJobsOrder(id);
  const { turns = [], parts = [] } = order.data ?? {};
  return (
    <Stack spacing={2.5} sx={{ maxWidth: 900 }}>
      <Typography variant="h2" component="h1">
        In this order
      </Typography>
      <ProblemNote error={order.error} />
      {order.data !== undefined && turns.length === 0 && (
        <Typography>No job is under way. Work shows all that can be planned.</Typography>
      )}
      <Stack component="ol" spacing={1.5} sx={{ m: 0, p: 0, listStyle: "none" }}>
        {turns.map((turn, nth) => (
          <TurnCard key={turn.jobs.join()} turn={turn} nth={nth + 1} />
        ))}
      </Stack>
      {parts.length > 0 && <Shopping of="begun" />}
    </Stack>
  );
}

function TurnCard({ turn, nth }: { turn: Schemas["JobTurn"]; nth: number }) {
  const first = nth === 1;
  return (
    <Paper component="li" variant="outlined" sx={{ p: 1.5, ...(first && { borderWidth: 2, borderColor: "act.main" }) }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Typography className="mono" sx={{ fontSize: 28, fontWeight: 700 }}>
          {nth}
        </Typography>
        <Box sx={{ flex: "1 1 220px" }}>
          <Typography sx={{ fontWeight: 700 }}>{turn.title}</Typography>
          <Typography>
            {turn.panel}, about {turn.minutes} minutes. {turn.said}
          </Typography>
        </Box>
        {turn.goal == null ? (
          <Button
            component={Link}
            to={`../job/${turn.jobs[0]}`}
            variant={first ? "contained" : "outlined"}
            {...(first && { color: "act" as const })}
            sx={{ minHeight: 48 }}
          >
            Go on
          </Button>
        ) : (
          <Button
            component={Link}
            to={`../as-one/${turn.jobs.join()}`}
            variant={first ? "contained" : "outlined"}
            {...(first && { color: "act" as const })}
            sx={{ minHeight: 48 }}
          >
            {turn.jobs.length > 1 ? "Plan them as one" : "Plan it anew"}
          </Button>
        )}
      </Stack>
    </Paper>
  );
}
