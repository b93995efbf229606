import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { useJobPairs } from "../api/reads";
import { useHouseView } from "../app/house";

/** Pairs of circuits that may share a breaker, with what speaks for and against each. */
export function Pairs({ onChoose }: { onChoose: (pair: Schemas["Joining"]) => void }) {
  const { id, panel } = useHouseView();
  const pairs = useJobPairs(id, panel).data?.filter((pair) => pair.refused.length === 0);
  if (pairs === undefined) {
    return null;
  }
  if (pairs.length === 0) {
    return (
      <Typography>
        No two circuits of this panel may share a breaker, as far as is proven. Tracing more of it may show some: only
        what is known is combined.
      </Typography>
    );
  }
  return (
    <Box component="section" aria-labelledby="pairs">
      <Typography variant="h3" component="h2" id="pairs" gutterBottom>
        Pairs that may, the best first
      </Typography>
      <Stack spacing={1}>
        {pairs.slice(0, 6).map((pair) => (
          <Paper key={pair.said} variant="outlined" sx={{ p: 1.5 }}>
            <Typography sx={{ fontWeight: 700 }}>{pair.said}</Typography>
            <Typography>
              {pair.usual.toFixed(1)} A at the usual peak, {pair.worst.toFixed(1)} A all at once.
            </Typography>
            {pair.reasons_for.map((why) => (
              <Typography key={why}>For: {why}.</Typography>
            ))}
            {pair.reasons_against.map((why) => (
              <Typography key={why}>Against: {why}.</Typography>
            ))}
            <Button variant="outlined" sx={{ mt: 1 }} onClick={() => onChoose(pair.joining)}>
              Plan this pair
            </Button>
          </Paper>
        ))}
      </Stack>
    </Box>
  );
}
