import { Box, Link, Stack, Typography } from "@mui/material";
import { useSession } from "../api/reads";
import { useHouseView } from "../app/house";
import { Door } from "../parts/Door";
import { count } from "../parts/words";

/** As high as a finger. */
const file = { display: "inline-block", py: 1.5, mr: 1, fontWeight: 700 };

/** Everything of the house that is not a question of today: what is in it, what it carries, what is printed, what happened. */
export function HouseHub() {
  const { id, house } = useHouseView();
  const here = useSession().data?.here !== false;
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
        <Door to="../directory" title="Directory" under="the card for the door, labels, schedule, wall sheet" />
        <Door to="../findings" title="Findings" under="what is wrong, how grave, who mends it" />
        <Door to="../log" title="Log" under="trips, resets, tests, notes, what was changed" />
        <Door
          to="/phone"
          title={here ? "Let a phone in" : "This phone"}
          under={here ? "by its camera; no typing" : "out of the computer’s reach, on the home screen"}
        />
      </Box>
      <Typography>
        <Link href={`/api/v1/houses/${id}/export.json`} download sx={file}>
          Save this house as a file
        </Link>
        to take it elsewhere; “Bring a house” reads it.
      </Typography>
      <Typography>
        <Link href="/api/v1/backup" download sx={file}>
          Back everything up
        </Link>
        all houses with their pictures and history, as one file.
      </Typography>
    </Stack>
  );
}
