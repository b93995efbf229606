import { Box, ToggleButton, ToggleButtonGroup, useMediaQuery } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import { useState } from "react";
import { usePlan } from "../api/reads";
import { useHouseView } from "../app/house";
import { PHONE } from "../app/stance";
import { useRoving } from "../parts/useRoving";

/** Room around the floor, in inches. */
const MARGIN = 24;
/** So many pixels the drawing is about wide: marks keep their size on a phone and at the desk. */
const WIDE = { phone: 370, desk: 800 };
/** A finger's half width and an em, in the same. */
const FINGER = 22;
const EM = 11;
/** From one to the next on the same spot. */
const BESIDE = 24;

/** One thing that may be said of a point. */
export interface Brush {
  /** Said of it: `dead`, `works`. */
  said: string;
  /** Its mark on the drawing. */
  mark: "check" | "cross";
  /** Of these it is said. */
  value: readonly number[];
}

interface Props {
  label: string;
  /** Points that may be chosen. */
  options: readonly number[];
  /** What is said of a point. */
  of: (point: number) => Brush | undefined;
  /** What a tap says. */
  held: Brush | undefined;
  onTap: (point: number) => void;
}

/** The plan of a floor to choose points on. One tab stop: arrows go from point to point, Enter chooses. */
export function PlanPicker({ label, options, of, held, onTap }: Props) {
  const { id, house } = useHouseView();
  const { palette } = useTheme();
  const small = useMediaQuery(PHONE);
  const floors = [...new Set(house.rooms.filter((r) => r.area != null).map((r) => r.floor))];
  const [floor, setFloor] = useState(floors[0]);
  const plan = usePlan(id, floor);
  const view = plan.data;
  const points = view?.points.filter((p) => options.includes(p.point)) ?? [];
  const rove = useRoving({ point: points.map((p) => p.point) }, () => undefined);
  if (view?.bounds == null) {
    return null;
  }
  const { bounds } = view;
  const width = bounds.width + 2 * MARGIN;
  const px = (pixels: number) => (pixels * width) / (small ? WIDE.phone : WIDE.desk);
  return (
    <Box>
      {floors.length > 1 && (
        <ToggleButtonGroup
          exclusive
          value={floor}
          aria-label="Floor"
          onChange={(_, to: string | null) => to !== null && setFloor(to)}
          sx={{ mb: 1, flexWrap: "wrap" }}
        >
          {floors.map((name) => (
            <ToggleButton key={name} value={name} sx={{ minHeight: 44 }}>
              {name}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      )}
      <Box
        component="svg"
        viewBox={`${bounds.x - MARGIN} ${bounds.y - MARGIN} ${width} ${bounds.depth + 2 * MARGIN}`}
        role="group"
        aria-label={`${label}: plan of floor ${view.floor}`}
        sx={{ width: "100%", maxHeight: 440, display: "block", bgcolor: "background.paper" }}
        fontFamily="'Overpass Variable', sans-serif"
      >
        {view.rooms.map((room) => (
          <g key={room.room}>
            <rect
              x={room.area.x}
              y={room.area.y}
              width={room.area.width}
              height={room.area.depth}
              fill={palette.background.default}
              stroke={palette.text.primary}
              strokeWidth={px(1.5)}
            />
            <text
              x={room.label[0]}
              y={room.label[1]}
              textAnchor="middle"
              fontSize={px(12)}
              fill={palette.text.secondary}
            >
              {room.name}
            </text>
          </g>
        ))}
        {points.map((point, nth) => {
          // What hangs on one box stands side by side here: each has to be met by a finger.
          const before = points.slice(0, nth).filter((p) => Math.hypot(p.x - point.x, p.y - point.y) < 1);
          const said = of(point.point);
          const on = said !== undefined;
          const fill = said?.mark === "cross" ? palette.text.primary : palette.primary.main;
          const stroke = said?.mark === "cross" ? palette.background.paper : palette.primary.contrastText;
          const [right = 0, down = 0] = (before[0] ?? point).mark.middle.em;
          const [x, y] = [point.x + px(right * EM + before.length * BESIDE), point.y + px(down * EM)];
          return (
            <g
              key={point.point}
              role="checkbox"
              aria-checked={said?.said === held?.said && on}
              aria-label={on && said.said !== held?.said ? `${point.tag}, ${said.said}` : point.tag}
              {...rove("point", point.point, on, { choose: () => onTap(point.point) })}
              onClick={() => onTap(point.point)}
              style={{ cursor: "pointer" }}
            >
              <circle cx={x} cy={y} r={px(FINGER)} fill="transparent" />
              <circle
                cx={x}
                cy={y}
                r={px(9)}
                fill={on ? fill : palette.background.paper}
                stroke={palette.text.primary}
                strokeWidth={px(on ? 3 : 1.5)}
              />
              {on && (
                <path
                  d={
                    said.mark === "check"
                      ? `M${x - px(4)} ${y}l${px(3)} ${px(3)}l${px(5)} ${-px(6)}`
                      : `M${x - px(4)} ${y - px(4)}l${px(8)} ${px(8)}m0 ${-px(8)}l${-px(8)} ${px(8)}`
                  }
                  fill="none"
                  stroke={stroke}
                  strokeWidth={px(2.5)}
                />
              )}
              <text
                x={x}
                y={y + px(20)}
                textAnchor="middle"
                fontSize={px(10)}
                className="mono"
                fill={palette.text.primary}
              >
                {point.tag}
              </text>
            </g>
          );
        })}
      </Box>
    </Box>
  );
}
