import { Alert, Button, Dialog, DialogActions, DialogContent, DialogTitle, Stack, Typography } from "@mui/material";
import { useReport } from "../api/reads";
import { useHouseView } from "../app/house";
import { breakerName, count } from "../parts/words";
import { Handles } from "./Handles";
import type { Tracing } from "./useTracing";

interface Props {
  run: number | undefined;
  tracing: Tracing;
  onClose: () => void;
}

/** What a run came to, with "all on?" before it is ended. */
export function ReportDialog({ run, tracing, onClose }: Props) {
  const { id, house } = useHouseView();
  const report = useReport(id, run);
  const told = report.data;
  return (
    <Dialog open={run !== undefined} onClose={onClose} maxWidth="sm" fullWidth aria-labelledby="report-title">
      <DialogTitle id="report-title">The run so far</DialogTitle>
      <DialogContent>
        {told !== undefined && (
          <Stack spacing={1.5}>
            <Typography>
              {count(Math.round(told.active / 60), "minute")} at work, {count(told.observations, "answer")},{" "}
              {count(told.run.steps ?? 0, "order")}, {count(told.run.outages ?? 0, "outage")}. {told.proven} of{" "}
              {told.points} points are proven.
            </Typography>
            {told.not_on.length > 0 && (
              <Alert severity="warning">
                Not on: {told.not_on.map((b) => breakerName(house, b)).join(", ")}. Switch them on before you go.
              </Alert>
            )}
            <Section title="Faults to mend">{told.faults.map((f) => `${f.name} (${f.tag}): ${f.said}`)}</Section>
            <Section title="The old label was wrong">
              {told.surprises.map(
                (s) => `${s.name} (${s.tag}) hangs on ${breakerName(house, s.at)}, labelled “${s.label}”`,
              )}
            </Section>
            <Section title="Still open">{told.still_open}</Section>
            <Section title="Feeds nothing: searched, nothing else was dead">
              {told.feeds_nothing.map((b) => breakerName(house, b))}
            </Section>
            <Section title="Feeds nothing on the list, and nobody looked for more yet">
              {told.to_search.map((b) => breakerName(house, b))}
            </Section>
            <Handles word="Switch back ON" list={told.not_on} />
          </Stack>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Go on</Button>
        {told !== undefined && told.not_on.length > 0 && (
          <Button variant="contained" color="act" disabled={tracing.busy} onClick={tracing.allOn}>
            They are on
          </Button>
        )}
        {tracing.run !== undefined && (
          <Button
            variant="outlined"
            disabled={tracing.busy || told === undefined || told.not_on.length > 0}
            onClick={() => {
              tracing.endRun();
              onClose();
            }}
          >
            End the run
          </Button>
        )}
      </DialogActions>
    </Dialog>
  );
}

function Section({ title, children }: { title: string; children: string[] }) {
  if (children.length === 0) {
    return null;
  }
  return (
    <div>
      <Typography variant="h3">{title}</Typography>
      {children.slice(0, MOST).map((line) => (
        <Typography key={line}>{line}</Typography>
      ))}
      {children.length > MOST && <Typography>and {children.length - MOST} more</Typography>}
    </div>
  );
}

/** Lines of a section; the rest is counted. */
const MOST = 12;
