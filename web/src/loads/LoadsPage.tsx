import { Alert, Button, Stack, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { CircuitLoad } from "../api/client";
import { useLoads } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { breakerName } from "../parts/words";
import { BarKey } from "./bars";
import { PanelLoads } from "./PanelLoads";
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
  // What is gravest says why at once; all else folds.
  const [open, setOpen] = useState<number | "first" | undefined>("first");
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
      {circuits.length > 0 &&
        loads.data?.legs.map((legs) => (
          <PanelLoads
            key={legs.id}
            legs={legs}
            circuits={shown.filter((c) => house.breakers.find((b) => b.id === c.breaker)?.panel === legs.id)}
            open={open === "first" ? shown.find((c) => c.warns)?.breaker : open}
            onOpen={setOpen}
          />
        ))}
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
