import { Chip, Stack, ToggleButton, ToggleButtonGroup } from "@mui/material";
import { useState } from "react";
import type { Point } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName } from "../parts/words";
import { PlanPicker } from "./PlanPicker";

interface Props {
  label: string;
  /** Points that may be chosen. */
  options: readonly Point[];
  value: readonly number[];
  onChange: (points: number[]) => void;
  /** The rooms are shown at once. */
  open?: boolean;
}

/** Chooses points without typing: room by room, or on the plan. */
export function QuickPick({ label, options, value, onChange, open = false }: Props) {
  const { house } = useHouseView();
  const [by, setBy] = useState<"room" | "plan" | null>(open ? "room" : null);
  const [room, setRoom] = useState<number>();
  const drawn = house.rooms.some((r) => r.area != null);
  const toggle = (point: number) =>
    onChange(value.includes(point) ? value.filter((p) => p !== point) : [...value, point]);
  const rooms = house.rooms.filter((r) => options.some((p) => p.room === r.id));
  return (
    <Stack spacing={1}>
      <ToggleButtonGroup exclusive value={by} aria-label={`${label}: choose`} onChange={(_, to) => setBy(to)}>
        <ToggleButton value="room" sx={{ minHeight: 44 }}>
          Room by room
        </ToggleButton>
        {drawn && (
          <ToggleButton value="plan" sx={{ minHeight: 44 }}>
            On the plan
          </ToggleButton>
        )}
      </ToggleButtonGroup>
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
            .map((p) => ({ id: p.id, name: `${pointName(p)} (${p.tag})`, on: value.includes(p.id) }))}
          onPress={toggle}
          checks
        />
      )}
      {by === "plan" && <PlanPicker label={label} options={options.map((p) => p.id)} value={value} onToggle={toggle} />}
    </Stack>
  );
}

interface ChipsProps {
  of: readonly { id: number; name: string; on: boolean }[];
  onPress: (id: number) => void;
  checks?: boolean;
}

function Chips({ of, onPress, checks = false }: ChipsProps) {
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1 }}>
      {of.map(({ id, name, on }) => (
        <Chip
          key={id}
          label={`${checks && on ? "✓ " : ""}${name}`}
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
