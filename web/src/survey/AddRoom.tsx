import { Box, Button, Chip, Paper, Stack, TextField, Typography } from "@mui/material";
import { type FormEvent, useDeferredValue, useState } from "react";
import type { Item } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useCatalog } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { Counter } from "./Counter";

/** A room with its usual points as counts to adjust. */
export function AddRoom({ onAdded }: { onAdded: (room: number) => void }) {
  const { id, house } = useHouseView();
  const catalog = useCatalog();
  const commit = useCommit(id);
  const [name, setName] = useState("");
  const [floor, setFloor] = useState(house.rooms[house.rooms.length - 1]?.floor ?? "1");
  const [items, setItems] = useState<Item[]>();
  const choose = (room: string, usual: Item[]) => {
    const taken = house.rooms.filter((r) => r.name.startsWith(room)).length;
    setName(taken === 0 ? room : `${room} ${taken + 1}`);
    setItems(usual);
  };
  const setCount = (index: number, count: number) =>
    setItems((old) => old?.map((item, i) => (i === index ? { ...item, count } : item)));
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const room = { id: newId(), name: name.trim(), floor: floor.trim() };
    const wanted = (items ?? []).filter((item) => item.count > 0);
    const total = wanted.reduce((sum, item) => sum + item.count, 0);
    commit.mutate(
      {
        type: "batch",
        changes: [
          { type: "put-room", room },
          { type: "add-points", room: room.id, first: newId(total), items: wanted },
        ],
      },
      {
        onSuccess: () => {
          setItems(undefined);
          onAdded(room.id);
        },
      },
    );
  };
  // Drawn when nothing else waits: a finger comes first.
  const usual = useDeferredValue(catalog.data?.rooms) ?? [];
  return (
    <Paper variant="outlined" sx={{ p: 2 }}>
      <Typography variant="h3" gutterBottom>
        Add a room
      </Typography>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1, mb: 1 }}>
        {usual.map((room) => (
          <Chip
            key={room.room}
            label={room.room}
            onClick={() => choose(room.room, room.items)}
            variant={items === room.items ? "filled" : "outlined"}
          />
        ))}
      </Stack>
      {items !== undefined && (
        <Stack component="form" spacing={1.5} onSubmit={submit}>
          <Stack direction="row" spacing={2} sx={{ mt: 1 }}>
            <TextField label="Room" value={name} onChange={(event) => setName(event.target.value)} autoFocus />
            <TextField
              label="Floor"
              value={floor}
              onChange={(event) => setFloor(event.target.value)}
              sx={{ width: 120 }}
            />
          </Stack>
          <Box sx={{ display: "grid", gridTemplateColumns: "repeat(auto-fill, minmax(250px, 1fr))", gap: 0.5 }}>
            {items.map((item, index) => (
              <Counter key={`${item.kind}-${item.name}`} item={item} onChange={(count) => setCount(index, count)} />
            ))}
          </Box>
          <ProblemNote error={commit.error} />
          <Stack direction="row" spacing={1}>
            <Button
              type="submit"
              variant="contained"
              disabled={commit.isPending || name.trim() === "" || floor.trim() === ""}
            >
              Add {name}
            </Button>
            <Button onClick={() => setItems(undefined)}>Cancel</Button>
          </Stack>
        </Stack>
      )}
    </Paper>
  );
}
