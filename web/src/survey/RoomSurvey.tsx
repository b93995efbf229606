import {
  Box,
  Button,
  Chip,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  Paper,
  Stack,
  Typography,
} from "@mui/material";
import { useDeferredValue, useState } from "react";
import type { Item, Room } from "../api/client";
import { newId, useCommit, useUndo } from "../api/edits";
import { useForgotten } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { type Noted, Undoable } from "../parts/Undoable";
import { useBitByBit } from "../parts/useBitByBit";
import { AddRoom } from "./AddRoom";
import { Buttons } from "./Buttons";
import { RoomCard } from "./RoomCard";

/** Rooms with their points, and what people forget. */
export function RoomSurvey() {
  const { id, house } = useHouseView();
  const [noted, setNoted] = useState<Noted>();
  const [fresh, setFresh] = useState<number>();
  const undo = useUndo(id);
  const drawn = useBitByBit(house.rooms.length, 2);
  return (
    <Box component="section" aria-labelledby="rooms-title">
      <Typography variant="h2" id="rooms-title" gutterBottom>
        Rooms and points
      </Typography>
      <Typography sx={{ mb: 2 }}>
        A point is a receptacle, a light, an appliance: whatever can go dark. Each gets a tag to write on its cover
        plate.
      </Typography>
      <Stack spacing={2}>
        <AddRoom onAdded={setFresh} />
        {house.rooms.slice(0, drawn).map((room) => (
          <RoomCard
            key={room.id}
            room={room}
            points={house.points.filter((p) => p.room === room.id)}
            fresh={room.id === fresh}
            onTaken={setNoted}
          />
        ))}
        <Buttons />
        {house.rooms.length > 0 && <Forgotten />}
      </Stack>
      <ProblemNote error={undo.error} />
      <Undoable
        noted={noted}
        busy={undo.isPending}
        onUndo={(noted) => undo.mutate(noted.revision, { onSuccess: () => setNoted(undefined) })}
        onGone={() => setNoted(undefined)}
      />
    </Box>
  );
}

/** Points that nobody finds unless asked. */
function Forgotten() {
  const { id, house } = useHouseView();
  const open = useDeferredValue(useForgotten(id).data) ?? [];
  const commit = useCommit(id);
  const [item, setItem] = useState<Item>();
  const none = (absent: string) =>
    commit.mutate({
      type: "set-about",
      about: { ...house.about, absent: [...(house.about.absent ?? []), absent] },
    });
  const add = (room: Room) => {
    if (item !== undefined) {
      commit.mutate({ type: "add-points", room: room.id, first: newId(), items: [{ ...item, count: 1 }] });
    }
    setItem(undefined);
  };
  if (open.length === 0) {
    return null;
  }
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography variant="h3" gutterBottom>
        Often forgotten. Is there a …
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {open.map((f) => (
          <Chip key={f.name} label={`${f.name}?`} onClick={() => setItem(f)} variant="outlined" />
        ))}
      </Stack>
      <ProblemNote error={commit.error} />
      <Dialog open={item !== undefined} onClose={() => setItem(undefined)} aria-labelledby="where-title">
        <DialogTitle id="where-title">Where is the {item?.name}?</DialogTitle>
        <DialogContent>
          <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
            {house.rooms.map((room) => (
              <Button key={room.id} variant="outlined" onClick={() => add(room)}>
                {room.name}
              </Button>
            ))}
          </Stack>
        </DialogContent>
        <DialogActions>
          <Button
            onClick={() => {
              if (item?.name !== undefined) {
                none(item.name);
              }
              setItem(undefined);
            }}
          >
            There is none
          </Button>
          <Button onClick={() => setItem(undefined)}>Close</Button>
        </DialogActions>
      </Dialog>
    </Paper>
  );
}
