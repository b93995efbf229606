import { Button, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { Change, Opening, PlanView, Room, Wall } from "../api/client";
import { newId, readLength, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { LengthField } from "./LengthField";

export const walls: Wall[] = ["north", "east", "south", "west"];
const wallWord: Record<Wall, string> = {
  north: "top (north)",
  east: "right (east)",
  south: "bottom (south)",
  west: "left (west)",
};

/** Reads lengths on the server, then makes the change of them. */
function useLengthChange() {
  const { id } = useHouseView();
  const commit = useCommit(id);
  return useMutation({
    mutationFn: async ({ texts, change }: { texts: string[]; change: (inches: number[]) => Change }) => {
      const inches = await Promise.all(texts.map((text) => readLength(id, text)));
      await commit.mutateAsync(change(inches));
    },
  });
}

/** Draws a room that is not on the plan yet: its size, and which room it stands against. */
export function DrawRoom({ view }: { view: PlanView }) {
  const { house } = useHouseView();
  const draw = useLengthChange();
  const [room, setRoom] = useState<number | "">("");
  const [width, setWidth] = useState("");
  const [depth, setDepth] = useState("");
  const [beside, setBeside] = useState<number | "">("");
  const [side, setSide] = useState<Wall>("east");
  const [shift, setShift] = useState("0");
  const open = view.undrawn.map((r) => house.rooms.find((x) => x.id === r)).filter((r): r is Room => r !== undefined);
  const chosen = open.some((r) => r.id === room) ? room : (open[0]?.id ?? "");
  if (open.length === 0) {
    return null;
  }
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (chosen === "") {
      return;
    }
    draw.mutate(
      {
        texts: [width, depth, shift],
        change: ([w = 0, d = 0, s = 0]) => ({
          type: "place-beside",
          room: chosen,
          width: w,
          depth: d,
          beside: beside === "" ? null : beside,
          side,
          shift: s,
        }),
      },
      {
        onSuccess: () => {
          setWidth("");
          setDepth("");
          setBeside(chosen);
          setShift("0");
        },
      },
    );
  };
  return (
    <Stack component="form" spacing={1.5} onSubmit={submit} aria-label="Draw a room">
      <Typography variant="h3">Draw a room</Typography>
      <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap", rowGap: 1 }}>
        <TextField
          select
          label="Room"
          value={chosen}
          onChange={(e) => setRoom(Number(e.target.value))}
          sx={{ width: 160 }}
        >
          {open.map((r) => (
            <MenuItem key={r.id} value={r.id}>
              {r.name}
            </MenuItem>
          ))}
        </TextField>
        <LengthField label="Width" value={width} onChange={setWidth} />
        <LengthField label="Depth" value={depth} onChange={setDepth} />
      </Stack>
      {view.rooms.length > 0 && (
        <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap", rowGap: 1 }}>
          <TextField
            select
            label="Against"
            value={view.rooms.some((r) => r.room === beside) ? beside : ""}
            onChange={(e) => setBeside(e.target.value === "" ? "" : Number(e.target.value))}
            sx={{ width: 160 }}
          >
            <MenuItem value="">right of all</MenuItem>
            {view.rooms.map((r) => (
              <MenuItem key={r.room} value={r.room}>
                {r.name}
              </MenuItem>
            ))}
          </TextField>
          <TextField
            select
            label="On its side"
            value={side}
            onChange={(e) => setSide(e.target.value as Wall)}
            sx={{ width: 150 }}
          >
            {walls.map((wall) => (
              <MenuItem key={wall} value={wall}>
                {wallWord[wall]}
              </MenuItem>
            ))}
          </TextField>
          <LengthField label="From its corner" value={shift} onChange={setShift} />
        </Stack>
      )}
      <ProblemNote error={draw.error} />
      <Button
        type="submit"
        variant="contained"
        disabled={draw.isPending || width === "" || depth === ""}
        sx={{ alignSelf: "start" }}
      >
        Draw it
      </Button>
    </Stack>
  );
}

/** A drawn room: its size, what opens in its walls. */
export function RoomOnPlan({ view, room }: { view: PlanView; room: number }) {
  const { id } = useHouseView();
  const resize = useLengthChange();
  const commit = useCommit(id);
  const drawn = view.rooms.find((r) => r.room === room);
  const [w = "", d = ""] = drawn?.size.split(" x ") ?? [];
  const [width, setWidth] = useState(w);
  const [depth, setDepth] = useState(d);
  const { house } = useHouseView();
  if (drawn === undefined) {
    return null;
  }
  const submit = (event: FormEvent) => {
    event.preventDefault();
    resize.mutate({
      texts: [width, depth],
      change: ([wide = 0, deep = 0]) => ({
        type: "place-room",
        room,
        area: { x: drawn.area.x, y: drawn.area.y, width: wide, depth: deep },
      }),
    });
  };
  const takeOff = () => {
    const whole = house.rooms.find((r) => r.id === room);
    if (whole !== undefined) {
      const openings = (house.openings ?? []).filter((o) => o.room === room || o.to === room);
      const spots = house.points.filter((p) => p.room === room && p.spot != null);
      commit.mutate({
        type: "batch",
        changes: [
          ...openings.map((o): Change => ({ type: "remove-opening", opening: o.id })),
          ...spots.map((p): Change => ({ type: "put-point", point: { ...p, spot: null } })),
          { type: "put-room", room: { ...whole, area: null } },
        ],
      });
    }
  };
  return (
    <Stack spacing={1.5}>
      <Stack component="form" spacing={1.5} onSubmit={submit} aria-label={`Size of ${drawn.name}`}>
        <Typography variant="h3">{drawn.name}</Typography>
        <Stack direction="row" spacing={1}>
          <LengthField label="Width" value={width} onChange={setWidth} />
          <LengthField label="Depth" value={depth} onChange={setDepth} />
        </Stack>
        <Typography sx={{ color: "text.secondary" }}>
          {Math.round(drawn.square_feet)} sq ft. Drag it, or hold it with Enter and use the arrow keys.
        </Typography>
        <ProblemNote error={resize.error ?? commit.error} />
        <Stack direction="row" spacing={1}>
          <Button type="submit" variant="outlined" disabled={resize.isPending}>
            Change the size
          </Button>
          <Button onClick={takeOff} disabled={commit.isPending}>
            Take off the plan
          </Button>
        </Stack>
      </Stack>
      <AddOpening room={room} />
    </Stack>
  );
}

const kinds: Opening["kind"][] = ["door", "window", "passage", "stairs"];

function AddOpening({ room }: { room: number }) {
  const { house } = useHouseView();
  const add = useLengthChange();
  const [kind, setKind] = useState<Opening["kind"]>("door");
  const [wall, setWall] = useState<Wall>("north");
  const [along, setAlong] = useState("1'");
  const [width, setWidth] = useState("2'8\"");
  const [to, setTo] = useState<number | "">("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    add.mutate({
      texts: [along, width],
      change: ([from = 0, wide = 0]) => ({
        type: "put-opening",
        opening: {
          id: newId(),
          room,
          kind,
          wall,
          along: from,
          width: wide,
          to: kind === "stairs" && to !== "" ? to : null,
        },
      }),
    });
  };
  return (
    <Stack component="form" spacing={1.5} onSubmit={submit} aria-label="Add an opening">
      <Typography variant="h3">Door, window, stairs</Typography>
      <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap", rowGap: 1 }}>
        <TextField
          select
          label="What"
          value={kind}
          onChange={(e) => setKind(e.target.value as Opening["kind"])}
          sx={{ width: 110 }}
        >
          {kinds.map((k) => (
            <MenuItem key={k} value={k}>
              {k}
            </MenuItem>
          ))}
        </TextField>
        <TextField
          select
          label="Wall"
          value={wall}
          onChange={(e) => setWall(e.target.value as Wall)}
          sx={{ width: 150 }}
        >
          {walls.map((w) => (
            <MenuItem key={w} value={w}>
              {wallWord[w]}
            </MenuItem>
          ))}
        </TextField>
        <LengthField label="From its end" value={along} onChange={setAlong} />
        <LengthField label="How wide" value={width} onChange={setWidth} />
        {kind === "stairs" && (
          <TextField
            select
            label="Lead to"
            value={to}
            onChange={(e) => setTo(Number(e.target.value))}
            sx={{ width: 160 }}
          >
            {house.rooms
              .filter((r) => r.id !== room)
              .map((r) => (
                <MenuItem key={r.id} value={r.id}>
                  {r.name}
                </MenuItem>
              ))}
          </TextField>
        )}
      </Stack>
      <ProblemNote error={add.error} />
      <Button type="submit" variant="outlined" disabled={add.isPending} sx={{ alignSelf: "start" }}>
        Put it in the wall
      </Button>
    </Stack>
  );
}
