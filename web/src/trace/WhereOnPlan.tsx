import { Box } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import type { Point } from "../api/client";
import { useStillPlan } from "../api/reads";
import { useHouseView } from "../app/house";

/** Room around the floor, in inches. */
const MARGIN = 24;

/** The floor in outline, with the room and the place of a point. */
export function WhereOnPlan({ point }: { point: Point }) {
  const { id, house } = useHouseView();
  const { palette } = useTheme();
  const room = house.rooms.find((r) => r.id === point.room);
  // Answers move no point: it is read once a step.
  const plan = useStillPlan(id, room?.floor, house.step?.id);
  const bounds = plan.data?.bounds;
  if (room?.area == null || bounds == null || plan.data === undefined) {
    return null;
  }
  const here = plan.data.points.find((p) => p.point === point.id);
  const [x, y, w, h] = [bounds.x - MARGIN, bounds.y - MARGIN, bounds.width + 2 * MARGIN, bounds.depth + 2 * MARGIN];
  return (
    <Box
      component="svg"
      viewBox={`${x} ${y} ${w} ${h}`}
      role="img"
      aria-label={`${point.tag} is in ${room.name}`}
      sx={{ width: "100%", maxHeight: 104, display: "block", my: 1 }}
    >
      {house.rooms
        .filter((r) => r.floor === room.floor && r.area != null)
        .map((r) => (
          <rect
            key={r.id}
            x={r.area?.x}
            y={r.area?.y}
            width={r.area?.width}
            height={r.area?.depth}
            fill={r.id === room.id ? palette.action.selected : "none"}
            stroke={palette.text.secondary}
            strokeWidth={r.id === room.id ? 5 : 2}
          />
        ))}
      {here !== undefined && (
        <circle
          cx={here.x}
          cy={here.y}
          r={16}
          fill={palette.text.primary}
          stroke={palette.background.paper}
          strokeWidth={5}
        />
      )}
    </Box>
  );
}
