import { MenuItem, TextField } from "@mui/material";
import { useHouseView } from "../app/house";

/** Which panel is printed, where there is more than one; it is the one that is shown everywhere. */
export function PanelPick({ label }: { label: string }) {
  const { house, panel, setPanel } = useHouseView();
  if (house.panels.length < 2) {
    return null;
  }
  return (
    <TextField select label={label} value={panel ?? ""} onChange={(e) => setPanel(Number(e.target.value))}>
      {house.panels.map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {p.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
