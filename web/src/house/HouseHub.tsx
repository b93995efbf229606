import { Box, Link, Stack, Typography } from "@mui/material";
import { useHouseView } from "../app/house";
import { Door } from "../parts/Door";
import { count } from "../parts/words";

/** Everything of the house that is not a question of today: what is in it, what it carries, what is printed, what happened. */
export function HouseHub() {
  const { id, house } = useHouseView();
  const floors = new Set(house.rooms.map((r) => r.floor)).size;
  return (
    <Stack spacing={2} sx={{ maxWidth: 900 }}>
      <Typography variant="h2" component="h1">
        The house
      </Typography>
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 1.5 }}>
        <Door
          to="../survey"
          title="Panels and rooms"
          under={`${count(house.panels.length, "panel")}, ${count(house.rooms.length, "room")}, ${count(house.points.length, "point")}`}
        />
        <Door to="../plan" title="Plan" under={`${count(floors, "floor")}, drawn to scale, with each circuit`} />
        <Door to="../loads" title="Loads" under="what circuits and legs carry; room for more" />
        <Door to="../directory" title="Directory" under="the card for the panel’s door" />
        <Door to="../log" title="Log" under="trips, resets, tests, notes, what was changed" />
      </Box>
      <Typography>
        <Link href={`/api/v1/houses/${id}/export.json`} download>
          Save all of it as one file
        </Link>
        , to keep or to take elsewhere.
      </Typography>
    </Stack>
  );
}
