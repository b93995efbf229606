import { Button, Paper, Stack, Typography } from "@mui/material";
import type { Point } from "../api/client";
import { useHouseView, useMap } from "../app/house";
import { breakerName, pointName, roomName } from "../parts/words";
import { ReadTool } from "./ReadTool";
import type { Tracing } from "./useTracing";

/** Transmitter at the point, receiver at the panel: which breaker does it point at? */
export function ReceiverCard({ point, tracing }: { point: Point; tracing: Tracing }) {
  const { house } = useHouseView();
  const beliefs = useMap();
  return (
    <Paper variant="outlined" sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}>
      <Typography variant="h2" gutterBottom>
        Put the transmitter into {point.tag}, {roomName(house, point)}, {pointName(point)}
      </Typography>
      <Typography gutterBottom>
        Sweep the receiver over the panel twice. Which breaker does it point at? A switch-off will confirm it.
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {beliefs?.breakers.map((b) => (
          <Button
            key={b.breaker}
            variant="outlined"
            disabled={tracing.busy}
            onClick={() => tracing.pointed(point, b.breaker)}
          >
            {breakerName(house, b)}
          </Button>
        ))}
        <ReadTool
          point={point}
          tool="receiver"
          label="Read the receiver"
          onRead={(said) => said.what === "pointed" && tracing.pointed(point, said.at)}
        />
      </Stack>
    </Paper>
  );
}
