import { Alert, Link as Anchor, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useJobs } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { kinds } from "./kinds";

/** Everything that is done at the panel: the everyday answers on top, work under way, then jobs by what people want. */
export function WorkPage() {
  const { id } = useHouseView();
  const jobs = useJobs(id);
  const open = jobs.data?.filter((job) => job.ending == null) ?? [];
  const past = jobs.data?.filter((job) => job.ending != null) ?? [];
  const groups = [...new Set(kinds.map((kind) => kind.group))];
  return (
    <Stack spacing={3} sx={{ maxWidth: 900 }}>
      <Typography variant="h2" component="h1">
        Work
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <Door to="../off" title="What must I switch off?" under="to work on something, safely" />
        <Door to="../dead" title="Something is dead" under="or it tripped: find out why, reset it" />
      </Stack>
      <ProblemNote error={jobs.error} />
      {open.length > 0 && (
        <Box component="section" aria-labelledby="open-work">
          <Typography variant="h3" component="h2" id="open-work" gutterBottom>
            Under way
          </Typography>
          <Stack spacing={1}>
            {open.map((job) => (
              <OpenJob key={job.id} job={job} />
            ))}
          </Stack>
        </Box>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", md: "1fr 1fr" }, columnGap: 4, rowGap: 2 }}>
        {groups.map((group) => (
          <Box component="section" key={group} aria-labelledby={`work-${group}`}>
            <Typography variant="h3" component="h2" id={`work-${group}`}>
              {group}
            </Typography>
            <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
              {kinds
                .filter((kind) => kind.group === group)
                .map((kind) => (
                  <Box component="li" key={kind.kind}>
                    <Anchor
                      component={Link}
                      to={`../plan-work/${kind.kind}`}
                      sx={{ fontWeight: 650, py: { xs: 1.5, md: 0.75 }, display: "inline-block" }}
                    >
                      {kind.title}
                    </Anchor>
                    <Typography component="span" sx={{ color: "text.secondary" }}>
                      {" "}
                      {kind.under}
                    </Typography>
                  </Box>
                ))}
            </Box>
          </Box>
        ))}
      </Box>
      {past.length > 0 && (
        <Box component="section" aria-labelledby="past-work">
          <Typography variant="h3" component="h2" id="past-work" gutterBottom>
            Done before
          </Typography>
          <Stack spacing={0.5}>
            {past.map((job) => (
              <Typography key={job.id}>
                <Anchor component={Link} to={`../job/${job.id}`} sx={{ py: 1.25, display: "inline-block" }}>
                  {job.title}
                </Anchor>
                , {job.ending === "finished" ? "finished" : "given up"}{" "}
                {job.ended != null && new Date(job.ended).toLocaleDateString()}
              </Typography>
            ))}
          </Stack>
        </Box>
      )}
    </Stack>
  );
}

function Door({ to, title, under }: { to: string; title: string; under: string }) {
  return (
    <Button
      component={Link}
      to={to}
      variant="outlined"
      sx={{
        flex: "1 1 260px",
        minHeight: 76,
        flexDirection: "column",
        alignItems: "flex-start",
        textAlign: "left",
        px: 2,
      }}
    >
      <Box component="span" sx={{ fontSize: "1.15rem" }}>
        {title}
      </Box>
      <Box component="span" sx={{ fontWeight: 400 }}>
        {under}
      </Box>
    </Button>
  );
}

function OpenJob({ job }: { job: Schemas["JobNow"] }) {
  return (
    <Paper variant="outlined" sx={{ p: 1.5, borderWidth: 2, borderColor: "act.main" }}>
      <Stack direction="row" sx={{ gap: 2, alignItems: "center", flexWrap: "wrap" }}>
        <Box sx={{ flexGrow: 1, minWidth: 220 }}>
          <Typography sx={{ fontWeight: 700 }}>{job.title}</Typography>
          <Typography>
            {job.stopped == null ? "" : `Stopped${job.stopped.why ? `: ${job.stopped.why}` : ""}. `}
            Step {(job.next ?? job.steps) + 1} of {job.steps}: {job.doing}
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
