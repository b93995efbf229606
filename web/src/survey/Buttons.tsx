import { Chip, Paper, Stack, Typography } from "@mui/material";
import { useCommit } from "../api/edits";
import { useButtons } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { pointName } from "../parts/words";

/** Asks for ground-fault devices in the rooms that usually have one: what hangs behind an unknown one is looked for in vain. */
export function Buttons() {
  const { id, house } = useHouseView();
  const asked = useButtons(id);
  const commit = useCommit(id);
  const open = asked.data ?? [];
  const none = (asked: number) => {
    const room = house.rooms.find((r) => r.id === asked);
    if (room !== undefined) {
      commit.mutate({ type: "put-room", room: { ...room, no_device: true } });
    }
  };
  if (open.length === 0) {
    return null;
  }
  return (
    <Paper variant="outlined" sx={{ p: 2 }} role="region" aria-label="Outlets with buttons">
      <Typography variant="h3" gutterBottom>
        Outlets with TEST and RESET buttons
      </Typography>
      <Typography gutterBottom>
        Such an outlet can switch others off, in other rooms too. Tap it where there is one.
      </Typography>
      {open.map((ask) => (
        <Stack key={ask.room} spacing={0.75} sx={{ mb: 1.5 }}>
          <Typography>{ask.said}</Typography>
          <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
            {house.points
              .filter((p) => ask.points.includes(p.id))
              .map((point) => (
                <Chip
                  key={point.id}
                  variant="outlined"
                  label={`${pointName(point)} (${point.tag})`}
                  disabled={commit.isPending}
                  onClick={() => commit.mutate({ type: "put-point", point: { ...point, ground_fault: true } })}
                />
              ))}
            <Chip label="none of these" disabled={commit.isPending} onClick={() => none(ask.room)} />
          </Stack>
        </Stack>
      ))}
      <ProblemNote error={commit.error} />
    </Paper>
  );
}
