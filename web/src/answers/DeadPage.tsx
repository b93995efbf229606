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
import type { Cause, Check, Complaint, Diagnosis, House, Schemas } from "../api/client";
import { useDiagnosis } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, percent } from "../parts/words";
import { PointPicker } from "./PointPicker";

const signs: [Schemas["Sign"], string][] = [
  ["bright-and-dim", "some lights brighter than usual, others dim"],
  ["flicker", "lights flicker"],
  ["burning", "a smell of burning, heat"],
  ["shock", "somebody felt a shock or tingle"],
];

/** Something is dead: the likely causes, and the check that tells most. */
export function DeadPage() {
  const { id, house } = useHouseView();
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
        label="What is dead"
        value={complaint.dead}
        without={complaint.working ?? []}
        onChange={(dead) => change({ dead })}
      />
      <PointPicker
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
        diagnosis.data !== undefined && <Found diagnosis={diagnosis.data} house={house} onAnswer={answer} />
      )}
      {answers.length > 0 && (
        <Paper variant="outlined" sx={{ p: 2 }}>
          <Typography variant="h3" component="h2" gutterBottom>
            Checked so far
          </Typography>
          {answers.map((a) => (
            <Typography key={JSON.stringify(a.check)}>
              {checkWord(house, a.check)} <strong>{a.yes ? "Yes" : "No"}</strong>
            </Typography>
          ))}
          <Button onClick={() => change({ answers: answers.slice(0, -1) })}>Take the last answer back</Button>
        </Paper>
      )}
    </Stack>
  );
}

const stopWord: Record<Schemas["Stop"], [string, string]> = {
  "open-neutral": [
    "Stop: the neutral may be open",
    "Switch the main off. Voltages of up to 240 V may stand where 120 V belongs. Call the utility or an electrician at once; unplug what is dear.",
  ],
  burning: [
    "Stop: fire",
    "If you can reach it safely, switch the main off; leave the house and call the fire service. Then an electrician.",
  ],
  shock: ["Stop: touch nothing more", "Switch the main off. An electrician has to look before anything is used again."],
};

interface FoundProps {
  diagnosis: Diagnosis;
  house: House;
  onAnswer: (check: Check, yes: boolean) => void;
}

function Found({ diagnosis, house, onAnswer }: FoundProps) {
  const { id } = useHouseView();
  const { next, stop } = diagnosis;
  return (
    <Stack spacing={2}>
      {stop != null && (
        <Alert severity="error">
          <AlertTitle>{stopWord[stop][0]}</AlertTitle>
          {stopWord[stop][1]}
        </Alert>
      )}
      {next != null && stop == null && (
        <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} aria-live="polite">
          <Typography sx={{ color: "text.secondary" }}>Look next, about {Math.round(next.seconds)} s</Typography>
          <Typography sx={{ fontSize: "1.2rem", fontWeight: 650, mb: 1 }}>{checkWord(house, next.check)}</Typography>
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
        Likely causes
      </Typography>
      <Stack component="ol" spacing={1} sx={{ m: 0, p: 0, listStyle: "none" }}>
        {diagnosis.causes.slice(0, 6).map((ranked) => (
          <Box component="li" key={JSON.stringify(ranked.cause)} sx={{ borderTop: 1, borderColor: "divider", pt: 1 }}>
            <Stack direction="row" spacing={1.5} sx={{ alignItems: "baseline" }}>
              <Typography className="mono" sx={{ width: 56, textAlign: "right" }}>
                {percent(ranked.p)}
              </Typography>
              <Box sx={{ flexGrow: 1 }}>
                <Typography sx={{ fontWeight: 650 }}>{causeWord(house, ranked.cause)}</Typography>
                {ranked.check != null && (
                  <Stack direction="row" spacing={1} sx={{ alignItems: "center", flexWrap: "wrap", rowGap: 0.5 }}>
                    <Typography sx={{ color: "text.secondary" }}>{checkWord(house, ranked.check)}</Typography>
                    <Chip label="Yes" onClick={() => ranked.check != null && onAnswer(ranked.check, true)} />
                    <Chip label="No" onClick={() => ranked.check != null && onAnswer(ranked.check, false)} />
                  </Stack>
                )}
                {ranked.check == null && needsElectrician(ranked.cause) && (
                  <Typography sx={{ color: "text.secondary" }}>Behind covers: for an electrician.</Typography>
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

function needsElectrician(cause: Cause): boolean {
  return cause.cause === "loose" || cause.cause === "shared-neutral";
}

function causeWord(house: House, cause: Cause): string {
  switch (cause.cause) {
    case "breaker":
      return `${breakerAt(house, cause.breaker)} is off or tripped`;
    case "ground-fault":
      return `The ground-fault device ${tagOf(house, cause.point)} tripped`;
    case "switch":
      return `The wall switch ${tagOf(house, cause.point)} is off`;
    case "itself":
      return `The lamp or appliance at ${tagOf(house, cause.point)} itself`;
    case "loose":
      return `A loose connection on the circuit of ${breakerAt(house, cause.breaker)}`;
    case "shared-neutral":
      return `The neutral that ${breakerAt(house, cause.breaker)} and ${breakerAt(house, cause.other)} share is open`;
    case "lost-leg":
      return `Leg ${cause.leg} is lost: utility, meter or main`;
    case "main":
      return "The main is off or tripped";
    case "utility":
      return "The utility's supply is out";
    case "open-neutral":
      return "The service neutral is open or loose: danger";
  }
}

function checkWord(house: House, check: Check): string {
  switch (check.check) {
    case "handle":
      return `Is the handle of ${breakerAt(house, check.breaker)} off, or between on and off?`;
    case "press-reset":
      return `Press RESET on ${tagOf(house, check.point)}: does it work now?`;
    case "switch":
      return `Move the wall switch ${tagOf(house, check.point)}: does it work now?`;
    case "works":
      return `Does ${tagOf(house, check.point)} work?`;
    case "main":
      return "Is the main breaker off, or between?";
    case "neighbours":
      return "Are the neighbours dark too?";
    case "another":
      return `Does another lamp or appliance work at ${tagOf(house, check.point)}?`;
    case "measure":
      return "Are the service voltages wrong? Behind the cover: qualified people only.";
  }
}

function breakerAt(house: House, id: number): string {
  const breaker = house.breakers.find((b) => b.id === id);
  const panel = house.panels.find((p) => p.id === breaker?.panel);
  const at = { breaker: id, panel: panel?.name ?? "", at: breaker?.at.join("-") ?? "?" };
  return `breaker ${breakerName(house, at)}`;
}

function tagOf(house: House, id: number): string {
  const point = house.points.find((p) => p.id === id);
  return point === undefined ? "?" : `${point.tag} ${point.name ?? ""}`.trim();
}
