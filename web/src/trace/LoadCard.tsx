import { Button, Paper, Stack, Typography } from "@mui/material";
import { useState } from "react";
import type { Advice, Point } from "../api/client";
import { useKnownLoad } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { breakerName, pointName, roomName } from "../parts/words";
import { ReadTool } from "./ReadTool";
import type { Tracing } from "./useTracing";

interface Props {
  advice: Advice;
  point: Point;
  tracing: Tracing;
}

/** A known load at the point: which current rises with it? */
export function LoadCard({ advice, point, tracing }: Props) {
  const { house } = useHouseView();
  const load = useKnownLoad();
  const [typedExpected, setExpected] = useState<number | null>();
  const [typedRose, setRose] = useState<number | null>();
  const expected = typedExpected === undefined ? load.amps : typedExpected;
  const rose = typedRose === undefined ? load.amps : typedRose;
  const clamped = tracing.crew.monitor !== true;
  const complete = expected !== null && rose !== null;
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }} data-load={point.tag}>
      <Typography variant="h2" gutterBottom>
        Switch a load on at <span className="mono">{point.tag}</span>, {roomName(house, point)}, {pointName(point)}
      </Typography>
      <Typography gutterBottom>
        A kettle or heater of about {load.watts} W draws {load.amps} A at 120 V.{" "}
        {clamped
          ? "Clamp these wires in turn, likeliest first, until one rises by about that. Cover off: qualified people only."
          : "Read on the monitor which circuit rises by about that."}{" "}
        A switch-off will confirm it.
      </Typography>
      <Stack direction="row" sx={{ gap: 2, my: 2, flexWrap: "wrap" }}>
        <NumberField label="The load draws" unit="A" value={expected} onChange={setExpected} />
        <NumberField label="It rose by" unit="A" value={rose} onChange={setRose} />
      </Stack>
      <Typography variant="h3" gutterBottom>
        It rose on
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {advice.suspects.map((b) => (
          <Button
            key={b.breaker}
            variant="outlined"
            sx={{ minHeight: 48 }}
            disabled={tracing.busy || !complete}
            onClick={() => complete && tracing.rose(point, b.breaker, expected, rose)}
          >
            {breakerName(house, b)}
          </Button>
        ))}
        <Button
          sx={{ minHeight: 48 }}
          disabled={tracing.busy || !complete}
          onClick={() =>
            complete && tracing.noRise(point, clamped ? advice.suspects.map((b) => b.breaker) : [], expected)
          }
        >
          {clamped ? "On none of these" : "Nowhere"}
        </Button>
        <ReadTool
          point={point}
          tool={clamped ? "clamp" : "monitor"}
          label={clamped ? "Read the clamp" : "Read the monitor"}
          onRead={(said) => said.what === "rise" && tracing.rose(point, said.at, said.expected, said.rose)}
        />
      </Stack>
    </Paper>
  );
}
