import { Box, Stack } from "@mui/material";
import { MapTable } from "./MapTable";
import { Now } from "./Now";
import { useTracing } from "./useTracing";

/** In the rooms: the next point and its answer, for one thumb. */
export function RoomsStance() {
  const tracing = useTracing();
  return (
    <Stack component="main" spacing={2} sx={{ p: 1.5, maxWidth: 620, mx: "auto" }}>
      <Now tracing={tracing} big />
      <Box sx={{ overflowX: "auto" }}>{tracing.phase.name !== "look" && <MapTable />}</Box>
    </Stack>
  );
}
