import { Button, Paper, Stack, Typography } from "@mui/material";
import type { Ask, Point } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName, roomName } from "../parts/words";
import type { Tracing } from "./useTracing";

/** A surprising answer: the cheapest check that settles it, before going on. */
export function AskCard({ ask, point, tracing, big }: { ask: Ask; point: Point; tracing: Tracing; big: boolean }) {
  const { house } = useHouseView();
  const tall = { flex: 1, minHeight: big ? 72 : 56, fontSize: big ? "1.2rem" : "1rem" };
  const again = ask.check === "look-again";
  const thing = ask.check === "device" ? "ground-fault device" : "wall switch";
  return (
    <Paper
      variant="outlined"
      sx={{ p: 2, borderColor: "act.main", borderWidth: 2 }}
      aria-live="polite"
      data-look={tracing.settling ? undefined : point.tag}
      data-ask={tracing.settling ? undefined : ask.check}
    >
      <Typography variant="h2" gutterBottom>
        {again
          ? "Look once more"
          : ask.check === "device"
            ? "Press RESET on its ground-fault device"
            : "Try its wall switch"}
      </Typography>
      <Typography gutterBottom>
        <strong>
          {roomName(house, point)}, {pointName(point)}
        </strong>{" "}
        (<span className="mono">{point.tag}</span>).{" "}
        {again
          ? "That was not expected. Look once more, another way if you can: a lamp, a tester, the thing itself."
          : `It may be dark for another reason than its breaker, and its likely breakers are on now. Find its ${thing}, move it, and look.`}
      </Typography>
      <Stack direction={big ? "column" : "row"} spacing={1.5} sx={{ my: 2 }}>
        {again ? (
          <>
            <Button variant="contained" sx={tall} onClick={() => tracing.answer("live")}>
              LIVE
            </Button>
            <Button variant="contained" color="inherit" sx={tall} onClick={() => tracing.answer("dead")}>
              DEAD
            </Button>
          </>
        ) : (
          <>
            <Button variant="contained" sx={tall} onClick={() => tracing.tried(ask, point, true)}>
              {point.kind === "light" ? "Now it lights" : "Now it has power"}
            </Button>
            <Button variant="outlined" sx={tall} onClick={() => tracing.tried(ask, point, false)}>
              Still dark
            </Button>
          </>
        )}
      </Stack>
      <Button onClick={() => tracing.passOver(ask)}>Go on without this</Button>
    </Paper>
  );
}
