import {
  Box,
  Button,
  Dialog,
  DialogContent,
  DialogTitle,
  LinearProgress,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableHead,
  TableRow,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Forecast, Method, Schemas } from "../api/client";
import { useForecast, useHelps } from "../api/reads";
import { useHouseView } from "../app/house";
import { count, methodWord } from "../parts/words";
import { atHand, CrewBar } from "./CrewBar";
import { ReportDialog } from "./ReportDialog";
import type { Tracing } from "./useTracing";
import { useVoice } from "./voice";

function minutes(seconds: number): string {
  return `${Math.max(1, Math.round(seconds / 60))} min`;
}

/** The run: begun with a way of tracing chosen, then how far it is. */
export function RunCard({ tracing, small = false }: { tracing: Tracing; small?: boolean }) {
  const { id } = useHouseView();
  const { run, crew, progress } = tracing;
  const [choosing, setChoosing] = useState(false);
  const [report, setReport] = useState<number>();
  const [voice, setVoice] = useVoice();
  const forecast = useForecast(id, crew, tracing.step?.id, choosing ? "all" : run === undefined ? "none" : "own");
  const helps = useHelps(id, crew, tracing.step?.id, choosing);
  const left = forecast.data?.find((f) => f.method === (crew.method ?? "adaptive"));
  const settled = (progress?.proven ?? 0) + (progress?.no_breaker ?? 0) + (progress?.two_handles ?? 0);
  if (tracing.phase.name === "nothing-to-trace" || progress === undefined) {
    return null;
  }
  const ways = (
    <Dialog open={choosing} onClose={() => setChoosing(false)} maxWidth="md" aria-labelledby="ways-title">
      <DialogTitle id="ways-title">Crew and ways of tracing from here on</DialogTitle>
      <DialogContent>
        {/* Room for the labels, which stand above their fields. */}
        <Box sx={{ pt: 1 }}>
          <CrewBar tracing={tracing} />
        </Box>
        <Ways
          forecast={forecast.data}
          chosen={crew.method ?? "adaptive"}
          onChoose={(method) => tracing.setCrew({ ...crew, method })}
        />
        <Helps savings={helps.data} />
        <Button variant="contained" sx={{ mt: 2 }} onClick={() => setChoosing(false)}>
          Done
        </Button>
      </DialogContent>
    </Dialog>
  );
  if (run === undefined) {
    return (
      <Paper variant="outlined" sx={{ p: 1.5 }}>
        <Stack direction="row" sx={{ gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
          <Typography sx={{ flexGrow: 1 }}>
            {small
              ? "No run is under way."
              : `${atHand(crew)}. A run counts time and outages, and two phones can share it.`}
          </Typography>
          <ToggleButtonGroup
            exclusive
            size="small"
            value={crew.people}
            aria-label="How many people"
            onChange={(_, people: number | null) => people !== null && tracing.setCrew({ ...crew, people })}
            sx={{ "& > *": { minHeight: 48, px: 2 } }}
          >
            <ToggleButton value={1}>Alone</ToggleButton>
            <ToggleButton value={2}>Two people</ToggleButton>
          </ToggleButtonGroup>
          <Button onClick={() => setChoosing(true)}>Crew and ways</Button>
          <Button variant="outlined" disabled={tracing.busy} onClick={tracing.beginRun}>
            Begin a run
          </Button>
        </Stack>
        {ways}
      </Paper>
    );
  }
  return (
    <Paper variant="outlined" sx={{ p: 1.5 }} role="region" aria-label="The run">
      <LinearProgress
        variant="determinate"
        value={progress.points === 0 ? 0 : (100 * settled) / progress.points}
        aria-label="Points settled"
        sx={{ height: 8, mb: 1 }}
      />
      <Stack direction="row" sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}>
        <Typography sx={{ flexGrow: 1 }}>
          <strong>
            {progress.proven} of {progress.points}
          </strong>{" "}
          proven
          {left !== undefined &&
            settled < progress.points &&
            `; about ${minutes(left.seconds)} left (${Math.round((left.range[0] ?? 0) / 60)}–${Math.round((left.range[1] ?? 0) / 60)})`}
          ; {progress.complete} of {progress.breakers} breakers’ lists complete; {count(run.outages ?? 0, "outage")} so
          far
        </Typography>
        <Button aria-pressed={voice} onClick={() => setVoice(!voice)}>
          {voice ? "Voice on" : "Voice off"}
        </Button>
        <Button onClick={() => setChoosing(true)}>Crew and ways</Button>
        <Button onClick={() => setReport(run.id)}>Report</Button>
      </Stack>
      {ways}
      <ReportDialog run={report} tracing={tracing} onClose={() => setReport(undefined)} />
    </Paper>
  );
}

/** What would shorten the work, as played in this very house. */
function Helps({ savings }: { savings: Schemas["Saving"][] | undefined }) {
  if (savings === undefined) {
    return <LinearProgress aria-label="Playing what would help in this house" sx={{ mt: 2 }} />;
  }
  return (
    savings.length > 0 && (
      <Box sx={{ mt: 2 }}>
        <Typography variant="h3">What would help here</Typography>
        <Box component="ul" sx={{ my: 0.5, pl: 2.5 }}>
          {savings.map((s) => (
            <li key={s.help}>
              {s.said}: {saves(s)}
            </li>
          ))}
        </Box>
      </Box>
    )
  );
}

/** Only what the plays bear out is promised. */
function saves({ saved, plus_minus }: Schemas["Saving"]): string {
  const within = `± ${Math.max(1, Math.round(plus_minus / 60))}`;
  return saved > plus_minus ? `saves about ${minutes(saved)} (${within})` : `saves nothing that shows (${within} min)`;
}

interface WaysProps {
  forecast: Forecast[] | undefined;
  chosen: Method;
  onChoose: (method: Method) => void;
}

/** The ways side by side, as played in this very house. */
function Ways({ forecast, chosen, onChoose }: WaysProps) {
  if (forecast === undefined || forecast.length < 2) {
    return <LinearProgress aria-label="Playing each way in this house" />;
  }
  const best = forecast.find((f) => f.method === "adaptive");
  const by = forecast.find((f) => f.method === "one-at-a-time");
  return (
    <>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>Way</TableCell>
            <TableCell align="right">Time</TableCell>
            <TableCell align="right">Walks or orders</TableCell>
            <TableCell align="right">Outages</TableCell>
            <TableCell align="right">Off at once</TableCell>
            <TableCell align="right">Likely wrong</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {forecast.map((f) => (
            <TableRow key={f.method} selected={f.method === chosen}>
              <TableCell>{methodWord[f.method]}</TableCell>
              <TableCell align="right" className="mono">
                {minutes(f.seconds)}
              </TableCell>
              <TableCell align="right" className="mono">
                {Math.round(f.walks)}
              </TableCell>
              <TableCell align="right" className="mono">
                {Math.round(f.outages)}
              </TableCell>
              <TableCell align="right" className="mono">
                {Math.round(f.most_off)}
              </TableCell>
              <TableCell align="right" className="mono">
                {f.wrong.toFixed(1)}
              </TableCell>
              <TableCell>
                <Button disabled={f.method === chosen} onClick={() => onChoose(f.method)}>
                  {f.method === chosen ? "chosen" : "Choose"}
                </Button>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <Typography sx={{ color: "text.secondary", mt: 1 }}>
        Each way was played a few times in this house, with what is unknown drawn from what is believed now.
        {best !== undefined &&
          by !== undefined &&
          best.seconds < by.seconds &&
          ` The usual choice saves about ${minutes(by.seconds - best.seconds)} against one at a time and leaves every point confirmed.`}{" "}
        The way can be changed at any time.
      </Typography>
    </>
  );
}
