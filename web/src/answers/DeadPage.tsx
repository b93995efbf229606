import { Alert, Box, Button, Chip, FormControlLabel, Paper, Stack, Switch, Typography } from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Check, Complaint, Diagnosis, Schemas } from "../api/client";
import { isTold, useDiagnosis } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { capital, percent, signWord } from "../parts/words";
import { DeadEnd, DeadStop } from "./DeadEnd";
import { DeadLook } from "./DeadLook";
import { PointPicker } from "./PointPicker";
import { QuickPick } from "./QuickPick";

type Showed = Schemas["Showed"];

const signs = Object.entries(signWord) as [Schemas["Sign"], string][];

/** Something is dead: what is told of it, the next look, and the causes that are left. */
export function DeadPage() {
  const { id, house } = useHouseView();
  const [asked] = useSearchParams();
  const first = asked.get("point");
  const [complaint, setComplaint] = useState<Complaint>({ dead: first === null ? [] : [Number(first)] });
  const diagnosis = useDiagnosis(id, complaint);
  const change = (part: Partial<Complaint>) => setComplaint((old) => ({ ...old, ...part }));
  const answers = complaint.answers ?? [];
  const answer = (check: Check, showed: Showed) => change({ answers: [...answers, { check, showed }] });
  const told = isTold(complaint);
  // What is weak or bright is neither.
  const spoken = [...(complaint.dim ?? []), ...(complaint.bright ?? [])];
  const others = (mine: "dead" | "working" | "dim" | "bright") =>
    (["dead", "working", "dim", "bright"] as const).filter((of) => of !== mine).flatMap((of) => complaint[of] ?? []);
  return (
    <Stack spacing={2} sx={{ maxWidth: 820 }}>
      <Typography variant="h2" component="h1">
        Something is dead
      </Typography>
      <PointPicker
        label="What is dead"
        value={complaint.dead ?? []}
        without={others("dead")}
        onChange={(dead) => change({ dead })}
      />
      {house.points.length > 0 && (
        <QuickPick
          label="What is dead, what works"
          options={house.points.filter((point) => !spoken.includes(point.id))}
          brushes={[
            { said: "dead", mark: "cross", value: complaint.dead ?? [] },
            { said: "works", mark: "check", value: complaint.working ?? [] },
          ]}
          onTap={(point, { said }) => change(painted(complaint, point, said === "dead" ? "dead" : "working"))}
        />
      )}
      <Signs complaint={complaint} onChange={change} />
      <ProblemNote error={diagnosis.error} />
      {!told && (
        <Typography>Choose what is dead. Two or three things that still work tell the causes apart.</Typography>
      )}
      {told && diagnosis.data !== undefined && (
        <Found
          diagnosis={diagnosis.data}
          onAnswer={answer}
          onStill={() => {
            // One of two was found: what is dead still is asked for anew.
            change({ answers: [], dead: [], working: [...(complaint.working ?? [])] });
            window.scrollTo(0, 0);
          }}
        />
      )}
      <PointPicker
        label="What still works (as much as you know)"
        value={complaint.working ?? []}
        without={others("working")}
        onChange={(working) => change({ working })}
      />
      <Box component="details" sx={{ "& summary": { cursor: "pointer", fontWeight: 650, py: 1.25 } }}>
        <summary>Weak, too bright, or you may measure …</summary>
        <Stack spacing={2}>
          <PointPicker
            label="What works weakly: dim, slow"
            value={complaint.dim ?? []}
            without={others("dim")}
            onChange={(dim) => change({ dim })}
          />
          <PointPicker
            label="Lights that are brighter than usual"
            value={complaint.bright ?? []}
            without={others("bright")}
            onChange={(bright) => change({ bright })}
          />
          <PointPicker
            label="Lights that flicker"
            value={complaint.flickers ?? []}
            onChange={(flickers) => change({ flickers })}
          />
          <FormControlLabel
            control={
              <Switch checked={complaint.qualified ?? false} onChange={(_, qualified) => change({ qualified })} />
            }
            label="I am qualified to open a panel and to measure there"
            sx={{ minHeight: 48 }}
          />
        </Stack>
      </Box>
      {answers.length > 0 && (
        <Paper variant="outlined" sx={{ p: 2 }}>
          <Typography variant="h3" component="h2" gutterBottom>
            Looked at so far
          </Typography>
          {diagnosis.data?.asked.map((said) => (
            <Typography key={said}>{said}</Typography>
          ))}
          <Button onClick={() => change({ answers: answers.slice(0, -1) })} sx={{ minHeight: 48 }}>
            Take the last answer back
          </Button>
        </Paper>
      )}
    </Stack>
  );
}

/** A point told anew: it is dead or it works, and a second tap takes it back. */
function painted(complaint: Complaint, point: number, as: "dead" | "working"): Partial<Complaint> {
  const without = (points: readonly number[] | undefined) => (points ?? []).filter((p) => p !== point);
  const [dead, working] = [without(complaint.dead), without(complaint.working)];
  if (complaint[as]?.includes(point) === true) {
    return { dead, working };
  }
  return as === "dead" ? { dead: [...dead, point], working } : { dead, working: [...working, point] };
}

function Signs({ complaint, onChange }: { complaint: Complaint; onChange: (part: Partial<Complaint>) => void }) {
  const seen = complaint.signs ?? [];
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
      {signs.map(([sign, word]) => (
        <Button
          key={sign}
          variant={seen.includes(sign) ? "contained" : "outlined"}
          aria-pressed={seen.includes(sign)}
          onClick={() => onChange({ signs: seen.includes(sign) ? seen.filter((s) => s !== sign) : [...seen, sign] })}
          sx={{ minHeight: 44, textAlign: "left" }}
        >
          {capital(word)}
        </Button>
      ))}
    </Stack>
  );
}

interface FoundProps {
  diagnosis: Diagnosis;
  onAnswer: (check: Check, showed: Showed) => void;
  onStill: () => void;
}

function Found({ diagnosis, onAnswer, onStill }: FoundProps) {
  const { next, stop, held, end, causes, ruled_out } = diagnosis;
  return (
    <Stack spacing={2}>
      {held.map((said) => (
        <Alert key={said} severity="error">
          {said}.
        </Alert>
      ))}
      {stop != null && <DeadStop stop={stop} />}
      {next != null && <DeadLook key={JSON.stringify(next.check)} next={next} onAnswer={onAnswer} />}
      {end != null && <DeadEnd end={end} onStill={onStill} />}
      {causes.length > 0 && (
        <Typography variant="h3" component="h2">
          Causes, and how likely each is
        </Typography>
      )}
      <Stack component="ol" spacing={1} sx={{ m: 0, p: 0, listStyle: "none" }}>
        {causes.slice(0, 6).map((ranked) => (
          <Box component="li" key={ranked.said} sx={{ borderTop: 1, borderColor: "divider", pt: 1 }}>
            <Stack direction="row" spacing={1.5} sx={{ alignItems: "baseline" }}>
              <Typography className="mono" sx={{ minWidth: 56, textAlign: "right", whiteSpace: "nowrap" }}>
                {percent(ranked.p)}
              </Typography>
              <Box sx={{ flexGrow: 1 }}>
                <Typography sx={{ fontWeight: 650 }}>{ranked.said}</Typography>
                {ranked.why !== "" && <Typography>{ranked.why}.</Typography>}
                {end == null && ranked.ask != null && (
                  <Stack direction="row" spacing={1} sx={{ alignItems: "center", flexWrap: "wrap", rowGap: 0.5 }}>
                    <Typography sx={{ color: "text.secondary" }}>{ranked.ask}</Typography>
                    {ranked.check != null && isYesNo(ranked.check) && (
                      <>
                        <Chip label="Yes" onClick={() => ranked.check != null && onAnswer(ranked.check, "yes")} />
                        <Chip label="No" onClick={() => ranked.check != null && onAnswer(ranked.check, "no")} />
                      </>
                    )}
                  </Stack>
                )}
              </Box>
            </Stack>
          </Box>
        ))}
      </Stack>
      {ruled_out.length > 0 && (
        <Box component="details" sx={{ "& summary": { cursor: "pointer", fontWeight: 650, py: 1.25 } }}>
          <summary>Ruled out, and by what</summary>
          {ruled_out.map((out) => (
            <Typography key={out.said} sx={{ mb: 0.75 }}>
              <strong>{out.said}.</strong> {out.by}
            </Typography>
          ))}
        </Box>
      )}
    </Stack>
  );
}

/** Looks that are answered by more than a word have a card of their own. */
const isYesNo = (check: Check) => !["glance", "measure", "sides", "extent"].includes(check.check);
