import { MenuItem, TextField } from "@mui/material";
import { visuallyHidden } from "@mui/utils";
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
        slotProps={{
          inputLabel: { sx: visuallyHidden },
          htmlInput: { sx: { minHeight: 48 } },
          select: { renderValue: () => `Panel ${house.panels.find((p) => p.id === panel)?.name ?? ""}` },
        }}
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
