import {
  Alert,
  Button,
  Checkbox,
  FormControlLabel,
  Stack,
  ToggleButton,
  ToggleButtonGroup,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import { cover_off } from "../../api/core.gen.json";
import { useCommit } from "../../api/edits";
import { useHouseView } from "../../app/house";
import { ProblemNote } from "../../parts/ProblemNote";
import { breakerName, named } from "../../parts/words";
import { openRun } from "../../trace/crew";
import type { useRound } from "./useRound";

interface Props {
  round: ReturnType<typeof useRound>;
  /** The one breaker it is to be about. */
  only: number | undefined;
}

/** Who may do this, and with how many: then the round begins, and other phones see it. */
export function BeginRound({ round, only }: Props) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const tracing = openRun(house);
  const [ready, setReady] = useState(false);
  const [people, setPeople] = useState(1);
  const loads = house.loads ?? [];
  const breaker = house.breakers.find((b) => b.id === only);
  if (loads.length === 0) {
    return (
      <Alert severity="info">
        <Typography gutterBottom>
          Enter first what draws at the points, in the form of each point: a reading with nothing switched on says
          nothing.
        </Typography>
        <Button variant="outlined" color="inherit" component={Link} to={`/houses/${id}/survey`} sx={{ minHeight: 44 }}>
          Go to Survey
        </Button>
      </Alert>
    );
  }
  if (tracing !== undefined) {
    const end = () =>
      commit.mutate({ change: { type: "end-run", run: tracing.id, time: new Date().toISOString() }, base: null });
    return (
      <Alert severity="warning">
        <Typography gutterBottom>
          A run of tracing goes on, and switches breakers off. What it found stays when it is ended. All breakers have
          to be on for a round.
        </Typography>
        <ProblemNote error={commit.error} />
        <Button variant="outlined" color="inherit" disabled={commit.isPending} sx={{ minHeight: 44 }} onClick={end}>
          End that run
        </Button>
      </Alert>
    );
  }
  const always = loads.filter((l) => l.habit === "always").map((l) => l.id);
  return (
    <Stack spacing={1.5}>
      <Alert severity="warning">{cover_off}</Alert>
      <FormControlLabel
        control={<Checkbox checked={ready} onChange={(_, ticked) => setReady(ticked)} />}
        label="I am qualified for this, and the cover is off"
      />
      <Typography>
        {breaker === undefined
          ? "Goes by every breaker and what comes into every panel, in the order of the panel."
          : `Goes by ${breakerName(house, named(house, breaker))} alone.`}{" "}
        Other phones in this house see it.
      </Typography>
      <ToggleButtonGroup
        exclusive
        value={people}
        aria-label="How many people"
        onChange={(_, chosen: number | null) => chosen !== null && setPeople(chosen)}
        sx={{ "& > *": { minHeight: 48, px: 3 } }}
      >
        <ToggleButton value={1}>Alone</ToggleButton>
        <ToggleButton value={2}>Two people</ToggleButton>
      </ToggleButtonGroup>
      <ProblemNote error={round.error} />
      <Button
        variant="contained"
        color="act"
        sx={{ minHeight: 56 }}
        disabled={!ready || round.busy}
        onClick={() => round.begin(people, only, always)}
      >
        Begin the round
      </Button>
    </Stack>
  );
}
