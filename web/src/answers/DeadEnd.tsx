import { Alert, AlertTitle, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { newId, useCommit, useLogEvent } from "../api/edits";
import { useHouseView } from "../app/house";
import { author } from "../app/who";
import { ProblemNote } from "../parts/ProblemNote";

/** Why to stop, and what to do instead of looking any further. */
export function DeadStop({ stop }: { stop: Schemas["ToStop"] }) {
  return (
    <Alert severity="error">
      <AlertTitle>{stop.said}</AlertTitle>
      {stop.what}
    </Alert>
  );
}

/** How far it came: what was found, or what is left; what to do, the job that mends it, and one tap to keep it. */
export function DeadEnd({ end, onStill }: { end: Schemas["HowFar"]; onStill: () => void }) {
  const about = new URLSearchParams();
  if (end.breaker != null) {
    about.set("breaker", String(end.breaker));
  }
  if (end.point != null) {
    about.set("point", String(end.point));
  }
  return (
    <Paper
      variant="outlined"
      sx={{ p: 2, borderColor: end.found ? "primary.main" : "divider", borderWidth: 2 }}
      role="status"
    >
      <Typography variant="h3" component="h2" gutterBottom>
        {end.found ? "Found" : "This far, and no further by looking"}
      </Typography>
      <Typography sx={{ fontWeight: 650 }}>{end.said}.</Typography>
      <Typography gutterBottom>{end.act}</Typography>
      <Stack direction="row" sx={{ gap: 1.5, flexWrap: "wrap" }}>
        {end.keep?.keep === "trip" && (
          <Button
            component={Link}
            to={`../reset/${end.keep.breaker}`}
            variant="contained"
            color="act"
            sx={{ minHeight: 48 }}
          >
            Reset it, step by step
          </Button>
        )}
        {end.job != null && (
          <Button component={Link} to={`../plan-work/${end.job}?${about}`} variant="outlined" sx={{ minHeight: 48 }}>
            Plan the mending
          </Button>
        )}
        {end.keep != null && <KeepIt key={JSON.stringify(end.keep)} end={end} />}
        {end.found && (
          <Button onClick={onStill} sx={{ minHeight: 48 }}>
            Something of it is still dead
          </Button>
        )}
      </Stack>
    </Paper>
  );
}

function KeepIt({ end }: { end: Schemas["HowFar"] }) {
  const { id } = useHouseView();
  const log = useLogEvent(id);
  const commit = useCommit(id);
  const [kept, setKept] = useState(false);
  const { keep } = end;
  const done = { onSuccess: () => setKept(true) };
  const write = () => {
    if (keep?.keep === "trip") {
      log.write({ what: "trip", breaker: keep.breaker, running: [] }, done);
    } else if (keep?.keep === "fault") {
      const observation = { what: "fault" as const, fault: keep.fault };
      const evidence = { id: newId(), point: keep.point, time: new Date().toISOString(), who: author(), observation };
      commit.mutate({ type: "record", evidence }, done);
    } else {
      log.write({ what: "note" }, { note: end.said, ...done });
    }
  };
  return (
    <>
      <Button variant="outlined" disabled={kept || log.busy || commit.isPending} onClick={write} sx={{ minHeight: 48 }}>
        {kept ? "Kept; Z takes it back" : "Keep it in the log"}
      </Button>
      <ProblemNote error={log.error ?? commit.error} />
    </>
  );
}
