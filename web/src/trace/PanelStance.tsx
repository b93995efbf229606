import { Box, Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useHouseView } from "../house";
import { PanelFace } from "../parts/PanelFace";
import { useSize } from "../parts/size";
import { Now } from "./Now";
import { Handles, orders } from "./OrderCard";
import { useTracing } from "./useTracing";

/** At the panel: which handles to move now, large, with the panel's face below. */
export function PanelStance() {
  const { house, panel, setPanel, face, beliefs, chosen, choose } = useHouseView();
  const tracing = useTracing();
  const [box, size] = useSize<HTMLDivElement>();
  const { phase } = tracing;
  const advice = phase.name === "order" || phase.name === "done" ? phase.advice : undefined;
  const belief = beliefs?.breakers.find((b) => b.breaker === chosen.breaker);
  const off = beliefs?.breakers.filter((b) => house.breakers.find((x) => x.id === b.breaker)?.handle === "off") ?? [];
  return (
    <Stack component="main" spacing={2} sx={{ p: 1.5, maxWidth: 620, mx: "auto" }}>
      {phase.name === "look" ? (
        <Box>
          <Typography variant="h2" gutterBottom>
            {off.length === 0 ? "Leave all handles on" : "Leave the handles as they are"}
          </Typography>
          <Typography gutterBottom>
            Somebody looks at point {phase.nth} of {phase.of}: <span className="mono">{phase.point.tag}</span>.
          </Typography>
          <Handles word="Off now" list={off} />
          <Button variant="outlined" onClick={tracing.endTour} disabled={tracing.busy}>
            End this tour
          </Button>
        </Box>
      ) : (
        <Now tracing={tracing} big />
      )}
      {house.panels.length > 1 && (
        <TextField
          select
          label="Panel"
          value={panel ?? ""}
          onChange={(e) => setPanel(Number(e.target.value))}
          slotProps={{ htmlInput: { sx: { minHeight: 48 } } }}
        >
          {house.panels.map((p) => (
            <MenuItem key={p.id} value={p.id} sx={{ minHeight: 48 }}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      {belief !== undefined && (
        <Typography role="status" component="div">
          <strong>{belief.at}</strong> feeds{" "}
          {belief.feeds
            .filter((f) => f.proven)
            .map((f) => f.tag)
            .join(" ") || "nothing proven"}
          {belief.feeds.some((f) => !f.proven) &&
            `; maybe ${belief.feeds
              .filter((f) => !f.proven)
              .map((f) => f.tag)
              .join(" ")}`}
          {belief.others > 0 && `; ${belief.others} more not ruled out`}{" "}
          <Button variant="outlined" onClick={() => choose({ ...chosen, sheet: belief.breaker })}>
            It tripped, or more …
          </Button>
        </Typography>
      )}
      <Box ref={box}>
        {face !== undefined && size.width > 0 && (
          <PanelFace
            face={face}
            beliefs={beliefs}
            row={50}
            width={size.width}
            selected={chosen.breaker}
            onBreaker={(breaker) => choose({ breaker })}
            {...(advice === undefined ? {} : { orders: orders(advice) })}
          />
        )}
      </Box>
    </Stack>
  );
}
