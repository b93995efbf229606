import {
  Alert,
  Box,
  Button,
  Checkbox,
  FormControlLabel,
  MenuItem,
  Paper,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link, useParams } from "react-router";
import type { ResetGuide, Schemas } from "../api/client";
import { useCommit, useLogEvent } from "../api/edits";
import { useReset } from "../api/reads";
import { useAbout, useHouseView, useMap } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, capital, mannerWord, outcomeWord } from "../parts/words";

/** Resetting a tripped breaker, one step at a time; each step stands in the logbook. */
export function ResetPage() {
  const { id, house } = useHouseView();
  const beliefs = useMap();
  const breaker = Number(useParams().breaker);
  const guide = useReset(id, breaker);
  useAbout(breaker);
  const at = beliefs?.breakers.find((b) => b.breaker === breaker);
  return (
    <Stack spacing={2} sx={{ maxWidth: 720 }}>
      <Typography variant="h2" component="h1">
        Reset breaker {at === undefined ? "" : breakerName(house, at)}
      </Typography>
      <ProblemNote error={guide.error} />
      {guide.data !== undefined && <Guide key={`${guide.data.step} ${guide.data.held}`} guide={guide.data} />}
    </Stack>
  );
}

function Guide({ guide }: { guide: ResetGuide }) {
  const { id } = useHouseView();
  const log = useLogEvent(id);
  const [on, setOn] = useState<number[]>(guide.step === "note-trip" ? [] : guide.held);
  const [manner, setManner] = useState<Schemas["TripManner"] | "">("");
  const trip = () =>
    log.write({
      what: "trip",
      breaker: guide.breaker,
      running: on,
      ...(manner === "" ? {} : { manner }),
    });
  const reset = (outcome: Schemas["Outcome"], running: number[]) =>
    log.write({ what: "reset", breaker: guide.breaker, running, outcome });
  const fuse = guide.device === "fuse";
  return (
    <Stack spacing={2}>
      {guide.barred.map((said) => (
        <Alert key={said} severity="error">
          {said}.
        </Alert>
      ))}
      {guide.again != null && <Alert severity="warning">{guide.again}</Alert>}
      {guide.cause != null && guide.end == null && guide.step !== "note-trip" && (
        <Alert severity="info">{guide.cause}.</Alert>
      )}
      <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
        <Typography variant="h3" component="h2" sx={{ fontSize: "1.3rem" }} gutterBottom>
          {guide.ask.title}
        </Typography>
        <Typography gutterBottom>{guide.ask.said}</Typography>
        {guide.step === "note-trip" && (
          <>
            <Loads guide={guide} chosen={on} onChange={setOn} />
            <TextField
              select
              fullWidth
              label="How did it trip, if you know?"
              value={manner}
              onChange={(e) => setManner(e.target.value as Schemas["TripManner"] | "")}
              sx={{ mt: 1 }}
            >
              {Object.entries(mannerWord).map(([code, word]) => (
                <MenuItem key={code} value={code}>
                  {word}
                </MenuItem>
              ))}
            </TextField>
            <Big onClick={trip} busy={log.busy}>
              It {fuse ? "is blown" : "tripped"}: note it
            </Big>
          </>
        )}
        {guide.step === "unplug" && <Outcomes onOutcome={(outcome) => reset(outcome, [])} busy={log.busy} />}
        {(guide.step === "add-back" || guide.step === "done") && (
          <>
            <Loads guide={guide} chosen={on} onChange={setOn} />
            <Big onClick={() => reset("held", on)} busy={log.busy}>
              It holds with these
            </Big>
            {(["at-once", "later"] as const).map((outcome) => (
              <Button
                key={outcome}
                fullWidth
                sx={{ minHeight: 48 }}
                disabled={log.busy}
                onClick={() => reset(outcome, on)}
              >
                With these {outcomeWord[outcome]}
              </Button>
            ))}
          </>
        )}
        {guide.step === "done" && (
          <Button
            variant="outlined"
            disabled={log.busy}
            onClick={() => log.write({ what: "trip", breaker: guide.breaker, running: on })}
            sx={{ minHeight: 48 }}
          >
            It tripped once more, later
          </Button>
        )}
        {guide.end != null && guide.step === "ended" && (
          <Ended guide={guide} end={guide.end} onOutcome={reset} log={log} />
        )}
        {["unplug", "add-back"].includes(guide.step) && guide.left < 3 && (
          <Typography sx={{ mt: 1 }}>
            {guide.left === 1 ? "One closure is left" : `${guide.left} closures are left`}: then it stays off.
          </Typography>
        )}
      </Paper>
      <ProblemNote error={log.error} />
      {guide.cure != null && guide.step !== "note-trip" && (
        <Alert
          severity="info"
          action={
            <Button component={Link} to={`../plan-work/relieve?breaker=${guide.breaker}`} color="inherit">
              Plan it
            </Button>
          }
        >
          <strong>What would cure it.</strong> {guide.cure.said}
        </Alert>
      )}
      <Together guide={guide} chosen={on} />
    </Stack>
  );
}

interface EndedProps {
  guide: ResetGuide;
  end: Schemas["ResetEnd"];
  onOutcome: (outcome: Schemas["Outcome"], running: number[]) => void;
  log: ReturnType<typeof useLogEvent>;
}

/** How it ended: what did it, what to do, the rest without it, and the way on once it is mended. */
function Ended({ guide, end, onOutcome, log }: EndedProps) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const breaker = house.breakers.find((b) => b.id === guide.breaker);
  return (
    <Stack spacing={1.5}>
      <Typography sx={{ fontWeight: 650 }}>{end.said}.</Typography>
      <Typography>{end.act}</Typography>
      {end.rest != null && (
        <Box>
          <Typography>{end.rest}</Typography>
          <Outcomes onOutcome={(outcome) => onOutcome(outcome, guide.held)} busy={log.busy} />
        </Box>
      )}
      <Stack direction="row" sx={{ gap: 1.5, flexWrap: "wrap" }}>
        {end.job != null && (
          <Button
            component={Link}
            to={`../plan-work/${end.job}?breaker=${guide.breaker}`}
            variant="outlined"
            sx={{ minHeight: 48 }}
          >
            Plan the mending
          </Button>
        )}
        {end.suspect && (
          <Button component={Link} to={`../suspect/${guide.breaker}`} variant="outlined" sx={{ minHeight: 48 }}>
            Is it the breaker?
          </Button>
        )}
        {end.suspect && breaker !== undefined && (
          <Button
            variant="outlined"
            disabled={commit.isPending}
            onClick={() => commit.mutate({ type: "put-breaker", breaker: { ...breaker, bad: true } })}
            sx={{ minHeight: 48 }}
          >
            Mark it as bad
          </Button>
        )}
        <Button
          variant="outlined"
          disabled={log.busy}
          onClick={() => log.write({ what: "mended", breaker: guide.breaker })}
          sx={{ minHeight: 48 }}
        >
          Mended: try anew
        </Button>
      </Stack>
      <ProblemNote error={commit.error} />
    </Stack>
  );
}

function Big({ onClick, busy, children }: { onClick: () => void; busy: boolean; children: React.ReactNode }) {
  return (
    <Button variant="contained" color="act" fullWidth disabled={busy} onClick={onClick} sx={{ minHeight: 56, mt: 1 }}>
      {children}
    </Button>
  );
}

const outcomes: readonly Schemas["Outcome"][] = ["held", "at-once", "later"];

function Outcomes({ onOutcome, busy }: { onOutcome: (outcome: Schemas["Outcome"]) => void; busy: boolean }) {
  return (
    <Stack spacing={1}>
      {outcomes.map((outcome) => (
        <Big key={outcome} onClick={() => onOutcome(outcome)} busy={busy}>
          {capital(outcomeWord[outcome])}
        </Big>
      ))}
    </Stack>
  );
}

interface LoadsProps {
  guide: ResetGuide;
  chosen: number[];
  onChange: (chosen: number[]) => void;
}

function Loads({ guide, chosen, onChange }: LoadsProps) {
  if (guide.loads.length === 0) {
    return <Typography>Nothing is known to hang on it yet: trace it when it is on again.</Typography>;
  }
  return (
    <Stack>
      {guide.loads.map((load) => (
        <FormControlLabel
          key={load.point}
          sx={{ minHeight: 48 }}
          control={
            <Checkbox
              checked={chosen.includes(load.point)}
              onChange={(_, ticked) =>
                onChange(ticked ? [...chosen, load.point] : chosen.filter((p) => p !== load.point))
              }
            />
          }
          label={
            <>
              {load.name} <span className="mono">{load.tag}</span>
              {load.amps != null && `, ${load.amps.toFixed(1)} A${load.typical ? ", not measured" : ""}`}
              {!load.proven && " (not proven)"}
            </>
          }
        />
      ))}
    </Stack>
  );
}

/** What is ticked, added up against the rating. */
function Together({ guide, chosen }: { guide: ResetGuide; chosen: number[] }) {
  const { id } = useHouseView();
  const read = useReset(id, guide.breaker, chosen);
  const together = read.data?.together;
  // The sum of other ticks is never shown for these.
  if (together == null || chosen.length === 0 || read.isPlaceholderData || read.isError) {
    return null;
  }
  return (
    <Typography role="status">
      Ticked together: about <span className="mono">{together.amps.toFixed(1)} A</span> of {guide.amps} A
      {together.too_much && ". Too much to run together"}: {together.said}.
    </Typography>
  );
}
