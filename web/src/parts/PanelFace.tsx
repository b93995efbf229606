import { useTheme } from "@mui/material/styles";
import { useId } from "react";
import type { CircuitLoad, Face, FaceBreaker } from "../api/client";
import { textWidth } from "./size";
import { useRoving } from "./useRoving";
import { deviceWord } from "./words";

/** What a handle has to do now. */
export type Order = "off" | "on";

interface Props {
  face: Face;
  /** Height of a row of full-size spaces, in pixels. */
  row: number;
  /** The least height of a half-size breaker: rows that have one grow where that is more. */
  half?: number;
  width: number;
  selected: number | ReadonlySet<number> | undefined;
  orders?: ReadonlyMap<number, Order>;
  /** What each breaker carries, to be shown behind its words. */
  loads?: ReadonlyMap<number, CircuitLoad>;
  /** Breakers that a plan moves, takes out or puts in. */
  marked?: ReadonlySet<number>;
  /** Breakers at which something dangerous or to be mended is found. */
  found?: ReadonlyMap<number, string>;
  /** Nothing where it is only looked at. */
  onBreaker?: (breaker: number) => void;
  onSpace?: (space: number) => void;
}

const GUTTER = 24;
const SPINE = 26;
const HEAD = 26;
/** Lower than this the letters alone tell of protection: a second frame would run through them. */
const ROOM_FOR_FRAME = 36;
const SMALLEST_TYPE = 9;

/** The panel's face, drawn from the places that the core worked out. */
export function PanelFace({
  face,
  row,
  width,
  selected,
  orders,
  loads,
  marked,
  found,
  half = 0,
  onBreaker,
  onSpace,
}: Props) {
  const { palette } = useTheme();
  // Several faces on one page must not take one another's cut-outs.
  const own = useId();
  const edge = edges(face, row, half);
  const height = edge(2 * face.rows) + 8;
  const body = (width - SPINE - 2 * GUTTER) / 2;
  const columnX = (column: Face["spaces"][number]["column"]) => (column === "left" ? GUTTER : GUTTER + body + SPINE);
  const isSelected = (b: number) => (typeof selected === "object" ? selected.has(b) : selected === b);
  const bare = face.spaces.filter((s) => !face.breakers.some((b) => covers(b, s.column, s.row)));
  const rove = useRoving(
    { place: inOrder(face, bare, onBreaker !== undefined, onSpace !== undefined) },
    () => undefined,
  );
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="group"
      aria-label={`Panel ${face.name}`}
      style={{ display: "block", maxWidth: "100%" }}
      fontFamily="'Overpass Variable', sans-serif"
    >
      <defs>
        <pattern id={`off-${own}`} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <rect width="6" height="6" fill={palette.background.default} />
          <rect width="1.2" height="6" fill={palette.divider} />
        </pattern>
      </defs>
      <text x={width / 2} y={17} textAnchor="middle" fontSize={13} fontWeight={650} fill={palette.text.primary}>
        {face.main === null || face.main === undefined ? "main lugs only" : `main ${face.main} A`}
      </text>
      {face.spaces.map((space) => {
        const x = columnX(space.column);
        const y = edge(2 * space.row);
        const tall = edge(2 * space.row + 2) - y;
        const left = space.column === "left";
        return (
          <g key={space.space}>
            <text
              x={left ? GUTTER - 5 : width - GUTTER + 5}
              y={y + tall / 2 + 4}
              textAnchor={left ? "end" : "start"}
              fontSize={11.5}
              className="mono"
              fill={palette.text.primary}
            >
              {space.space}
            </text>
            <text
              x={left ? GUTTER + body + 7 : GUTTER + body + SPINE - 7}
              y={y + tall / 2 + 4}
              textAnchor="middle"
              fontSize={10}
              fill={palette.text.secondary}
            >
              {space.leg}
            </text>
            {bare.includes(space) && (
              <g
                {...(onSpace === undefined
                  ? {}
                  : {
                      role: "button",
                      ...rove("place", -space.space, false, { choose: () => onSpace(space.space) }),
                      "aria-label": `Space ${space.space}, ${space.empty ? "empty" : "not entered"}`,
                      onClick: () => onSpace(space.space),
                      style: { cursor: "pointer" },
                    })}
              >
                <rect
                  x={x + 1}
                  y={y + 1}
                  width={body - 2}
                  height={tall - 2}
                  rx={3}
                  fill={palette.background.default}
                  stroke={palette.divider}
                  strokeDasharray={space.empty ? undefined : "3 3"}
                />
                <text x={x + 8} y={y + tall / 2 + 4} fontSize={11} fill={palette.text.secondary}>
                  {space.empty ? "empty" : "not entered"}
                </text>
              </g>
            )}
          </g>
        );
      })}
      {face.breakers.map((breaker) => (
        <g
          key={breaker.breaker}
          {...(onBreaker === undefined
            ? {}
            : {
                role: "button",
                ...rove("place", breaker.breaker, false, { choose: () => onBreaker(breaker.breaker) }),
                "aria-pressed": isSelected(breaker.breaker),
                onClick: () => onBreaker(breaker.breaker),
                style: { cursor: "pointer" },
              })}
        >
          <title>{describe(breaker, found?.get(breaker.breaker))}</title>
          <BreakerBody
            breaker={breaker}
            x={columnX(breaker.column)}
            y={edge(breaker.top)}
            width={body}
            height={edge(breaker.top + breaker.height) - edge(breaker.top)}
            selected={isSelected(breaker.breaker)}
            order={orders?.get(breaker.breaker)}
            load={loads?.get(breaker.breaker)}
            marked={marked?.has(breaker.breaker) ?? false}
            found={found?.has(breaker.breaker) ?? false}
            own={own}
          />
        </g>
      ))}
    </svg>
  );
}

/** Where each half row begins, counted from the top. */
function edges(face: Face, row: number, half: number): (halfRow: number) => number {
  const halves = face.breakers.filter((b) => /[ab]/.test(b.at));
  const heights = Array.from({ length: face.rows }, (_, nth) =>
    halves.some((b) => covers(b, b.column, nth)) ? Math.max(row, 2 * half) : row,
  );
  return (halfRow) => {
    const whole = Math.floor(halfRow / 2);
    const above = heights.slice(0, whole).reduce((sum, height) => sum + height, HEAD);
    return above + ((halfRow % 2) * (heights[whole] ?? row)) / 2;
  };
}

/** What arrows go through, down one column and then the other: breakers by id, bare spaces by their number below nothing. */
function inOrder(face: Face, bare: Face["spaces"], breakers: boolean, spaces: boolean): number[] {
  const places = [
    ...(breakers ? face.breakers.map((b) => ({ id: b.breaker, column: b.column, top: b.top })) : []),
    ...(spaces ? bare.map((s) => ({ id: -s.space, column: s.column, top: 2 * s.row })) : []),
  ];
  return places.sort((a, b) => a.column.localeCompare(b.column) || a.top - b.top).map((place) => place.id);
}

/** A breaker chosen, with the space it is written in. */
export function breakerAndSpace(face: Face, breaker: number): { breaker: number; space?: number } {
  const space = face.breakers.find((b) => b.breaker === breaker)?.at.match(/^\d+/)?.[0];
  return { breaker, ...(space === undefined ? {} : { space: Number(space) }) };
}

/** Where a line to or from a breaker meets it, on a face of this size. */
export function bodyEdge(breaker: FaceBreaker, row: number, width: number, side: "left" | "right") {
  const body = (width - SPINE - 2 * GUTTER) / 2;
  const x = breaker.column === "left" ? GUTTER : GUTTER + body + SPINE;
  return { x: side === "left" ? x : x + body, y: HEAD + ((breaker.top + breaker.height / 2) * row) / 2 };
}

function covers(breaker: FaceBreaker, column: string, row: number): boolean {
  return breaker.column === column && breaker.top < row * 2 + 2 && breaker.top + breaker.height > row * 2;
}

/** What the breaker feeds in the fullest words that have room, and whether they are but an old label. */
function wordsOf(breaker: FaceBreaker, size: number, room: number) {
  const old = breaker.words.length === 0;
  const oldForms = breaker.label === "" ? [] : [`old label “${breaker.label}”`, `“${breaker.label}”`];
  const forms = old ? oldForms : breaker.words;
  const found = forms.find((form) => textWidth(form, size) <= room) ?? forms.at(-1) ?? "";
  // The shortest may still be too long: smaller type, and then cut, but never what says that it is not proven.
  const fontSize = Math.max(SMALLEST_TYPE, Math.min(size, (size * room) / Math.max(1, textWidth(found, size))));
  return { text: cutTo(found, fontSize, room), old, fontSize };
}

function cutTo(text: string, size: number, room: number): string {
  const end = text.includes("?") ? "…?" : "…";
  let cut = text;
  for (let kept = text.length - 1; kept > 0 && textWidth(cut, size) > room + 1; kept -= 1) {
    cut = text.slice(0, kept).trimEnd() + end;
  }
  return cut;
}

function describe(breaker: FaceBreaker, found: string | undefined): string {
  return [
    `Breaker ${breaker.at}`,
    `${breaker.amps} amperes`,
    deviceWord[breaker.device],
    `handle ${breaker.handle}`,
    breaker.held == null ? "" : `held: ${breaker.held}`,
    breaker.surely === "" ? "nothing proven" : `proven: ${breaker.surely}`,
    breaker.probably === "" ? "" : `likely: ${breaker.probably}`,
    breaker.words.length === 0 && breaker.label !== "" ? `old label: ${breaker.label}` : "",
    `leg ${breaker.legs.join(" and ")}`,
    breaker.cable === "" ? "" : `cable ${breaker.cable}`,
    found === undefined ? "" : `found here: ${found}`,
    breaker.marks.length > 0 ? `does not fit: ${breaker.marks.join("; ")}` : "",
  ]
    .filter((part) => part !== "")
    .join(", ");
}

interface BodyProps {
  breaker: FaceBreaker;
  x: number;
  y: number;
  width: number;
  height: number;
  selected: boolean;
  order: Order | undefined;
  load: CircuitLoad | undefined;
  marked: boolean;
  found: boolean;
  /** The face that it is on. */
  own: string;
}

/** Current against the rating, behind the words: the whole width is the rating, filled up to the usual peak, darker to the base. */
function LoadFill({
  load,
  x,
  y,
  width,
  height,
}: { load: CircuitLoad } & Record<"x" | "y" | "width" | "height", number>) {
  const { palette } = useTheme();
  const share = (amps: number) => Math.min(1, amps / load.rating) * width;
  return (
    <g fill={palette.primary.main}>
      <rect x={x} y={y} width={share(load.usual)} height={height} fillOpacity={0.16} />
      <rect x={x} y={y} width={share(load.base)} height={height} fillOpacity={0.22} />
      <rect x={x + Math.max(0, share(load.usual) - 2)} y={y} width={2} height={height} />
    </g>
  );
}

/** A breaker: its handle stands inward for on, outward for off; off is hatched, tripped stands between with a bar. */
function BreakerBody({ breaker, x, y, width, height, selected, order, load, marked, found, own }: BodyProps) {
  const { palette } = useTheme();
  const left = breaker.column === "left";
  const proven = breaker.standing === "proven" || breaker.standing === "partly";
  const handle = { width: 22, height: Math.min(14, height - 6) };
  const track = { x: left ? x + width - 40 : x + 6, width: 34 };
  const inward = left ? track.x + track.width - handle.width : track.x;
  const outward = left ? track.x : track.x + track.width - handle.width;
  const place = breaker.handle === "on" ? inward : breaker.handle === "off" ? outward : (inward + outward) / 2;
  const middle = y + height / 2;
  const textX = left ? x + 8 : x + 46;
  const roomy = height >= 30;
  const clip = `clip-${own}-${breaker.breaker}`;
  const act = order !== undefined;
  const ink = act ? palette.act.contrastText : palette.text.primary;
  const soft = act ? palette.act.contrastText : palette.text.secondary;
  const fill = act ? palette.act.main : breaker.handle === "on" ? palette.background.paper : `url(#off-${own})`;
  const state = breaker.held != null ? "HELD" : breaker.handle === "on" ? "" : breaker.handle.toUpperCase();
  const half = /[ab]/.test(breaker.at) ? breaker.at : "";
  // Words stay readable where the mark of a load runs through them.
  const halo = load === undefined ? {} : { paintOrder: "stroke", stroke: palette.background.paper, strokeWidth: 2 };
  const warning = { fill: palette.error.main, fontWeight: 800, fontSize: 13 };
  const odd = found || breaker.marks.length > 0 ? "⚠" : "";
  const warned = load?.warns === true ? <tspan {...warning}>! </tspan> : null;
  const rating = [odd, half, `${breaker.amps} A`, deviceWord[breaker.device], state]
    .filter((part) => part !== "")
    .join(" ");
  const narrow = [odd, half, breaker.amps, breaker.mark, state].filter((part) => part !== "").join(" ");
  const size = roomy ? 12 : 11;
  const room = width - 54 - (roomy ? 0 : textWidth(narrow, 11, "mono") + 6);
  const { text, old, fontSize } = wordsOf(breaker, size, room);
  const words = {
    fontSize,
    fontWeight: breaker.standing === "proven" ? 650 : 400,
    fontStyle: old || !proven ? "italic" : "normal",
    fill: old ? soft : ink,
  };
  return (
    <>
      <clipPath id={clip}>
        <rect x={textX} y={y} width={width - 52} height={height} />
      </clipPath>
      <rect
        x={x + 1}
        y={y + 1}
        width={width - 2}
        height={height - 2}
        rx={3}
        fill={fill}
        stroke={marked ? palette.act.main : selected ? palette.primary.main : palette.text.secondary}
        strokeWidth={marked || selected ? 3.5 : 1}
      />
      {load !== undefined && load.things.length > 0 && (
        <LoadFill load={load} x={x + 2} y={y + 2} width={width - 4} height={height - 4} />
      )}
      {proven && (
        // A bar at the outer edge: what is proven here. Open where something is not.
        <rect
          x={left ? x + 1.5 : x + width - 5.5}
          y={y + 2}
          width={4}
          height={height - 4}
          fill={breaker.standing === "proven" ? palette.primary.main : "none"}
          stroke={palette.primary.main}
        />
      )}
      {breaker.device !== "plain" && breaker.device !== "fuse" && height >= ROOM_FOR_FRAME && (
        // A second frame inside the first: it protects against more than overload.
        <rect
          x={x + 3.5}
          y={y + 3.5}
          width={width - 7}
          height={height - 7}
          rx={2}
          fill="none"
          stroke={soft}
          strokeWidth={0.8}
          strokeDasharray="4 2"
        />
      )}
      <rect
        x={track.x}
        y={middle - handle.height / 2}
        width={track.width}
        height={handle.height}
        rx={handle.height / 2}
        fill="none"
        stroke={soft}
      />
      <rect
        x={place}
        y={middle - handle.height / 2}
        width={handle.width}
        height={handle.height}
        rx={handle.height / 2}
        fill={ink}
      />
      {breaker.handle === "tripped" && (
        <path d={`M${place + 11} ${middle - 7}v14`} stroke={palette.error.main} strokeWidth={3} />
      )}
      <g clipPath={`url(#${clip})`} {...halo}>
        {act ? (
          <text x={textX} y={middle + 4.5} fontSize={roomy ? 14 : 12} fontWeight={800} fill={ink}>
            {order === "off" ? "SWITCH OFF" : "SWITCH ON"}
          </text>
        ) : roomy ? (
          <>
            <text x={textX} y={middle - 3} fontSize={11} className="mono" fill={soft}>
              {warned}
              {rating}
            </text>
            <text x={textX} y={middle + 11} {...words}>
              {text}
            </text>
          </>
        ) : (
          <text x={textX} y={middle + 4} fontSize={11} fill={ink}>
            {warned}
            <tspan className="mono" fill={soft}>
              {narrow}
            </tspan>
            <tspan dx={6} {...words}>
              {text}
            </tspan>
          </text>
        )}
      </g>
    </>
  );
}
