import { Box, Stack, Typography } from "@mui/material";
import { useHouseView } from "../app/house";
import { Preview, Prints } from "./Preview";
import { printPath } from "./prints";

/** The sheet for the wall beside the panel. */
export function WallTab() {
  const { id } = useHouseView();
  const path = (kind: string) => printPath(id, `wall.${kind}`);
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: "start", flexWrap: "wrap", rowGap: 2 }}>
      <Stack spacing={2} sx={{ width: { xs: "100%", sm: 300 } }}>
        <Typography variant="h2">Wall sheet</Typography>
        <Typography>
          For the wall beside the panel: each floor with every point’s circuit, where everything is switched off, what
          stays live, and which ground-fault button kills what. 17 × 11 in, and still to be read on A3.
        </Typography>
        <Prints name="wall-sheet" path={path} kinds={["pdf", "svg"]} />
      </Stack>
      <Box sx={{ flex: 1, minWidth: 300 }}>
        <Preview path={path("svg")} label="The wall sheet as it will be printed" />
      </Box>
    </Stack>
  );
}
