import { Button, Chip, Stack, ToggleButton, ToggleButtonGroup, useMediaQuery } from "@mui/material";
import { useState } from "react";
import type { Point } from "../api/client";
import { useHouseView } from "../app/house";
import { PHONE } from "../app/stance";
import { pointName } from "../parts/words";
import { type Brush, PlanPicker } from "./PlanPicker";

interface Props {
  label: string;
  /** Points that may be chosen. */
  options: readonly Point[];
  /** What may be said; where there are two, one is in the hand. */
  brushes: readonly Brush[];
  /** A point was tapped with a brush in the hand. */
  onTap: (point: number, brush: Brush) => void;
}

const SIGN = { check: "✓ ", cross: "✕ " };

/** Chooses points without typing: on the plan where there is one, or room by room. */
export function QuickPick({ label, options, brushes, onTap }: Props) {
  const { house } = useHouseView();
  const phone = useMediaQuery(PHONE);
  const drawn = house.rooms.some((r) => r.area != null);
  // On a phone a plan takes all of the page: rooms first.
  const first = drawn && !phone ? "plan" : "room";
  const chosen = brushes.some((each) => each.value.length > 0);
  // What was chosen before is answered below: the plan does not stand before that.
  const [by, setBy] = useState<"room" | "plan" | null>(chosen ? null : first);
  const [room, setRoom] = useState<number>();
  const [said, setSaid] = useState(brushes[0]?.said);
  const brush = brushes.find((each) => each.said === said) ?? brushes[0];
  const rooms = house.rooms.filter((r) => options.some((p) => p.room === r.id));
  const tap = (point: number) => brush !== undefined && onTap(point, brush);
  const of = (point: number) => brushes.find((each) => each.value.includes(point));
  return (
    <Stack spacing={1} className="no-print">
      <Stack direction="row" sx={{ gap: 1.5, flexWrap: "wrap" }}>
        {!drawn && by === null && (
          <Button variant="outlined" onClick={() => setBy("room")} sx={{ minHeight: 44 }}>
            Room by room
          </Button>
        )}
        {drawn && (
          <ToggleButtonGroup
            exclusive
            value={by}
            aria-label={`${label}: choose`}
            onChange={(_, to) => to !== null && setBy(to)}
          >
            <ToggleButton value="plan" sx={{ minHeight: 44 }}>
              On the plan
            </ToggleButton>
            <ToggleButton value="room" sx={{ minHeight: 44 }}>
              Room by room
            </ToggleButton>
          </ToggleButtonGroup>
        )}
        {by !== null && chosen && (
          <Button onClick={() => setBy(null)} sx={{ minHeight: 44 }}>
            Fold it
          </Button>
        )}
        {brushes.length > 1 && by !== null && (
          <ToggleButtonGroup
            exclusive
            value={brush?.said}
            aria-label="What a tap says"
            onChange={(_, to) => to !== null && setSaid(to)}
          >
            {brushes.map((each) => (
              <ToggleButton key={each.said} value={each.said} sx={{ minHeight: 44 }}>
                {SIGN[each.mark]}
                {each.said}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        )}
      </Stack>
      {by === "room" && (
        <Chips
          of={rooms.map((r) => ({ id: r.id, name: r.name, on: r.id === room }))}
          onPress={(pressed) => setRoom(pressed === room ? undefined : pressed)}
        />
      )}
      {by === "room" && room !== undefined && (
        <Chips
          of={options
            .filter((p) => p.room === room)
            .map((p) => {
              const on = of(p.id);
              const sign = on === undefined ? "" : SIGN[on.mark];
              return { id: p.id, name: `${sign}${pointName(p)} (${p.tag})`, on: on !== undefined };
            })}
          onPress={tap}
        />
      )}
      {by === "plan" && (
        <PlanPicker label={label} options={options.map((p) => p.id)} of={of} held={brush} onTap={tap} />
      )}
    </Stack>
  );
}

interface ChipsProps {
  of: readonly { id: number; name: string; on: boolean }[];
  onPress: (id: number) => void;
}

function Chips({ of, onPress }: ChipsProps) {
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
      {of.map(({ id, name, on }) => (
        <Chip
          key={id}
          label={name}
          aria-pressed={on}
          variant={on ? "filled" : "outlined"}
          color={on ? "primary" : "default"}
          onClick={() => onPress(id)}
          sx={{ minHeight: 44, borderRadius: 1 }}
        />
      ))}
    </Stack>
  );
}
