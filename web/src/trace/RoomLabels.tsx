import { Link, Typography } from "@mui/material";
import { Link as To } from "react-router";
import { useDirectory } from "../api/reads";
import { useHouseView } from "../app/house";

/** Rooms that are traced to the end, whose plates have no label yet: printed or copied by hand while one is there. */
export function RoomLabels() {
  const { id, house } = useHouseView();
  const named = useDirectory(id).data?.rooms_to_label ?? [];
  const due = named.flatMap((of) => house.rooms.filter((room) => room.id === of));
  if (due.length === 0) {
    return null;
  }
  return (
    <Typography component="div">
      Traced, and without labels yet:{" "}
      {due.map((room) => (
        <Link
          key={room.id}
          component={To}
          to={`/houses/${id}/directory?print=labels&room=${room.id}`}
          sx={{ display: "inline-flex", alignItems: "center", minHeight: 44, mr: 1.5, fontWeight: 650 }}
        >
          {room.name}
        </Link>
      ))}
    </Typography>
  );
}
