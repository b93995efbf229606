import {
  Box,
  Button,
  Chip,
  Dialog,
  DialogContent,
  DialogTitle,
  Paper,
  Stack,
  Table,
  TableBody,
  TableCell,
  TableRow,
  Typography,
} from "@mui/material";
import { useState } from "react";
import type { Change, Item, Point, Room } from "../api/client";
import { newId, useCommit, useUndo } from "../api/edits";
import { useCatalog } from "../api/reads";
import { useHouseView } from "../app/house";
import { PointLoads } from "../loads/PointLoads";
import { ProblemNote } from "../parts/ProblemNote";
import { type Noted, Undoable } from "../parts/Undoable";
import { pointName } from "../parts/words";
import { AddRoom } from "./AddRoom";
import { PointForm } from "./PointForm";

/** Rooms with their points, and what people forget. */
export function RoomSurvey() {
  const { id, house } = useHouseView();
  const [noted, setNoted] = useState<Noted>();
  const undo = useUndo(id);
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
        <AddRoom />
        {house.rooms.map((room) => (
          <RoomCard
            key={room.id}
            room={room}
            points={house.points.filter((p) => p.room === room.id)}
            onTaken={setNoted}
          />
        ))}
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

interface CardProps {
  room: Room;
  points: Point[];
  /** Something was taken out, with all that was observed of it. */
  onTaken: (noted: Noted) => void;
}

function RoomCard({ room, points, onTaken }: CardProps) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const takeOut = async (change: Change, name: string) => {
    // The card goes with its room, so what comes after is not left to its own callbacks.
    const done = await commit.mutateAsync(change).catch(() => undefined);
    if (done !== undefined) {
      onTaken({ text: `${name} taken out`, revision: done.revision });
    }
  };
  const [edited, setEdited] = useState<Point>();
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Stack direction="row" sx={{ justifyContent: "space-between", alignItems: "center" }}>
        <Typography variant="h3">
          {room.name}, floor {room.floor}
        </Typography>
        <Button
          onClick={() => takeOut({ type: "remove-room", room: room.id }, room.name)}
          aria-label={`Take out ${room.name}`}
        >
          Take out
        </Button>
      </Stack>
      <Table size="small" aria-label={`Points of ${room.name}`}>
        <TableBody>
          {points.map((point) => (
            <TableRow key={point.id}>
              <TableCell className="mono" sx={{ width: 64 }}>
                {point.tag}
              </TableCell>
              <TableCell>{pointName(point)}</TableCell>
              <TableCell>{point.kind}</TableCell>
              <TableCell className="mono">{point.volts == null ? "? V" : `${point.volts} V`}</TableCell>
              <TableCell align="right" sx={{ whiteSpace: "nowrap" }}>
                <Button size="small" onClick={() => setEdited(point)} aria-label={`Edit ${point.tag}`}>
                  Edit
                </Button>
                <Button
                  size="small"
                  onClick={() => takeOut({ type: "remove-point", point: point.id }, point.tag)}
                  aria-label={`Take out ${point.tag}`}
                >
                  Take out
                </Button>
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
      <ProblemNote error={commit.error} />
      <Dialog open={edited !== undefined} onClose={() => setEdited(undefined)} aria-labelledby="edit-title">
        <DialogTitle id="edit-title">Point {edited?.tag}</DialogTitle>
        <DialogContent>
          {edited !== undefined && (
            <Stack spacing={3}>
              <PointForm point={edited} onDone={() => setEdited(undefined)} />
              <PointLoads point={edited} />
            </Stack>
          )}
        </DialogContent>
      </Dialog>
    </Paper>
  );
}

/** Points that nobody finds unless asked. */
function Forgotten() {
  const { id, house } = useHouseView();
  const catalog = useCatalog();
  const commit = useCommit(id);
  const [item, setItem] = useState<Item>();
  const add = (room: Room) => {
    if (item !== undefined) {
      commit.mutate({ type: "add-points", room: room.id, first: newId(), items: [{ ...item, count: 1 }] });
    }
    setItem(undefined);
  };
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography variant="h3" gutterBottom>
        Often forgotten. Is there a …
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
        {catalog.data?.forgotten.map((f) => (
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
      </Dialog>
    </Paper>
  );
}
