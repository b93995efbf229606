import { Alert, Button, Paper, Typography } from "@mui/material";
import type { Waiting } from "../api/outbox";
import { count } from "../parts/words";
import { usePresence } from "./presence";

/** How many answers wait on this device. */
export function keptHere(kept: number): string {
  return `${count(kept, "answer")} ${kept === 1 ? "is" : "are"} kept on this device`;
}

/** Answers kept on this device: waiting for the connection, or refused. */
export function Kept({ waiting: all, onRead }: { waiting: Waiting[]; onRead: (nth: number) => unknown }) {
  const presence = usePresence();
  const refused = all.filter((w) => w.refused !== undefined);
  const waiting = all.length - refused.length;
  return (
    <>
      {waiting > 0 && !presence.cut && (
        <Alert severity="info" role="status">
          {keptHere(waiting)} and not sent yet. Go on; nothing is lost.
        </Alert>
      )}
      {refused.map((w) => (
        <Alert
          key={w.nth}
          severity="warning"
          action={
            <Button color="inherit" onClick={() => void onRead(w.nth ?? 0)}>
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

/** What comes next cannot be known here: nobody has heard of the answers yet, or others may have gone on meanwhile. */
export function WaitingCard({ kept }: { kept: number }) {
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography variant="h2" gutterBottom>
        Walk back into reach
      </Typography>
      <Typography>
        {kept > 0
          ? `This tour is answered. ${keptHere(kept)}, and sent when Wayfinder can be reached; then the next order comes.`
          : "The other may have gone on meanwhile: the order comes when Wayfinder can be reached."}
      </Typography>
    </Paper>
  );
}
