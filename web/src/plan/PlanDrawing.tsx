import { useTheme } from "@mui/material/styles";
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { PlanPoint, PlanView, Wall } from "../api/client";

/** What is chosen on the plan. */
export type OnPlan = { room: number } | { point: number } | { opening: number } | undefined;

interface Props {
  view: PlanView;
  house: number;
  /** Pixels that the drawing may take up. */
  width: number;
  height: number;
  chosen: OnPlan;
  onChoose: (chosen: OnPlan) => void;
  onMoveRoom: (room: number, x: number, y: number) => void;
  onMovePoint: (point: number, x: number, y: number) => void;
  /** Two ends of a known length are being marked on the drawing underneath. */
  marking?: ((share: [number, number]) => void) | undefined;
}

const MARGIN = 30;
/** Rooms below this, in square feet, have no room for their size in words: it is told when they are chosen. */
const SMALL_ROOM = 110;
/** Inches that an arrow key moves. */
const NUDGE = 6;

interface Drag {
  what: "room" | "point";
  id: number;
  /** Where the pointer took hold, in inches. */
  from: [number, number];
  by: [number, number];
}

/** The floor's plan: rooms and points are dragged, or moved with the arrow keys. */
export function PlanDrawing(props: Props) {
  const { view, width, height, chosen, onChoose, onMoveRoom, onMovePoint, marking } = props;
  const { palette } = useTheme();
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<Drag>();
  const area = frame(view);
  const scale = Math.min(width / area.width, height / area.depth);
  /** Inches that a number of pixels takes up. */
  const px = (pixels: number) => pixels / scale;
  const inches = (event: PointerEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    return [(event.clientX - (box?.left ?? 0)) / scale + area.x, (event.clientY - (box?.top ?? 0)) / scale + area.y];
  };
  const begin = (what: Drag["what"], id: number) => (event: PointerEvent) => {
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    onChoose(what === "room" ? { room: id } : { point: id });
    setDrag({ what, id, from: inches(event), by: [0, 0] });
  };
  const move = (event: PointerEvent) => {
    if (drag !== undefined) {
      const [x, y] = inches(event);
      setDrag({ ...drag, by: [x - drag.from[0], y - drag.from[1]] });
    }
  };
  const drop = (event: PointerEvent) => {
    // From the event itself: a quick hand lets go before the last move is drawn.
    const [x, y] = inches(event);
    const [dx, dy] = drag === undefined ? [0, 0] : [x - drag.from[0], y - drag.from[1]];
    if (drag !== undefined && Math.hypot(dx, dy) > px(4)) {
      if (drag.what === "room") {
        const room = view.rooms.find((r) => r.room === drag.id);
        if (room !== undefined) {
          onMoveRoom(drag.id, Math.round(room.area.x + dx), Math.round(room.area.y + dy));
        }
      } else {
        const point = view.points.find((p) => p.point === drag.id);
        if (point !== undefined) {
          onMovePoint(drag.id, point.x + dx, point.y + dy);
        }
      }
    }
    setDrag(undefined);
  };
  const nudge = (act: (dx: number, dy: number) => void, choose: () => void) => (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-NUDGE, 0], ArrowRight: [NUDGE, 0], ArrowUp: [0, -NUDGE], ArrowDown: [0, NUDGE] }[
      event.key
    ];
    if (by !== undefined) {
      event.preventDefault();
      act(by[0] ?? 0, by[1] ?? 0);
    } else if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      choose();
    }
  };
  const moved = (what: Drag["what"], id: number) =>
    drag !== undefined && drag.what === what && drag.id === id ? `translate(${drag.by[0]} ${drag.by[1]})` : undefined;
  const under = view.underlay;
  return (
    <svg
      ref={svg}
      width={area.width * scale}
      height={area.depth * scale}
      viewBox={`${area.x} ${area.y} ${area.width} ${area.depth}`}
      role="group"
      aria-label={`Plan of floor ${view.floor}`}
      fontFamily="'Overpass Variable', sans-serif"
      style={{ display: "block", touchAction: "none", background: palette.background.paper }}
      onPointerMove={move}
      onPointerUp={drop}
    >
      {under != null && (
        // biome-ignore lint/a11y/noStaticElementInteractions: the form beside takes the same two places as numbers
        <image
          href={`/api/v1/houses/${props.house}/pictures/${under.picture}`}
          x={under.area.x}
          y={under.area.y}
          width={under.area.width}
          height={under.area.depth}
          opacity={0.45}
          onClick={(event) => {
            const box = event.currentTarget.getBoundingClientRect();
            marking?.([(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height]);
          }}
          style={marking === undefined ? {} : { cursor: "crosshair" }}
        />
      )}
      <g style={marking === undefined ? {} : { pointerEvents: "none" }}>
        {view.rooms.map((room) => {
          const { x, y, width: w, depth } = room.area;
          const on = chosen !== undefined && "room" in chosen && chosen.room === room.room;
          return (
            <g
              key={room.room}
              role="button"
              tabIndex={0}
              transform={moved("room", room.room)}
              onPointerDown={begin("room", room.room)}
              onKeyDown={nudge(
                (dx, dy) => onMoveRoom(room.room, x + dx, y + dy),
                () => onChoose({ room: room.room }),
              )}
              style={{ cursor: "move" }}
            >
              <title>{`${room.name}, ${room.size}`}</title>
              <rect
                x={x}
                y={y}
                width={w}
                height={depth}
                fill={under == null ? palette.background.default : "transparent"}
                fillOpacity={0.6}
                stroke={on ? palette.primary.main : palette.text.primary}
                strokeWidth={px(on ? 4 : 2)}
              />
              <text
                x={room.label[0]}
                y={room.label[1]}
                textAnchor="middle"
                fontSize={px(14)}
                fontWeight={650}
                fill={palette.text.secondary}
              >
                {room.name}
              </text>
              {room.square_feet > SMALL_ROOM && (
                <text
                  x={room.label[0]}
                  y={(room.label[1] ?? 0) + px(15)}
                  textAnchor="middle"
                  fontSize={px(11)}
                  fill={palette.text.secondary}
                >
                  {room.size}
                </text>
              )}
            </g>
          );
        })}
        {view.openings.map((o) => (
          <OpeningMark
            key={o.opening}
            opening={o}
            px={px}
            chosen={chosen !== undefined && "opening" in chosen && chosen.opening === o.opening}
            onChoose={() => onChoose({ opening: o.opening })}
          />
        ))}
        {view.panels.map((panel) => {
          const [dx, dy] = inward(panel.wall);
          return (
            <g key={panel.panel}>
              <rect
                x={panel.x + dx * px(4) - px(dy !== 0 ? 14 : 4)}
                y={panel.y + dy * px(4) - px(dy !== 0 ? 4 : 14)}
                width={px(dy !== 0 ? 28 : 8)}
                height={px(dy !== 0 ? 8 : 28)}
                fill={palette.text.primary}
              />
              <text
                x={panel.x + dx * px(14)}
                y={panel.y + dy * px(22) + px(4)}
                fontSize={px(12)}
                fontWeight={700}
                textAnchor={dx > 0 ? "start" : dx < 0 ? "end" : "middle"}
                fill={palette.text.primary}
              >
                Panel {panel.name}
              </text>
            </g>
          );
        })}
        {view.points.map((point) => (
          <g
            key={point.point}
            role="button"
            tabIndex={0}
            transform={moved("point", point.point)}
            onPointerDown={begin("point", point.point)}
            onKeyDown={nudge(
              (dx, dy) => onMovePoint(point.point, point.x + dx, point.y + dy),
              () => onChoose({ point: point.point }),
            )}
            style={{ cursor: "move" }}
          >
            <title>{`${point.tag}, ${point.status === "proven" ? `circuit ${point.circuit}` : "not proven"}`}</title>
            <PointMark
              point={point}
              view={view}
              px={px}
              chosen={chosen !== undefined && "point" in chosen && chosen.point === point.point}
            />
          </g>
        ))}
      </g>
    </svg>
  );
}

/** All that is drawn, with a margin; a usual floor where nothing is. */
function frame(view: PlanView) {
  const bounds = view.bounds ?? { x: 0, y: 0, width: 480, depth: 300 };
  return {
    x: bounds.x - MARGIN,
    y: bounds.y - MARGIN,
    width: bounds.width + 2 * MARGIN,
    depth: bounds.depth + 2 * MARGIN,
  };
}

/** Into the room from a wall. */
function inward(wall: Wall | null | undefined): [number, number] {
  switch (wall) {
    case "north":
      return [0, 1];
    case "south":
      return [0, -1];
    case "west":
      return [1, 0];
    case "east":
      return [-1, 0];
    default:
      return [0, 0];
  }
}

const turn: Record<Wall, number> = { north: 0, east: 90, south: 180, west: 270 };

interface MarkProps {
  point: PlanPoint;
  view: PlanView;
  px: (pixels: number) => number;
  chosen: boolean;
}

/** A point: its symbol, its tag, and its circuit's number; without a number the frame asks. */
function PointMark({ point, view, px, chosen }: MarkProps) {
  const { palette } = useTheme();
  const [dx, dy] = inward(point.wall);
  const shape = view.symbols.find((s) => s.symbol === point.symbol);
  const radius = px(7);
  let half = radius * 1.5;
  let [cx, cy] = [point.x + dx * half, point.y + dy * half];
  const foot = point.footprint;
  const [along = 0, into = 0] = foot ?? [];
  const [w, h] = dx === 0 ? [along, into] : [into, along];
  if (foot != null) {
    [cx, cy] = [point.x + (dx * w) / 2, point.y + (dy * h) / 2];
    half = (dx === 0 ? h : w) / 2;
  }
  const proven = point.status === "proven";
  const circuit = point.circuit === "" ? "?" : point.circuit;
  const size = px(11);
  const tagWidth = point.tag.length * px(6.8);
  const boxWidth = circuit.length * px(6.8) + px(6);
  const whole = tagWidth + px(3) + boxWidth;
  const anchorX = cx + dx * (half + px(3));
  const left = dx > 0 ? anchorX : dx < 0 ? anchorX - whole : cx - whole / 2;
  // Several in one box: their labels stand below one another.
  const stack = point.nth * px(15) * (dy < 0 ? -1 : 1);
  const base = stack + (dx !== 0 ? cy + px(4) : cy + (dy < 0 ? -half - px(4) : half + px(12)));
  return (
    <>
      {/* A finger takes hold of the whole: the symbol, the label, and what is between. */}
      <rect
        x={Math.min(cx - half, left)}
        y={Math.min(cy - half, base - px(12))}
        width={Math.max(cx + half, left + whole) - Math.min(cx - half, left)}
        height={Math.max(cy + half, base + px(4)) - Math.min(cy - half, base - px(12))}
        fill="transparent"
      />
      {chosen && (
        <circle cx={cx} cy={cy} r={half + px(5)} fill="none" stroke={palette.primary.main} strokeWidth={px(3)} />
      )}
      {foot != null ? (
        <rect
          x={cx - w / 2}
          y={cy - h / 2}
          width={w}
          height={h}
          fill={palette.background.paper}
          stroke={palette.text.primary}
          strokeWidth={px(1)}
        />
      ) : (
        <path
          d={shape?.path ?? ""}
          transform={`translate(${cx} ${cy}) rotate(${point.wall == null ? 0 : turn[point.wall]}) scale(${radius})`}
          fill={palette.background.paper}
          stroke={palette.text.primary}
          strokeWidth={0.18}
        />
      )}
      {foot == null && shape !== undefined && shape.letter !== "" && (
        <text x={cx} y={cy + px(4)} textAnchor="middle" fontSize={px(11)} fontWeight={700} fill={palette.text.primary}>
          {shape.letter}
        </text>
      )}
      <text x={left} y={base} fontSize={size} className="mono" fontWeight={650} fill={palette.text.primary}>
        {point.tag}
      </text>
      <rect
        x={left + tagWidth + px(3)}
        y={base - px(10)}
        width={boxWidth}
        height={px(13)}
        rx={px(2)}
        fill={proven ? palette.text.primary : palette.background.paper}
        stroke={palette.text.primary}
        strokeWidth={px(1)}
        strokeDasharray={proven ? undefined : `${px(3)} ${px(2)}`}
      />
      <text
        x={left + tagWidth + px(3) + boxWidth / 2}
        y={base}
        textAnchor="middle"
        fontSize={size}
        className="mono"
        fill={proven ? palette.background.paper : palette.text.primary}
      >
        {circuit}
      </text>
    </>
  );
}

interface OpeningProps {
  opening: PlanView["openings"][number];
  px: (pixels: number) => number;
  chosen: boolean;
  onChoose: () => void;
}

function OpeningMark({ opening, px, chosen, onChoose }: OpeningProps) {
  const { palette } = useTheme();
  const [x1 = 0, y1 = 0] = opening.from;
  const [x2 = 0, y2 = 0] = opening.to;
  const [dx, dy] = inward(opening.wall);
  const length = Math.hypot(x2 - x1, y2 - y1);
  const ink = chosen ? palette.primary.main : palette.text.primary;
  const choose = (event: { key?: string; preventDefault: () => void }) => {
    if (event.key === undefined || event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onChoose();
    }
  };
  const sweep = opening.wall === "south" || opening.wall === "west" ? 0 : 1;
  return (
    <g
      role="button"
      tabIndex={0}
      onPointerDown={(event) => {
        event.stopPropagation();
        onChoose();
      }}
      onKeyDown={choose}
      style={{ cursor: "pointer" }}
    >
      <title>{opening.kind === "stairs" ? `stairs to ${opening.leads_to ?? "?"}` : opening.kind}</title>
      <path d={`M${x1} ${y1}L${x2} ${y2}`} stroke={palette.background.paper} strokeWidth={px(chosen ? 8 : 5)} />
      {opening.kind === "window" && (
        <path d={`M${x1} ${y1}L${x2} ${y2}`} stroke={ink} strokeWidth={px(1)} strokeDasharray="none" />
      )}
      {opening.kind === "door" && (
        <path
          d={`M${x1} ${y1}l${dx * length} ${dy * length}A${length} ${length} 0 0 ${1 - sweep} ${x2} ${y2}`}
          fill="none"
          stroke={ink}
          strokeWidth={px(chosen ? 2.5 : 1)}
        />
      )}
      {opening.kind === "stairs" &&
        [0, 1, 2, 3, 4].map((step) => {
          const away = (step * length) / 6;
          return (
            <path
              key={step}
              d={`M${x1 + dx * away} ${y1 + dy * away}L${x2 + dx * away} ${y2 + dy * away}`}
              stroke={ink}
              strokeWidth={px(chosen ? 2 : 1)}
            />
          );
        })}
      {opening.kind === "stairs" && (
        <text
          x={(x1 + x2) / 2 + dx * length}
          y={(y1 + y2) / 2 + dy * length}
          textAnchor="middle"
          fontSize={px(10)}
          fill={palette.text.secondary}
        >
          to {opening.leads_to}
        </text>
      )}
    </g>
  );
}
