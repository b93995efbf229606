import { Alert, Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { client, data, type Schemas } from "../api/client";
import { useSuspect } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName, complainsWord, named } from "../parts/words";
import { MeterAddress, ReadIt, useReadMeter } from "./meter";

type Side = "bus" | "load";
type Complains = Schemas["Complains"];

/** Is it the breaker? Voltages on both sides of its contacts, under load. */
export function SuspectPage() {
  const { id, house } = useHouseView();
  const wanted = Number(useParams().breaker);
  const breaker = house.breakers.find((b) => b.id === wanted);
  const [complaint, setComplaint] = useState<Complains | "">("");
  const [read, setRead] = useState<Record<string, number | null>>({});
  const [warm, setWarm] = useState<{ degrees: number | null; similar: number | null; amps: number | null }>({
    degrees: null,
    similar: null,
    amps: null,
  });
  const meter = useReadMeter(id);
  const { degrees, similar, amps } = warm;
  const warmth = degrees !== null && similar !== null && amps !== null ? { degrees, similar, amps } : null;
  const poles = breaker?.at.length ?? 1;
  const places = [...Array.from({ length: poles }, (_, p) => String(p + 1)), ...(poles > 1 ? ["across"] : [])];
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
  const expected = (where: string) => {
    const [low, high] = (where === "across" ? verdict?.expect_across : verdict?.expect_leg) ?? [0, 0];
    return `expect ${low} to ${high} V`;
  };
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
          <Stack
            key={which}
            spacing={1.5}
            component="section"
            aria-label={which === "bus" ? "Bus side" : "Circuit side"}
          >
            <Typography variant="h3" component="h2">
              {which === "bus" ? "Bus side" : "Circuit side"}
            </Typography>
            {places.map((where) => {
              const key = `${which} ${where}`;
              const label = where === "across" ? "Across" : `Pole ${breaker.at[Number(where) - 1]} to neutral`;
              return (
                <Box key={key}>
                  <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
                    <NumberField
                      key={String(meter.read.submittedAt)}
                      label={label}
                      unit="V"
                      optional
                      value={read[key] ?? null}
                      onChange={(value) => setRead({ ...read, [key]: value })}
                    />
                    <ReadIt
                      meter={meter}
                      place={{
                        at: "breaker",
                        breaker: breaker.id,
                        side: which,
                        pole: where === "across" ? null : Number(where),
                      }}
                      quantity={{ quantity: "volts", between: where === "across" ? ["A", "B"] : null }}
                      label={`${which} side, ${label}`}
                      onRead={(value) => setRead((before) => ({ ...before, [key]: value }))}
                    />
                  </Stack>
                  <Typography sx={{ color: "text.secondary", fontSize: 14 }}>{expected(where)}</Typography>
                </Box>
              );
            })}
          </Stack>
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
            {verdict.said.charAt(0).toUpperCase() + verdict.said.slice(1)}
            {verdict.pole != null && ` (pole ${breaker.at[verdict.pole - 1]})`}
          </Typography>
          <ul style={{ margin: 0, paddingLeft: 20 }}>
            {verdict.steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ul>
        </Paper>
      )}
      <Box component="section" aria-labelledby="warm">
        <Typography variant="h3" component="h2" id="warm" gutterBottom>
          Is it too warm? Beside a similar breaker at similar load
        </Typography>
        <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
          <NumberField
            label="This one"
            unit="°C"
            optional
            value={degrees}
            onChange={(value) => setWarm({ ...warm, degrees: value })}
          />
          <NumberField
            label="The similar one"
            unit="°C"
            optional
            value={similar}
            onChange={(value) => setWarm({ ...warm, similar: value })}
          />
          <NumberField
            label="It carries"
            unit="A"
            optional
            value={amps}
            onChange={(value) => setWarm({ ...warm, amps: value })}
          />
        </Stack>
        {answer.data?.warmth != null && <Typography role="status">{answer.data.warmth}.</Typography>}
      </Box>
      <LoadedTest breaker={breaker.id} />
      <MeterAddress />
    </Stack>
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
