import { Button, Stack, TextField, Typography } from "@mui/material";
import { type FormEvent, useState } from "react";
import { type Change, type Item, Problem, type Room } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { Counter } from "./Counter";

/** Any kind of point, to be given a name. */
const kinds: Item["kind"][] = ["receptacle", "light", "appliance", "switch", "alarm", "other"];

/** A finished room: its name, its floor, more points of any kind. */
export function ChangeRoom({ room, onDone }: { room: Room; onDone: () => void }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [name, setName] = useState(room.name);
  const [floor, setFloor] = useState(room.floor);
  const [called, setCalled] = useState("");
  const [items, setItems] = useState<Item[]>(() => kinds.map((kind) => ({ kind, name: "", volts: null, count: 0 })));
  const total = items.reduce((sum, item) => sum + item.count, 0);
  const fault = (field: string) =>
    commit.error instanceof Problem && commit.error.field === field ? commit.error.message : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const changes: Change[] = [{ type: "put-room", room: { ...room, name: name.trim(), floor: floor.trim() } }];
    if (total > 0) {
      const wanted = items.filter((item) => item.count > 0).map((item) => ({ ...item, name: called.trim() }));
      changes.push({ type: "add-points", room: room.id, first: newId(total), items: wanted });
    }
    commit.mutate({ type: "batch", changes }, { onSuccess: onDone });
  };
  return (
    <Stack component="form" spacing={2} sx={{ pt: 1, minWidth: 260 }} onSubmit={submit}>
      <TextField
        label="Room"
        value={name}
        error={fault("room.name") !== undefined}
        helperText={fault("room.name")}
        onChange={(e) => setName(e.target.value)}
      />
      <TextField
        label="Floor"
        value={floor}
        error={fault("room.floor") !== undefined}
        helperText={fault("room.floor")}
        onChange={(e) => setFloor(e.target.value)}
      />
      <Typography variant="h3">More points</Typography>
      <TextField
        label="What they are called (counter, ceiling …)"
        value={called}
        onChange={(e) => setCalled(e.target.value)}
      />
      <Stack>
        {items.map((item, index) => (
          <Counter
            key={item.kind}
            item={item}
            onChange={(count) => setItems((old) => old.map((i, n) => (n === index ? { ...i, count } : i)))}
          />
        ))}
      </Stack>
      <Typography sx={{ color: "text.secondary" }}>Fewer: “Take out” beside a point.</Typography>
      <ProblemNote error={commit.error} />
      <Stack direction="row" spacing={1}>
        <Button
          type="submit"
          variant="contained"
          disabled={commit.isPending || name.trim() === "" || floor.trim() === ""}
        >
          {total === 0 ? "Save" : `Save, add ${total}`}
        </Button>
        <Button onClick={onDone}>Cancel</Button>
      </Stack>
    </Stack>
  );
}
