import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";

/** A job that is under way or was left: how far it is, what is off, and the way on. */
export function OpenJob({ job }: { job: Schemas["JobNow"] }) {
  return (
    <Paper variant="outlined" sx={{ p: 1.5, borderWidth: 2, borderColor: "act.main" }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ flex: "1 1 220px" }}>
          <Typography sx={{ fontWeight: 700 }}>{job.title}</Typography>
          <Typography>
            {job.stopped == null ? "" : `Stopped${job.stopped.why ? `: ${job.stopped.why}` : ""}. `}
            {job.left_open
              ? `Given up, and not safe yet. ${job.leave_safe}`
              : `Step ${(job.next ?? job.steps) + 1} of ${job.steps}: ${job.doing}`}
          </Typography>
          {job.off.map((off) => (
            <Typography key={off} sx={{ fontWeight: 650 }}>
              {off}
            </Typography>
          ))}
          {job.conflict != null && <Alert severity="warning">{job.conflict} since it was planned.</Alert>}
        </Box>
        <Button component={Link} to={`../job/${job.id}`} variant="contained" color="act" sx={{ minHeight: 48 }}>
          Go on
        </Button>
      </Stack>
    </Paper>
  );
}
