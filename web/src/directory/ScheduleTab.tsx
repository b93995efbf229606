import { Box, Stack, Typography } from "@mui/material";
import { useHouseView } from "../app/house";
import { PanelPick } from "./PanelPick";
import { Preview, Prints } from "./Preview";
import { printPath } from "./prints";

/** A panel's schedule with the loads of its legs, and the equipment list beside it. */
export function ScheduleTab() {
  const { id, panel } = useHouseView();
  const path = (kind: string) => printPath(id, `schedule.${kind}`, { panel });
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: "start", flexWrap: "wrap", rowGap: 2 }}>
      <Stack spacing={2} sx={{ width: { xs: "100%", sm: 300 } }}>
        <Typography variant="h2">Schedule</Typography>
        <Typography>
          Every circuit with its poles, amperes and load on each leg; then what is wired there, with what its nameplate
          asks.
        </Typography>
        <PanelPick label="Schedule of panel" />
        <Prints name="schedule" path={path} kinds={["pdf", "csv", "svg", "png"]} />
      </Stack>
      <Box sx={{ flex: 1, minWidth: 300 }}>
        <Preview path={path("svg")} label="The schedule as it will be printed" />
      </Box>
    </Stack>
  );
}
