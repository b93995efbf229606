import { Autocomplete, TextField } from "@mui/material";
import type { Point } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName, roomName } from "../parts/words";

interface Props {
  label: string;
  value: number[];
  onChange: (points: number[]) => void;
  /** Points that cannot be chosen. */
  without?: number[];
  which?: (point: Point) => boolean;
}

/** Chooses points by tag, room or name. */
export function PointPicker({ label, value, onChange, without = [], which = () => true }: Props) {
  const { house } = useHouseView();
  const options = house.points.filter((p) => which(p) && !without.includes(p.id));
  return (
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
}
