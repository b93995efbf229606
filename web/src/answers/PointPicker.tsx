import { Autocomplete, Stack, TextField } from "@mui/material";
import type { Point } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName, roomName } from "../parts/words";
import { QuickPick } from "./QuickPick";

interface Props {
  label: string;
  value: number[];
  onChange: (points: number[]) => void;
  /** Points that cannot be chosen. */
  without?: number[];
  which?: (point: Point) => boolean;
  /** By rooms and on the plan as well. */
  quick?: boolean;
}

/** Chooses points by tag, room or name; where asked for, by rooms and on the plan too. */
export function PointPicker({ label, value, onChange, without = [], which = () => true, quick = false }: Props) {
  const { house } = useHouseView();
  const options = house.points.filter((p) => which(p) && !without.includes(p.id));
  const typed = (
    <Autocomplete
      multiple
      options={options}
      value={house.points.filter((p) => value.includes(p.id))}
      groupBy={(point) => roomName(house, point)}
      getOptionLabel={(point) => `${point.tag} ${roomName(house, point)}, ${pointName(point)}`}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      onChange={(_, chosen) => onChange(chosen.map((p) => p.id))}
      renderInput={(params) => <TextField {...params} label={label} />}
      slotProps={{ chip: { size: "small" }, listbox: { sx: { "& li": { minHeight: 44 } } } }}
    />
  );
  return quick ? (
    <Stack spacing={1}>
      {typed}
      <QuickPick
        label={label}
        options={options}
        brushes={[{ said: "chosen", mark: "check", value }]}
        onTap={(point) => onChange(value.includes(point) ? value.filter((p) => p !== point) : [...value, point])}
      />
    </Stack>
  ) : (
    typed
  );
}
