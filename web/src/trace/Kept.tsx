import { Alert, Button, Paper, Typography } from "@mui/material";
import type { Tracing } from "./useTracing";

/** Answers kept on this device: waiting for the connection, or refused. */
export function Kept({ tracing }: { tracing: Tracing }) {
  const refused = tracing.waiting.filter((w) => w.refused !== undefined);
  const waiting = tracing.waiting.length - refused.length;
  return (
    <>
      {waiting > 0 && (
        <Alert severity="info" role="status">
          {waiting === 1 ? "1 answer is" : `${waiting} answers are`} kept on this phone and not sent yet. Go on; nothing
          is lost.
        </Alert>
      )}
      {refused.map((w) => (
        <Alert
          key={w.nth}
          severity="warning"
          action={
            <Button color="inherit" onClick={() => void tracing.dropRefused(w.nth ?? 0)}>
              Read
            </Button>
          }
        >
          An answer could not be taken: {w.refused}
        </Alert>
      ))}
    </>
  );
}

/** The tour is answered, but nobody has heard of it yet. */
export function WaitingCard({ kept }: { kept: number }) {
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Walk back into reach
      </Typography>
      <Typography>
        This tour is answered. {kept} answers go out by themselves when Wayfinder can be reached; then the next order
        comes.
      </Typography>
    </Paper>
  );
}
