import { useTheme } from "@mui/material/styles";
import useMediaQuery from "@mui/material/useMediaQuery";
import { type MouseEvent, type PointerEvent, type RefObject, useRef, useState } from "react";
import type { PlanView } from "../api/client";
import { useRoving } from "../parts/useRoving";
import { nearest, OpeningMark, PanelMark, PointMark } from "./marks";

/** What is chosen on the plan. */
export type OnPlan = { room: number } | { point: number } | { opening: number } | undefined;

interface Props {
  view: PlanView;
  house: number;
  /** Pixels that the drawing may take up. */
  width: number;
  height: number;
  chosen: OnPlan;
  /** Points at which something dangerous or to be mended is found. */
  found?: ReadonlyMap<number, string>;
  onChoose: (chosen: OnPlan) => void;
  onMoveRoom: (room: number, x: number, y: number) => void;
  onMovePoint: (point: number, x: number, y: number) => void;
  /** Two ends of a known length are being marked on the drawing underneath. */
  marking?: ((share: [number, number]) => void) | undefined;
}

const MARGIN = 30;
/** Rooms below this, in square feet, have no room for their size in words: it is told when they are chosen. */
const SMALL_ROOM = 110;
/** Inches that an arrow key moves a room: more than it snaps by, or it would never leave its neighbour. */
const ROOM_STEP = 12;
/** The same for a point. */
const POINT_STEP = 6;

interface Drag {
  what: "room" | "point";
  id: number;
  /** Where the pointer took hold, in inches. */
  from: [number, number];
  by: [number, number];
}

/**
 * The floor's plan: rooms and points are dragged. By keys: arrows go from one to the next, Enter takes hold, arrows then
 * move it, Escape lets go.
 */
export function PlanDrawing(props: Props) {
  const { view, width, height, chosen, onChoose, onMoveRoom, onMovePoint, marking, found } = props;
  const { palette } = useTheme();
  const finger = useMediaQuery("(pointer: coarse)");
  const svg = useRef<SVGSVGElement>(null);
  const carried = useRef(false);
  const area = frame(view);
  const scale = Math.min(width / area.width, height / area.depth);
  /** Inches that a number of pixels takes up. */
  const px = (pixels: number) => pixels / scale;
  const inches = (event: MouseEvent): [number, number] => {
    const box = svg.current?.getBoundingClientRect();
    return [(event.clientX - (box?.left ?? 0)) / scale + area.x, (event.clientY - (box?.top ?? 0)) / scale + area.y];
  };
  /** What is small is chosen by what the finger is nearest to. */
  const pick = (own: NonNullable<OnPlan>) => (event: MouseEvent) => {
    event.stopPropagation();
    if (carried.current) {
      // The click that ends a carrying: what was carried stays chosen.
      return;
    }
    onChoose((finger ? nearest(view, inches(event), px) : undefined) ?? own);
  };
  const { begin, move, drop, moved } = useDragging({ ...props, inches, px, carried });
  const rove = useRoving(
    {
      room: view.rooms.map((r) => r.room),
      opening: view.openings.map((o) => o.opening),
      point: view.points.map((p) => p.point),
    },
    () => onChoose(undefined),
  );
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
      style={{ display: "block", background: palette.background.paper }}
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
          const { x, y } = room.area;
          const on = chosen !== undefined && "room" in chosen && chosen.room === room.room;
          return (
            <g
              key={room.room}
              role="button"
              aria-pressed={on}
              {...rove("room", room.room, on, {
                choose: () => onChoose({ room: room.room }),
                nudge: (dx, dy) => onMoveRoom(room.room, x + dx * ROOM_STEP, y + dy * ROOM_STEP),
              })}
              transform={moved("room", room.room)}
              onPointerDown={begin("room", room.room, on)}
              onClick={() => onChoose({ room: room.room })}
              style={{ cursor: "move", touchAction: on ? "none" : "auto" }}
            >
              <RoomMark room={room} px={px} chosen={on} over={under != null} />
            </g>
          );
        })}
        {view.openings.map((o) => {
          const on = chosen !== undefined && "opening" in chosen && chosen.opening === o.opening;
          const choose = () => onChoose({ opening: o.opening });
          return (
            <g
              key={o.opening}
              role="button"
              aria-pressed={on}
              {...rove("opening", o.opening, on, { choose })}
              onPointerDown={(event) => {
                event.stopPropagation();
                carried.current = false;
              }}
              onClick={pick({ opening: o.opening })}
              style={{ cursor: "pointer" }}
            >
              <title>{o.kind === "stairs" ? `stairs to ${o.leads_to ?? "?"}` : o.kind}</title>
              <OpeningMark opening={o} px={px} chosen={on} finger={finger} />
            </g>
          );
        })}
        {view.panels.map((panel) => (
          <PanelMark key={panel.panel} panel={panel} px={px} />
        ))}
        {view.points.map((point) => {
          const on = chosen !== undefined && "point" in chosen && chosen.point === point.point;
          return (
            <g
              key={point.point}
              role="button"
              aria-pressed={on}
              {...rove("point", point.point, on, {
                choose: () => onChoose({ point: point.point }),
                nudge: (dx, dy) => onMovePoint(point.point, point.x + dx * POINT_STEP, point.y + dy * POINT_STEP),
              })}
              transform={moved("point", point.point)}
              onPointerDown={begin("point", point.point, on)}
              onClick={pick({ point: point.point })}
              style={{ cursor: "move", touchAction: on ? "none" : "auto" }}
            >
              <title>
                {`${point.tag}, ${point.status === "proven" ? `circuit ${point.circuit}` : "not proven"}`}
                {found?.has(point.point) === true && `, found here: ${found.get(point.point)}`}
              </title>
              <PointMark
                point={point}
                view={view}
                px={px}
                chosen={on}
                finger={finger}
                found={found?.has(point.point) ?? false}
              />
            </g>
          );
        })}
      </g>
    </svg>
  );
}

interface Dragging extends Pick<Props, "view" | "onChoose" | "onMoveRoom" | "onMovePoint"> {
  /** Where a pointer is on the plan. */
  inches: (event: MouseEvent) => [number, number];
  px: (pixels: number) => number;
  /** The click that is to come ends a carrying. */
  carried: RefObject<boolean>;
}

/** Rooms and points carried by the pointer. */
function useDragging({ view, onChoose, onMoveRoom, onMovePoint, inches, px, carried }: Dragging) {
  const [drag, setDrag] = useState<Drag>();
  const begin = (what: Drag["what"], id: number, held: boolean) => (event: PointerEvent) => {
    event.stopPropagation();
    carried.current = false;
    if (event.pointerType === "touch" && !held) {
      // A finger moves the plan; what it has tapped it moves.
      return;
    }
    event.currentTarget.setPointerCapture(event.pointerId);
    onChoose(what === "room" ? { room: id } : { point: id });
    setDrag({ what, id, from: inches(event), by: [0, 0] });
  };
  const by = (event: PointerEvent, from: Drag["from"]): [number, number] => {
    const [x, y] = inches(event);
    return [x - from[0], y - from[1]];
  };
  const move = (event: PointerEvent) => {
    if (drag !== undefined) {
      setDrag({ ...drag, by: by(event, drag.from) });
    }
  };
  const put = ({ what, id }: Drag, [dx, dy]: [number, number]) => {
    const room = what === "room" ? view.rooms.find((r) => r.room === id) : undefined;
    const point = what === "point" ? view.points.find((p) => p.point === id) : undefined;
    if (room !== undefined) {
      onMoveRoom(id, Math.round(room.area.x + dx), Math.round(room.area.y + dy));
    }
    if (point !== undefined) {
      onMovePoint(id, point.x + dx, point.y + dy);
    }
  };
  const drop = (event: PointerEvent) => {
    // From the event itself: a quick hand lets go before the last move is drawn.
    const carriedBy = drag === undefined ? undefined : by(event, drag.from);
    if (drag !== undefined && carriedBy !== undefined && Math.hypot(...carriedBy) > px(4)) {
      carried.current = true;
      put(drag, carriedBy);
    }
    setDrag(undefined);
  };
  const moved = (what: Drag["what"], id: number) =>
    drag !== undefined && drag.what === what && drag.id === id ? `translate(${drag.by[0]} ${drag.by[1]})` : undefined;
  return { begin, move, drop, moved };
}

interface RoomProps {
  room: PlanView["rooms"][number];
  px: (pixels: number) => number;
  chosen: boolean;
  /** A drawing lies underneath. */
  over: boolean;
}

/** A room with its name, and its size where there is room for it. */
function RoomMark({ room, px, chosen, over }: RoomProps) {
  const { palette } = useTheme();
  const { x, y, width, depth } = room.area;
  const soft = { textAnchor: "middle", fill: palette.text.secondary } as const;
  return (
    <>
      <title>{`${room.name}, ${room.size}`}</title>
      <rect
        x={x}
        y={y}
        width={width}
        height={depth}
        fill={over ? "transparent" : palette.background.default}
        fillOpacity={0.6}
        stroke={chosen ? palette.primary.main : palette.text.primary}
        strokeWidth={px(chosen ? 4 : 2)}
      />
      <text x={room.label[0]} y={room.label[1]} fontSize={px(14)} fontWeight={650} {...soft}>
        {room.name}
      </text>
      {room.square_feet > SMALL_ROOM && (
        <text x={room.label[0]} y={(room.label[1] ?? 0) + px(15)} fontSize={px(11)} {...soft}>
          {room.size}
        </text>
      )}
    </>
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
