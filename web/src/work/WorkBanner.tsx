import { Box, Button, Typography } from "@mui/material";
import { Link, useLocation } from "react-router";
import type { Schemas } from "../api/client";
import { useHouseView } from "../app/house";

/** At the head of every page: work that is under way or was left, what is off for it, and the way back to it. */
export function WorkBanner() {
  const { id, house } = useHouseView();
  const here = useLocation().pathname;
  const open = house.work_now.filter((job) => !here.endsWith(`/job/${job.id}`));
  // These tell of it themselves.
  if (here.endsWith("/work") || here.endsWith("/today")) {
    return null;
  }
  return open.map((job) => (
    <Box
      key={job.id}
      role="status"
      className="no-print"
      sx={{
        display: "flex",
        gap: 1.5,
        alignItems: "center",
        px: 2,
        py: 0.25,
        borderBottom: 1,
        borderColor: "divider",
        borderLeft: 6,
        borderLeftColor: job.off.length > 0 ? "error.main" : "act.main",
      }}
    >
      <Typography noWrap={job.off.length === 0} sx={{ flexGrow: 1, minWidth: 0 }}>
        <strong>{stateOf(job)}:</strong> {job.title}
        {job.stopped?.why ? ` (${job.stopped.why})` : ""}
        {job.off.length > 0 && <strong>. {job.off.join("; ")}</strong>}
      </Typography>
      <Button component={Link} to={`/houses/${id}/job/${job.id}`} sx={{ flexShrink: 0 }}>
        To it
      </Button>
    </Box>
  ));
}

function stateOf(job: Schemas["JobNow"]): string {
  if (job.left_open) {
    return "Given up, not safe yet";
  }
  return job.stopped == null ? "Work under way" : "Work stopped";
}
