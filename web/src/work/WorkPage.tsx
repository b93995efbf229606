import { Link as Anchor, Box, Button, Stack, Typography } from "@mui/material";
import { Link } from "react-router";
import { useJobs } from "../api/reads";
import { useHouseView } from "../app/house";
import { Door } from "../parts/Door";
import { ProblemNote } from "../parts/ProblemNote";
import { kinds } from "./answers";
import { BesideList } from "./BesideList";
import { OpenJob } from "./OpenJob";
import { useBeside } from "./useBeside";

/** Everything that is done at the panel: the everyday answers on top, work under way, then jobs by what people want. */
export function WorkPage() {
  const { id } = useHouseView();
  const jobs = useJobs(id);
  const beside = useBeside(id);
  const open = jobs.data?.filter((job) => job.ending == null || job.left_open) ?? [];
  const past = jobs.data?.filter((job) => job.ending != null && !job.left_open) ?? [];
  const groups = [...new Set(kinds.map((kind) => kind.group))];
  return (
    <Stack spacing={3} sx={{ maxWidth: 900 }}>
      <Typography variant="h2" component="h1">
        Work
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <Door to="../off" title="What must I switch off?" under="to work on something, safely" />
        <Door to="../dead" title="Something is dead" under="find out why, with the cheapest look first" />
        <Door to="../tripped" title="It tripped" under="reset it, step by step" />
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
          {(open.length > 1 || open.some((job) => job.conflict != null)) && (
            <Button component={Link} to="../work-order" variant="outlined" sx={{ mt: 1, minHeight: 48 }}>
              In which order, and one list for the shop
            </Button>
          )}
        </Box>
      )}
      {beside.jobs.length > 0 && (
        <Stack spacing={1}>
          <BesideList
            jobs={beside.jobs}
            title="Chosen for one shutdown"
            onOpen={beside.open}
            onRemove={beside.remove}
          />
          <Typography>Choose another job below: both are planned as one.</Typography>
          <Button
            variant="outlined"
            onClick={() => beside.open(beside.jobs.length - 1)}
            sx={{ minHeight: 48, alignSelf: "start" }}
          >
            See the plan so far
          </Button>
        </Stack>
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
                  <Box component="li" key={kind.name}>
                    <Anchor
                      component={Link}
                      to={`../plan-work/${kind.name}`}
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
