import { Alert, Button, Stack, Table, TableBody, TableCell, TableHead, TableRow, Typography } from "@mui/material";
import type { Panel } from "../api/client";
import { useCommit } from "../api/edits";
import { useDirectory } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { useCardState } from "../parts/useCardState";

/** Whether the card on the door still says what is so, line by line; and what the old labels lack. */
export function CardState({ panel }: { panel: Panel }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const { stale, said } = useCardState(panel);
  const card = useDirectory(id).data?.cards.find((c) => c.panel === panel.id);
  const lines = card?.stale ?? [];
  const earlier = panel.earlier ?? [];
  return (
    <Stack spacing={1}>
      {panel.printed == null ? (
        <Typography>{said}</Typography>
      ) : (
        <Alert severity={stale ? "warning" : "info"} icon={false}>
          {said} Printed {new Date(panel.printed.time).toLocaleDateString()}, revision {panel.printed.revision}.
        </Alert>
      )}
      {lines.length > 0 && (
        <Table size="small" aria-label="Lines that changed">
          <TableHead>
            <TableRow>
              <TableCell>No.</TableCell>
              <TableCell>The door says</TableCell>
              <TableCell>It is now</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {lines.map((line) => (
              <TableRow key={line.at}>
                <TableCell className="mono">{line.at}</TableCell>
                <TableCell>{line.was === "" ? "nothing" : line.was}</TableCell>
                <TableCell>{line.now === "" ? "no more there" : line.now}</TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
      <Button
        variant="outlined"
        disabled={commit.isPending}
        onClick={() => commit.mutate({ type: "card-printed", panel: panel.id, time: new Date().toISOString() })}
      >
        It is printed and on the door
      </Button>
      {earlier.length > 0 && (
        <Typography sx={{ color: "text.secondary" }}>
          Before that: {earlier.map((p) => `${new Date(p.time).toLocaleDateString()} (rev. ${p.revision})`).join(", ")}.
        </Typography>
      )}
      {(card?.poor.length ?? 0) > 0 && panel.printed == null && (
        <Typography component="div">
          Old labels that tell too little:
          <ul>
            {card?.poor.map((poor) => (
              <li key={poor.at}>
                {poor.at}: {poor.said}
              </li>
            ))}
          </ul>
        </Typography>
      )}
      <ProblemNote error={commit.error} />
    </Stack>
  );
}
