import {
  Alert,
  AlertTitle,
  Box,
  Button,
  Chip,
  FormControlLabel,
  Paper,
  Stack,
  Switch,
  Typography,
} from "@mui/material";
import { useState } from "react";
import { Link, useSearchParams } from "react-router";
import type { Check, Complaint, Diagnosis, Schemas } from "../api/client";
import { useDiagnosis } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { percent, signWord } from "../parts/words";
import { PointPicker } from "./PointPicker";

const signs = Object.entries(signWord) as [Schemas["Sign"], string][];

/** Something is dead: the likely causes, and the check that tells most. */
export function DeadPage() {
  const { id } = useHouseView();
  const [asked] = useSearchParams();
  const first = asked.get("point");
  const [complaint, setComplaint] = useState<Complaint>({
    dead: first === null ? [] : [Number(first)],
    working: [],
    signs: [],
    answers: [],
  });
  const diagnosis = useDiagnosis(id, complaint);
  const change = (part: Partial<Complaint>) => setComplaint((old) => ({ ...old, ...part }));
  const answers = complaint.answers ?? [];
  const answer = (check: Check, yes: boolean) => change({ answers: [...answers, { check, yes }] });
  const hasSign = (sign: Schemas["Sign"]) => complaint.signs?.includes(sign) ?? false;
  const toggle = (sign: Schemas["Sign"]) => {
    const old = complaint.signs ?? [];
    change({ signs: old.includes(sign) ? old.filter((s) => s !== sign) : [...old, sign] });
  };
  return (
    <Stack spacing={2} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        Something is dead
      </Typography>
      <PointPicker
        quick
        label="What is dead"
        value={complaint.dead}
        without={complaint.working ?? []}
        onChange={(dead) => change({ dead })}
      />
      <PointPicker
        quick
        label="What still works (as much as you know)"
        value={complaint.working ?? []}
        without={complaint.dead}
        onChange={(working) => change({ working })}
      />
      <Stack direction="row" sx={{ flexWrap: "wrap", columnGap: 2 }}>
        {signs.map(([sign, word]) => (
          <FormControlLabel
            key={sign}
            control={<Switch checked={hasSign(sign)} onChange={() => toggle(sign)} />}
            label={word}
            sx={{ minHeight: 48 }}
          />
        ))}
      </Stack>
      <ProblemNote error={diagnosis.error} />
      {complaint.dead.length === 0 ? (
        <Typography>Choose what is dead. Two or three things that still work tell the causes apart.</Typography>
      ) : (
        diagnosis.data !== undefined && <Found diagnosis={diagnosis.data} onAnswer={answer} />
      )}
      {answers.length > 0 && (
        <Paper variant="outlined" sx={{ p: 2 }}>
          <Typography variant="h3" component="h2" gutterBottom>
            Checked so far
          </Typography>
          {answers.map((a, i) => (
            <Typography key={JSON.stringify(a.check)}>
              {diagnosis.data?.asked[i]} <strong>{a.yes ? "Yes" : "No"}</strong>
            </Typography>
          ))}
          <Button onClick={() => change({ answers: answers.slice(0, -1) })}>Take the last answer back</Button>
        </Paper>
      )}
    </Stack>
  );
}

interface FoundProps {
  diagnosis: Diagnosis;
  onAnswer: (check: Check, yes: boolean) => void;
}

function Found({ diagnosis, onAnswer }: FoundProps) {
  const { id } = useHouseView();
  const { next, stop, held } = diagnosis;
  return (
    <Stack spacing={2}>
      {held.map((said) => (
        <Alert key={said} severity="error">
          {said}.
        </Alert>
      ))}
      {stop != null && (
        <Alert severity="error">
          <AlertTitle>{stop.said}</AlertTitle>
          {stop.what}
        </Alert>
      )}
      {next != null && stop == null && (
        <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
          <Typography sx={{ color: "text.secondary" }}>Look next, about {Math.round(next.seconds)} s</Typography>
          <Typography sx={{ fontSize: "1.2rem", fontWeight: 650, mb: 1 }}>{next.said}</Typography>
          <Stack direction="row" spacing={1.5}>
            <Button
              variant="contained"
              color="act"
              onClick={() => onAnswer(next.check, true)}
              sx={{ minHeight: 56, flex: 1 }}
            >
              Yes
            </Button>
            <Button
              variant="contained"
              color="act"
              onClick={() => onAnswer(next.check, false)}
              sx={{ minHeight: 56, flex: 1 }}
            >
              No
            </Button>
          </Stack>
        </Paper>
      )}
      <Typography variant="h3" component="h2">
        Causes, and how likely each is
      </Typography>
      <Stack component="ol" spacing={1} sx={{ m: 0, p: 0, listStyle: "none" }}>
        {diagnosis.causes.slice(0, 6).map((ranked) => (
          <Box component="li" key={JSON.stringify(ranked.cause)} sx={{ borderTop: 1, borderColor: "divider", pt: 1 }}>
            <Stack direction="row" spacing={1.5} sx={{ alignItems: "baseline" }}>
              <Typography className="mono" sx={{ width: 56, textAlign: "right" }}>
                {percent(ranked.p)}
              </Typography>
              <Box sx={{ flexGrow: 1 }}>
                <Typography sx={{ fontWeight: 650 }}>{ranked.said}</Typography>
                {ranked.ask != null && (
                  <Stack direction="row" spacing={1} sx={{ alignItems: "center", flexWrap: "wrap", rowGap: 0.5 }}>
                    <Typography sx={{ color: "text.secondary" }}>{ranked.ask}</Typography>
                    {ranked.check != null && (
                      <>
                        <Chip label="Yes" onClick={() => ranked.check != null && onAnswer(ranked.check, true)} />
                        <Chip label="No" onClick={() => ranked.check != null && onAnswer(ranked.check, false)} />
                      </>
                    )}
                  </Stack>
                )}
              </Box>
              {ranked.cause.cause === "breaker" && (
                <Button component={Link} to={`/houses/${id}/reset/${ranked.cause.breaker}`}>
                  Reset …
                </Button>
              )}
            </Stack>
          </Box>
        ))}
      </Stack>
    </Stack>
  );
}
