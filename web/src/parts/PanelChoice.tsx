import { MenuItem, TextField } from "@mui/material";
import { useHouseView } from "../app/house";

/** Which panel is shown, where the house has several. */
export function PanelChoice() {
  const { house, panel, setPanel } = useHouseView();
  return (
    house.panels.length > 1 && (
      <TextField
        select
        label="Panel"
        value={panel ?? ""}
        onChange={(e) => setPanel(Number(e.target.value))}
        slotProps={{ htmlInput: { sx: { minHeight: 48 } } }}
      >
        {house.panels.map((p) => (
          <MenuItem key={p.id} value={p.id} sx={{ minHeight: 48 }}>
            {p.name}
          </MenuItem>
        ))}
      </TextField>
    )
  );
}
