import { Alert, Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { type Breaker, client, data, type Schemas } from "../api/client";
import { useSuspect } from "../api/reads";
import { useAbout, useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, capital, complainsWord, named } from "../parts/words";
import { MeterAddress, ReadIt, useReadMeter } from "./meter";

type Side = "bus" | "load";
type Complains = Schemas["Complains"];

/** Is it the breaker? Voltages on both sides of its contacts, under load. */
export function SuspectPage() {
  const { id, house } = useHouseView();
  const wanted = Number(useParams().breaker);
  const breaker = house.breakers.find((b) => b.id === wanted);
  useAbout(wanted);
  const [complaint, setComplaint] = useState<Complains | "">("");
  const [read, setRead] = useState<Record<string, number | null>>({});
  const [warm, setWarm] = useState<Warm>({ degrees: null, similar: null, amps: null });
  const meter = useReadMeter(id);
  const { degrees, similar, amps } = warm;
  const warmth = degrees !== null && similar !== null && amps !== null ? { degrees, similar, amps } : null;
  const poles = breaker?.at.length ?? 1;
  const side = (which: Side) => ({
    to_neutral: Array.from({ length: poles }, (_, p) => read[`${which} ${p + 1}`] ?? null),
    across: read[`${which} across`] ?? null,
  });
  const answer = useSuspect(
    id,
    breaker && {
      breaker: breaker.id,
      complaint: complaint === "" ? null : complaint,
      read: { bus: side("bus"), load: side("load") },
      warmth,
    },
  );
  if (breaker === undefined) {
    return <Alert severity="info">This breaker is no longer in the house. Choose one in the panel.</Alert>;
  }
  const verdict = answer.data?.verdict;
  return (
    <Stack spacing={2.5} sx={{ maxWidth: 860 }}>
      <Typography variant="h2" component="h1">
        Is it the breaker? {breakerName(house, named(house, breaker))}, {breaker.amps} A
      </Typography>
      <Alert severity="warning">{verdict?.who ?? "The cover is off for this: a qualified person."}</Alert>
      <TextField
        select
        label="What is noticed"
        value={complaint}
        onChange={(e) => setComplaint(e.target.value as Complains | "")}
        sx={{ maxWidth: 420 }}
      >
        {Object.entries(complainsWord).map(([code, word]) => (
          <MenuItem key={code} value={code}>
            {word}
          </MenuItem>
        ))}
      </TextField>
      {answer.data?.at_once != null && <Alert severity="info">{answer.data.at_once}</Alert>}
      <Typography>
        Breaker on, and under load: switch on what hangs on it. Each pole to neutral, then across, on both sides.
      </Typography>
      <Drawn poles={breaker.at} />
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 3, alignItems: "flex-start" }}>
        {(["bus", "load"] as const).map((which) => (
          <OneSide
            key={which}
            which={which}
            breaker={breaker}
            expect={{ across: verdict?.expect_across, leg: verdict?.expect_leg }}
            read={read}
            meter={meter}
            onRead={(key, value) => setRead((before) => ({ ...before, [key]: value }))}
          />
        ))}
      </Stack>
      <ProblemNote error={meter.read.error ?? answer.error} />
      {verdict !== undefined && !answer.isError && (
        <Paper
          variant="outlined"
          role="status"
          sx={{ p: 2, borderWidth: 2, borderColor: verdict.row === "measure-more" ? "divider" : "act.main" }}
        >
          <Typography variant="h3" component="h2" gutterBottom>
            {capital(verdict.said)}
            {verdict.pole != null && ` (pole ${breaker.at[verdict.pole - 1]})`}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 20 }}>
            {verdict.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
        </Paper>
      )}
      <TooWarm warm={warm} onChange={setWarm} said={answer.data?.warmth} />
      <LoadedTest breaker={breaker.id} />
      <MeterAddress />
    </Stack>
  );
}

interface SideProps {
  which: Side;
  breaker: Breaker;
  /** From and to how many volts. */
  expect: Record<"across" | "leg", readonly number[] | undefined>;
  read: Record<string, number | null>;
  meter: ReturnType<typeof useReadMeter>;
  onRead: (key: string, value: number | null) => void;
}

/** The readings of one side: each pole to neutral, and across. */
function OneSide({ which, breaker, expect, read, meter, onRead }: SideProps) {
  const poles = breaker.at.length;
  const places = [...Array.from({ length: poles }, (_, p) => String(p + 1)), ...(poles > 1 ? ["across"] : [])];
  const title = which === "bus" ? "Bus side" : "Circuit side";
  return (
    <Stack spacing={1.5} component="section" aria-label={title}>
      <Typography variant="h3" component="h2">
        {title}
      </Typography>
      {places.map((where) => {
        const across = where === "across";
        const key = `${which} ${where}`;
        const label = across ? "Across" : `Pole ${breaker.at[Number(where) - 1]} to neutral`;
        const [low, high] = (across ? expect.across : expect.leg) ?? [0, 0];
        return (
          <Box key={key}>
            <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
              <NumberField
                key={String(meter.read.submittedAt)}
                label={label}
                unit="V"
                optional
                value={read[key] ?? null}
                onChange={(value) => onRead(key, value)}
              />
              <ReadIt
                meter={meter}
                place={{ at: "breaker", breaker: breaker.id, side: which, pole: across ? null : Number(where) }}
                quantity={{ quantity: "volts", between: across ? ["A", "B"] : null }}
                label={`${which} side, ${label}`}
                onRead={(value) => onRead(key, value)}
              />
            </Stack>
            <Typography sx={{ color: "text.secondary", fontSize: 14 }}>{`expect ${low} to ${high} V`}</Typography>
          </Box>
        );
      })}
    </Stack>
  );
}

interface Warm {
  degrees: number | null;
  similar: number | null;
  amps: number | null;
}

interface WarmProps {
  warm: Warm;
  onChange: (warm: Warm) => void;
  said: string | null | undefined;
}

/** Its warmth beside that of a similar one. */
function TooWarm({ warm, onChange, said }: WarmProps) {
  const field = (label: string, unit: string, of: keyof Warm) => (
    <NumberField
      label={label}
      unit={unit}
      optional
      value={warm[of]}
      onChange={(value) => onChange({ ...warm, [of]: value })}
    />
  );
  return (
    <Box component="section" aria-labelledby="warm">
      <Typography variant="h3" component="h2" id="warm" gutterBottom>
        Is it too warm? Beside a similar breaker at similar load
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {field("This one", "°C", "degrees")}
        {field("The similar one", "°C", "similar")}
        {field("It carries", "A", "amps")}
      </Stack>
      {said != null && <Typography role="status">{said}.</Typography>}
    </Box>
  );
}

/** Volts without and with a known load: what is lost along the circuit, and whether wire and length explain it. */
function LoadedTest({ breaker }: { breaker: number }) {
  const { id } = useHouseView();
  const [without, setWithout] = useState<number | null>(null);
  const [loaded, setLoaded] = useState<number | null>(null);
  const [amps, setAmps] = useState<number | null>(null);
  const judge = useMutation({
    mutationFn: async (test: Schemas["LoadedTest"]) =>
      data(client.POST("/api/v1/houses/{id}/loaded-test", { params: { path: { id } }, body: { breaker, test } })),
  });
  const known = without !== null && loaded !== null && amps !== null;
  return (
    <Box component="section" aria-labelledby="loaded">
      <Typography variant="h3" component="h2" id="loaded" gutterBottom>
        Or its wiring? A loaded test at one of its points
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        <NumberField label="Without load" unit="V" optional value={without} onChange={setWithout} />
        <NumberField label="With load" unit="V" optional value={loaded} onChange={setLoaded} />
        <NumberField label="The load draws" unit="A" optional value={amps} onChange={setAmps} />
        <Button
          variant="outlined"
          disabled={!known || judge.isPending}
          onClick={() => known && judge.mutate({ without, with: loaded, amps })}
        >
          Judge it
        </Button>
      </Stack>
      <ProblemNote error={judge.error} />
      {judge.data !== undefined && <Typography role="status">{judge.data.said}</Typography>}
    </Box>
  );
}

/** The breaker with its contacts between bus and circuit. */
function Drawn({ poles }: { poles: string[] }) {
  const { palette } = useTheme();
  const height = 34 * poles.length + 12;
  return (
    <svg
      width={300}
      height={height}
      role="img"
      aria-label="From the bus at the left through the contacts to the circuit at the right"
    >
      <rect
        x={95}
        y={4}
        width={110}
        height={height - 8}
        rx={4}
        fill={palette.background.paper}
        stroke={palette.text.secondary}
      />
      <text x={4} y={12} fontSize={12} fill={palette.text.primary}>
        bus
      </text>
      <text x={296} y={12} fontSize={12} textAnchor="end" fill={palette.text.primary}>
        circuit
      </text>
      {poles.map((pole, i) => {
        const y = 22 + i * 34;
        return (
          <g key={pole} stroke={palette.text.primary} strokeWidth={2} fill="none">
            <path d={`M4 ${y}H131M169 ${y}H296`} />
            <path d={`M131 ${y}L167 ${y - 3}`} />
            <circle cx={131} cy={y} r={3} fill={palette.text.primary} />
            <circle cx={169} cy={y} r={3} fill={palette.text.primary} />
            <text x={103} y={y - 6} fontSize={11} className="mono" stroke="none" fill={palette.text.primary}>
              {pole}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
