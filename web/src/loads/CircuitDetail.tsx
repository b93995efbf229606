import { Button, FormControlLabel, Stack, Switch, Typography } from "@mui/material";
import { useState } from "react";
import { Link } from "react-router";
import type { CircuitLoad, Drawn } from "../api/client";
import { useLoads, useTogether } from "../api/reads";
import { useHouseView } from "../app/house";
import { habitWord } from "../parts/words";
import { ReadingsAt } from "./Readings";

const same = (a: Drawn, b: Drawn) => JSON.stringify(a) === JSON.stringify(b);

/** A circuit's things with switches to try, what they come to, and what that rests on. */
export function CircuitDetail({ circuit }: { circuit: CircuitLoad }) {
  const { id } = useHouseView();
  const [on, setOn] = useState<Drawn[]>([]);
  const together = useTogether(id, on, circuit.breaker);
  const draws = useLoads(id).data?.loads;
  const flip = (thing: Drawn, isOn: boolean) =>
    setOn(isOn ? [...on, thing] : on.filter((other) => !same(other, thing)));
  const named = (thing: Drawn) => circuit.things.find((t) => same(t.thing, thing))?.name ?? "";
  const rests = (thing: Drawn) =>
    "load" in thing
      ? draws?.find((d) => d.load === thing.load)?.rests_on.join(" and ")
      : "what is usual at such a point";
  const mine = together.data?.circuits.find((c) => c.breaker === circuit.breaker);
  const sets = together.data?.sets ?? [];
  return (
    <Stack spacing={1} sx={{ mt: 1 }}>
      <Typography variant="h3">What may run together: try it</Typography>
      {circuit.things.map((t) => (
        <FormControlLabel
          key={JSON.stringify(t.thing)}
          sx={{ minHeight: 44, mr: 0, alignItems: "flex-start" }}
          control={
            <Switch
              checked={on.some((other) => same(other, t.thing))}
              disabled={t.amps == null}
              onChange={(_, isOn) => flip(t.thing, isOn)}
            />
          }
          label={
            <>
              <strong>{t.name === "" ? "whatever is there" : t.name}</strong> <span className="mono">{t.point}</span>
              {t.amps == null
                ? `: ${t.said}`
                : `: ${t.said}; ${t.measured ? "measured" : "believed"}; ${habitWord[t.habit]}`}
              <Typography component="span" sx={{ display: "block", color: "text.secondary" }}>
                {rests(t.thing)}
              </Typography>
            </>
          }
        />
      ))}
      {on.length > 0 && together.data !== undefined && !together.isPlaceholderData && (
        <Stack role="status" spacing={0.5}>
          {mine !== undefined && (
            <Typography>
              Together <span className="mono">{mine.amps.toFixed(1)} A</span> of {mine.rating} A,{" "}
              {Math.round(mine.holds.share * 100)} %: {mine.holds.said}.
            </Typography>
          )}
          <Typography sx={{ fontWeight: 650 }}>{together.data.said}.</Typography>
          {together.data.panels.map((p) => (
            <Typography key={p.panel} sx={{ color: "text.secondary" }}>
              {p.panel}: {p.legs.map((a, i) => `leg ${"ABC"[i]} ${a.toFixed(1)} A`).join(", ")}, neutral{" "}
              {p.neutral.toFixed(1)} A
            </Typography>
          ))}
        </Stack>
      )}
      {sets.length > 1 && (
        <Typography>
          The most that may run at once:{" "}
          {sets
            .map((set) =>
              set
                .map(named)
                .filter((n) => n !== "")
                .join(" + "),
            )
            .join("; or ")}
          {circuit.unknown.length > 0 && `, if nothing else runs at ${circuit.unknown.join(" ")}`}.
        </Typography>
      )}
      <ReadingsAt breaker={circuit.breaker} />
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        <Button component={Link} to={`../measure?breaker=${circuit.breaker}`} variant="outlined">
          Measure it
        </Button>
        <Button component={Link} to={`../suspect/${circuit.breaker}`} variant="outlined">
          Is it the breaker?
        </Button>
      </Stack>
    </Stack>
  );
}
