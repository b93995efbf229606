import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { useToday } from "../api/reads";
import { useHouseView } from "../app/house";
import { Door } from "../parts/Door";
import { ProblemNote } from "../parts/ProblemNote";
import { OpenJob } from "../work/OpenJob";

/** Where each matter is done. */
const where: Record<Schemas["MatterKind"], string> = {
  danger: "trace",
  run: "trace",
  round: "measure",
  panel: "survey",
  rooms: "survey",
  misfit: "findings",
  overload: "loads",
  doubt: "trace",
  trace: "trace",
  card: "directory",
  tests: "log",
};

/** What a house opens on: what people come for, what is under way, what comes next. */
export function TodayPage() {
  const { id, house } = useHouseView();
  const today = useToday(id);
  const open = house.work_now;
  const under = today.data?.under_way ?? [];
  const next = today.data?.next ?? [];
  return (
    <Stack spacing={3} sx={{ maxWidth: 900 }}>
      <Typography variant="h2" component="h1">
        {house.about.name}
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 1.5 }}>
        <Door to="../find" title="What feeds this?" under="an outlet, a light, an appliance: which breaker" />
        <Door to="../off" title="What must I switch off?" under="to work on something, safely" />
        <Door to="../dead" title="Something is dead" under="find out why, with the cheapest look first" />
        <Door to="../tripped" title="It tripped" under="reset it, step by step" />
      </Box>
      <ProblemNote error={today.error} />
      {(open.length > 0 || under.length > 0) && (
        <Box component="section" aria-labelledby="today-open">
          <Typography variant="h3" component="h2" id="today-open" gutterBottom>
            Under way
          </Typography>
          <Stack spacing={1}>
            {open.map((job) => (
              <OpenJob key={job.id} job={job} />
            ))}
            {under.map((matter) => (
              <Line key={matter.about} matter={matter} strong />
            ))}
          </Stack>
        </Box>
      )}
      <Box component="section" aria-labelledby="today-next">
        <Typography variant="h3" component="h2" id="today-next" gutterBottom>
          Next
        </Typography>
        <Stack spacing={1}>
          {next.map((matter) => (
            <Line key={matter.about} matter={matter} />
          ))}
        </Stack>
        {today.isSuccess && next.length === 0 && (
          <Typography>Nothing is due: every point is proven, and the card says so.</Typography>
        )}
      </Box>
    </Stack>
  );
}

/** A circuit that carries too much leads to the job that would relieve it. */
const goes = (matter: Schemas["Matter"]) =>
  matter.about === "overload" && matter.breaker != null
    ? `plan-work/relieve?breaker=${matter.breaker}`
    : where[matter.about];

function Line({ matter, strong = false }: { matter: Schemas["Matter"]; strong?: boolean }) {
  return (
    <Paper variant="outlined" sx={{ ...(strong ? { borderWidth: 2, borderColor: "act.main" } : {}) }}>
      <Button
        component={Link}
        to={`../${goes(matter)}`}
        fullWidth
        sx={{ minHeight: 60, px: 2, justifyContent: "space-between", textAlign: "left" }}
      >
        <Box>
          <Typography sx={{ fontWeight: 700 }}>{matter.said}</Typography>
          <Typography sx={{ color: "text.secondary", fontWeight: 400 }}>{matter.more}</Typography>
        </Box>
        <Box component="span" aria-hidden sx={{ fontSize: "1.4rem", pl: 1 }}>
          ›
        </Box>
      </Button>
    </Paper>
  );
}
