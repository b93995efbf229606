import { Alert, Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { CircuitLoad } from "../api/client";
import { useLoads } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName } from "../parts/words";
import { BarKey, CircuitBar, LegBars } from "./bars";
import { CircuitDetail } from "./CircuitDetail";
import { Misfits } from "./Readings";

const ways: [string, string][] = [
  ["measure", "Measure"],
  ["room", "Room for more?"],
  ["energy", "Energy record"],
];

/** What every circuit and leg carries, the fullest first. */
export function LoadsPage() {
  const { id, house, chosen } = useHouseView();
  const loads = useLoads(id);
  const [open, setOpen] = useState<number>();
  const circuits = loads.data?.circuits.filter((c) => c.things.length > 0) ?? [];
  const silent = loads.data?.circuits.filter((c) => c.things.length === 0) ?? [];
  const full = (c: CircuitLoad) => Math.max(c.usual, c.measured?.amps ?? 0) / c.rating;
  const shown = circuits
    .filter((c) => chosen.breaker === undefined || c.breaker === chosen.breaker)
    .sort((a, b) => Number(b.warns) - Number(a.warns) || full(b) - full(a));
  return (
    <Stack spacing={2.5}>
      <Typography variant="h2" component="h1">
        Loads
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {ways.map(([path, word]) => (
          <Button key={path} variant={path === "measure" ? "contained" : "outlined"} component={Link} to={`../${path}`}>
            {word}
          </Button>
        ))}
      </Stack>
      <ProblemNote error={loads.error} />
      {loads.data !== undefined && circuits.length === 0 && (
        <Alert severity="info">
          Nothing is known to draw anywhere yet. Enter what is plugged in or fixed at the points (Survey, or the form of
          a point), and trace what feeds them.
        </Alert>
      )}
      {loads.data !== undefined && <Misfits misfits={loads.data.misfits} />}
      {circuits.length > 0 && <BarKey />}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 3 }}>
        {circuits.length > 0 &&
          loads.data?.legs.map((legs) => (
            <Box
              key={legs.id}
              component="section"
              aria-label={`Legs of ${legs.panel}`}
              sx={{ flex: "1 1 340px", maxWidth: 420 }}
            >
              <Typography variant="h3" component="h2">
                Legs of {legs.panel}
              </Typography>
              <LegBars legs={legs} />
              <Typography>{legs.said}.</Typography>
              {legs.moves.map((move) => (
                <Typography key={move.at} sx={{ color: "text.secondary" }}>
                  {move.said}
                </Typography>
              ))}
            </Box>
          ))}
      </Stack>
      {circuits.length > 0 && (
        <Stack component="section" spacing={1} aria-label="Circuits">
          <Typography variant="h3" component="h2">
            Circuits, the fullest first
          </Typography>
          {shown.map((c) => (
            <Circuit
              key={c.breaker}
              circuit={c}
              open={open === c.breaker}
              onOpen={() => setOpen(open === c.breaker ? undefined : c.breaker)}
            />
          ))}
        </Stack>
      )}
      {circuits.length > 0 && silent.length > 0 && (
        <Typography>
          Not shown, since nothing is known to hang on them: {silent.map((c) => breakerName(house, c)).join(", ")}.
          Trace first: what they carry is not known.
        </Typography>
      )}
      <Typography sx={{ color: "text.secondary" }}>
        What nobody entered is in no sum. A breaker may hold an overload for a long time: that it has not tripped proves
        nothing. Local code decides.
      </Typography>
    </Stack>
  );
}

function Circuit({ circuit, open, onOpen }: { circuit: CircuitLoad; open: boolean; onOpen: () => void }) {
  const { house } = useHouseView();
  const name = breakerName(house, circuit);
  return (
    <Paper variant="outlined" sx={{ p: 1.5 }}>
      <Box
        component="button"
        onClick={onOpen}
        aria-expanded={open}
        sx={{
          all: "unset",
          display: "flex",
          flexWrap: "wrap",
          alignItems: "center",
          gap: 1.5,
          width: "100%",
          minHeight: 44,
          cursor: "pointer",
          "&:focus-visible": { outline: "3px solid #2f7fd0", outlineOffset: 2 },
        }}
      >
        <Box sx={{ flex: "1 1 220px", minWidth: 0 }}>
          <Typography component="span" sx={{ fontWeight: 650 }}>
            <span className="mono">{name}</span>: {circuit.name === "" ? "not named" : circuit.name}
          </Typography>
          <Typography sx={{ color: "text.secondary" }}>
            usual {circuit.usual.toFixed(1)} of {circuit.rating} A
            {circuit.measured != null && `, last read ${circuit.measured.amps.toFixed(1)} A`}
            {circuit.all_measured ? ", all of it measured" : ", partly believed"}
          </Typography>
        </Box>
        <CircuitBar circuit={circuit} />
      </Box>
      {circuit.warns && <Typography sx={{ mt: 0.5, fontWeight: 650 }}>⚠ {circuit.said}.</Typography>}
      {circuit.unmet.map((unmet) => (
        <Typography key={unmet.said} sx={{ mt: 0.5, fontWeight: 650 }}>
          ⚠ {unmet.said} [{unmet.source}].
        </Typography>
      ))}
      {open && (
        <>
          {!circuit.warns && <Typography sx={{ mt: 0.5 }}>{circuit.said}.</Typography>}
          <CircuitDetail circuit={circuit} />
        </>
      )}
    </Paper>
  );
}
