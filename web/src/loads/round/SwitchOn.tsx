import { Box, Button, Checkbox, FormControlLabel, Paper, Stack, Typography } from "@mui/material";
import type { Load } from "../../api/client";
import { useLoads } from "../../api/reads";
import { useHouseView } from "../../app/house";
import type { Going } from "./useRound";

/** What runs, room by room, ticked by whoever switches it on: on any phone, seen on all. */
export function SwitchOn({ going }: { going: Going }) {
  const { house } = useHouseView();
  const loads = (house.loads ?? []).filter((l) => l.id !== going.round.asked);
  const mine = useOfRound(going);
  const roomOf = (load: Load) => house.points.find((p) => p.id === load.point)?.room;
  const rooms = house.rooms
    .map((room) => ({ room, loads: loads.filter((l) => roomOf(l) === room.id) }))
    .filter((r) => r.loads.length > 0)
    .sort((a, b) => Number(b.loads.some((l) => mine(l.id))) - Number(a.loads.some((l) => mine(l.id))));
  return (
    <Stack spacing={1.5}>
      {rooms.map(({ room, loads }) => {
        const left = loads.filter((l) => !going.isOn(l.id)).map((l) => l.id);
        return (
          <Paper key={room.id} variant="outlined" sx={{ px: 2, py: 1 }} component="section" aria-label={room.name}>
            <Box sx={{ display: "flex", alignItems: "center", gap: 1 }}>
              <Typography variant="h3" sx={{ flexGrow: 1 }}>
                {room.name}
              </Typography>
              <Button
                sx={{ minHeight: 44 }}
                disabled={left.length === 0}
                aria-label={`All on in ${room.name}`}
                onClick={() => going.switched(left, true)}
              >
                All on
              </Button>
            </Box>
            {loads.map((load) => (
              <FormControlLabel
                key={load.id}
                sx={{ minHeight: 44, display: "flex" }}
                control={
                  <Checkbox checked={going.isOn(load.id)} onChange={(_, ticked) => going.switched([load.id], ticked)} />
                }
                label={
                  <>
                    {load.name} <span className="mono">{house.points.find((p) => p.id === load.point)?.tag}</span>
                  </>
                }
              />
            ))}
          </Paper>
        );
      })}
    </Stack>
  );
}

/** What hangs on the one breaker that a round is about: it comes first. */
function useOfRound({ round }: Going): (load: number) => boolean {
  const circuits = useLoads(useHouseView().id).data?.circuits;
  const things = circuits?.find((c) => c.breaker === round.only)?.things ?? [];
  const mine = new Set(things.map((t) => ("load" in t.thing ? t.thing.load : 0)));
  return (load) => mine.has(load);
}
