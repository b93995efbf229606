import { Box, Button, Chip, MenuItem, Stack, TextField, Typography, useMediaQuery } from "@mui/material";
import { useDeferredValue, useState } from "react";
import { useSearchParams } from "react-router";
import type { PlanView } from "../api/client";
import { useCommit } from "../api/edits";
import { usePlan } from "../api/reads";
import { useHouseView } from "../app/house";
import { PHONE } from "../app/stance";
import { useFound } from "../findings/useFound";
import { PointLoads } from "../loads/PointLoads";
import { ProblemNote } from "../parts/ProblemNote";
import { useSize } from "../parts/size";
import { PointForm } from "../survey/PointForm";
import { type OnPlan, PlanDrawing } from "./PlanDrawing";
import { DrawRoom, RoomOnPlan } from "./RoomForms";
import { type Share, UnderlayForm } from "./UnderlayForm";

/** The floors to scale: rooms by their sizes, points at their places with their circuits' numbers. */
export function PlanPage() {
  const { id, house } = useHouseView();
  const [asked] = useSearchParams();
  const askedRoom = house.rooms.find((r) => r.id === Number(asked.get("room")));
  const [picked, setPicked] = useState<string>();
  const floor = picked ?? askedRoom?.floor ?? house.rooms[0]?.floor;
  const plan = usePlan(id, floor);
  // Much is drawn at once: a finger comes first.
  const view = useDeferredValue(plan.data);
  if (floor === undefined) {
    return <Typography>Enter the rooms under House first; here they are drawn by their sizes.</Typography>;
  }
  return (
    <Stack spacing={2}>
      <ProblemNote error={plan.error} />
      {view !== undefined && <Floor key={view.floor} view={view} first={askedRoom?.id} onFloor={setPicked} />}
    </Stack>
  );
}

interface FloorProps {
  view: PlanView;
  first: number | undefined;
  onFloor: (floor: string) => void;
}

/** Pixels an inch of the house, for marks beside one another to be told apart. */
const READABLE = 1.5;

function Floor({ view, first, onFloor }: FloorProps) {
  const small = useMediaQuery(PHONE);
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [chosen, setChosen] = useState<OnPlan>(first === undefined ? undefined : { room: first });
  const [marking, setMarking] = useState(false);
  const [marks, setMarks] = useState<Share[]>([]);
  const [box, size] = useSize<HTMLDivElement>();
  const moveRoom = (room: number, x: number, y: number) => {
    const area = view.rooms.find((r) => r.room === room)?.area;
    if (area !== undefined) {
      commit.mutate({ type: "place-room", room, area: { ...area, x, y } });
    }
  };
  const found = useFound(id).points;
  return (
    <>
      <Stack direction="row" sx={{ alignItems: "center", flexWrap: "wrap", gap: 1.5 }}>
        <TextField
          select
          label="Floor"
          value={view.floor}
          onChange={(e) => onFloor(e.target.value)}
          sx={{ minWidth: 120 }}
        >
          {view.floors.map((floor) => (
            <MenuItem key={floor} value={floor}>
              {floor}
            </MenuItem>
          ))}
        </TextField>
        {view.bounds != null && <Prints view={view} />}
      </Stack>
      {/* On a phone it is drawn so large that its words can be read, and moved under the screen with a finger. */}
      <Box ref={box} sx={{ overflow: "auto" }}>
        {size.width > 0 && (
          <PlanDrawing
            view={view}
            house={id}
            width={small ? Math.max(size.width, (view.bounds?.width ?? 0) * READABLE) : size.width}
            height={small ? Number.POSITIVE_INFINITY : Math.max(360, Math.min(520, size.width * 0.75))}
            chosen={chosen}
            found={found}
            onChoose={setChosen}
            onMoveRoom={moveRoom}
            onMovePoint={(point, x, y) => commit.mutate({ type: "place-point", point, x, y })}
            marking={marking ? (share) => setMarks((old) => (old.length > 1 ? [share] : [...old, share])) : undefined}
          />
        )}
      </Box>
      <ProblemNote error={commit.error} />
      <Unplaced view={view} onPlace={(point, x, y) => commit.mutate({ type: "place-point", point, x, y })} />
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 4, alignItems: "start" }}>
        <ChosenThing view={view} chosen={chosen} onDone={() => setChosen(undefined)} />
        <DrawRoom view={view} />
        <UnderlayForm
          view={view}
          marks={marks}
          marking={marking}
          onMark={(on) => {
            setMarks([]);
            setMarking(on);
          }}
        />
      </Stack>
    </>
  );
}

function ChosenThing({ view, chosen, onDone }: { view: PlanView; chosen: OnPlan; onDone: () => void }) {
  const { id, house, choose } = useHouseView();
  const commit = useCommit(id);
  if (chosen === undefined) {
    return null;
  }
  if ("room" in chosen) {
    const size = view.rooms.find((r) => r.room === chosen.room)?.size;
    return <RoomOnPlan key={`${chosen.room} ${size}`} view={view} room={chosen.room} />;
  }
  if ("opening" in chosen) {
    return (
      <Stack spacing={1}>
        <Typography variant="h3">{view.openings.find((o) => o.opening === chosen.opening)?.kind}</Typography>
        <Button
          variant="outlined"
          onClick={() => commit.mutate({ type: "remove-opening", opening: chosen.opening }, { onSuccess: onDone })}
        >
          Take it out of the wall
        </Button>
        <ProblemNote error={commit.error} />
      </Stack>
    );
  }
  const point = house.points.find((p) => p.id === chosen.point);
  return point === undefined ? null : (
    <Stack spacing={1}>
      <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
        <Typography variant="h3">Point {point.tag}</Typography>
        <Button onClick={() => choose({ point: point.id })}>What feeds it …</Button>
      </Stack>
      <PointForm key={JSON.stringify(point)} point={point} onDone={onDone} />
      <PointLoads point={point} />
    </Stack>
  );
}

/** Points of drawn rooms that have no place yet; a tap puts one into its room's middle, to be dragged from there. */
function Unplaced({ view, onPlace }: { view: PlanView; onPlace: (point: number, x: number, y: number) => void }) {
  const { house } = useHouseView();
  if (view.unplaced.length === 0) {
    return null;
  }
  const place = (point: number) => {
    const room = view.rooms.find((r) => r.room === house.points.find((p) => p.id === point)?.room);
    if (room !== undefined) {
      onPlace(point, room.area.x + room.area.width / 2, room.area.y + room.area.depth / 2);
    }
  };
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 0.75, alignItems: "center" }}>
      <Typography>Not placed yet:</Typography>
      {view.unplaced.map((id) => {
        const point = house.points.find((p) => p.id === id);
        return <Chip key={id} label={`${point?.tag} ${point?.name ?? ""}`.trim()} onClick={() => place(id)} />;
      })}
    </Stack>
  );
}

function Prints({ view }: { view: PlanView }) {
  const { id } = useHouseView();
  const path = (kind: string, scale: string) =>
    `/api/v1/houses/${id}/plans/${encodeURIComponent(view.floor)}/plan.${kind}?scale=${encodeURIComponent(scale)}`;
  return (
    <Stack direction="row" spacing={0.5} sx={{ alignItems: "center", flexWrap: "wrap" }}>
      <Typography sx={{ color: "text.secondary" }}>Print (PDF):</Typography>
      {["1/4in", "1:50", "fit"].map((scale) => (
        <Button key={scale} component="a" href={path("pdf", scale)} target="_blank" rel="noreferrer">
          {scale === "1/4in" ? "1/4 in = 1 ft" : scale}
        </Button>
      ))}
      <Button component="a" href={path("svg", "1:50")} download="plan.svg">
        SVG
      </Button>
    </Stack>
  );
}
