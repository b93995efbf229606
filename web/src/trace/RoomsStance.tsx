import { Box, Paper, Stack, Typography } from "@mui/material";
import { useHouseView } from "../app/house";
import { breakerName, count, pointName, roomName } from "../parts/words";
import { DoubtList } from "./DoubtList";
import { MapTable } from "./MapTable";
import { Now } from "./Now";
import { usePresence } from "./presence";
import { RoomLabels } from "./RoomLabels";
import { RunCard } from "./RunCard";
import { useTracing } from "./useTracing";
import { useAwake, useTold, useVoice } from "./voice";

/** In the rooms: the next point and its answer, for one thumb. With two people the handles are the other's. */
export function RoomsStance() {
  const { house } = useHouseView();
  const presence = usePresence();
  const tracing = useTracing();
  const { phase, crew } = tracing;
  const [voice] = useVoice();
  // Only where somebody else really stands at the panel does the walker leave the handles to them.
  const waits = crew.people === 2 && presence.panelManned && phase.name === "order";
  // The same words as at the panel: there an order with nothing to move says to leave them.
  const moves = phase.name === "order" ? phase.advice.switch_on.length + phase.advice.switch_off.length : 0;
  const next = phase.name === "order" ? house.points.find((p) => p.id === phase.advice.points[0]) : undefined;
  useAwake(tracing.run !== undefined);
  const told =
    phase.name === "look"
      ? `${roomName(house, phase.point)}. ${phase.point.tag}, ${pointName(phase.point)}`
      : phase.name === "order"
        ? waits
          ? moves === 0
            ? "Wait at the panel’s word"
            : "Wait, handles are being moved"
          : "Walk to the panel"
        : "";
  useTold(told, voice);
  return (
    <Stack component="main" spacing={2} sx={{ p: 1.5, maxWidth: 620, mx: "auto" }}>
      {waits && phase.name === "order" ? (
        <Paper variant="outlined" sx={{ p: 2 }} aria-live="polite">
          <Typography variant="h2" gutterBottom>
            {moves === 0 ? "The handles stay as they are" : "Handles are being moved"}
          </Typography>
          <Typography gutterBottom>
            {moves === 0 && "Whoever is at the panel says so in a moment. "}Off next:{" "}
            {phase.advice.off.map((b) => breakerName(house, b)).join(", ") || "nothing, all on"}.
          </Typography>
          {next !== undefined && (
            <Typography>
              Then <strong>{roomName(house, next)}</strong>, {count(phase.advice.points.length, "point")}. You can walk
              there now.
            </Typography>
          )}
        </Paper>
      ) : (
        <Now tracing={tracing} big />
      )}
      <RunCard tracing={tracing} small />
      {phase.name !== "look" && phase.name !== "ask" && (
        <>
          <RoomLabels />
          <DoubtList />
          <Box sx={{ overflowX: "auto" }}>
            <MapTable />
          </Box>
        </>
      )}
    </Stack>
  );
}
