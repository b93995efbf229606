import { useTheme } from "@mui/material/styles";
import { useId } from "react";
import type { CircuitLoad, Face } from "../api/client";
import { useRoving } from "../parts/useRoving";
import { Body, type Order } from "./Body";
import type { Lens } from "./lens";
import { Main } from "./Main";
import { describe } from "./said";
import { bodyWidth, covers, edges, GUTTER, inOrder, SPINE } from "./shape";

interface Props {
  face: Face;
  /** Height of a row of full-size spaces, in pixels. */
  row: number;
  /** The least height of a half-size breaker: rows that have one grow where that is more. */
  half?: number;
  width: number;
  /** Size of the words on it. */
  size?: number;
  selected: number | ReadonlySet<number> | undefined;
  orders?: ReadonlyMap<number, Order>;
  /** What each breaker carries, to be shown behind its words. */
  loads?: ReadonlyMap<number, CircuitLoad>;
  /** Breakers that a plan moves, takes out or puts in. */
  marked?: ReadonlySet<number>;
  /** Breakers at which something dangerous or to be mended is found. */
  found?: ReadonlyMap<number, string>;
  lens?: Lens;
  /** Nothing where it is only looked at. */
  onBreaker?: (breaker: number) => void;
  onSpace?: (space: number) => void;
  /** One is pointed at, or the focus is on it; nothing where it was left. */
  onPreview?: (breaker: number | undefined) => void;
}

/** Words of a card, as they are read at an arm's length. */
const WORDS = 13;

/** The panel's face, drawn from the places that the core worked out. */
export function PanelFace({
  face,
  row,
  width,
  size = WORDS,
  selected,
  orders,
  loads,
  marked,
  found,
  lens = "feeds",
  half = 0,
  onBreaker,
  onSpace,
  onPreview,
}: Props) {
  const { palette } = useTheme();
  // Several faces on one page must not take one another's hatching.
  const own = useId();
  const edge = edges(face, row, half);
  const height = edge(2 * face.rows) + 8;
  const body = bodyWidth(width);
  const columnX = (column: Face["spaces"][number]["column"]) => (column === "left" ? GUTTER : GUTTER + body + SPINE);
  const isSelected = (b: number) => (typeof selected === "object" ? selected.has(b) : selected === b);
  const chosen = typeof selected === "object" ? selected.size > 0 : selected !== undefined;
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
      <Main face={face} width={width} own={own} />
      {face.spaces.map((space) => {
        const x = columnX(space.column);
        const y = edge(2 * space.row);
        const tall = edge(2 * space.row + 2) - y;
        const left = space.column === "left";
        return (
          <g key={space.space}>
            <text
              x={left ? GUTTER - 7 : width - GUTTER + 7}
              y={y + tall / 2 + 4}
              textAnchor={left ? "end" : "start"}
              fontSize={12}
              className="mono"
              fill={palette.text.primary}
            >
              {space.space}
            </text>
            <text
              x={left ? GUTTER + body + 5.5 : GUTTER + body + SPINE - 5.5}
              y={y + tall / 2 + 4}
              textAnchor="middle"
              fontSize={lens === "leg" ? 13 : 10}
              fontWeight={lens === "leg" ? 800 : 400}
              fill={lens === "leg" ? palette.text.primary : palette.text.secondary}
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
                <text x={x + 8} y={y + tall / 2 + 4.5} fontSize={size} fill={palette.text.secondary}>
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
          onPointerEnter={() => onPreview?.(breaker.breaker)}
          onPointerLeave={() => onPreview?.(undefined)}
          onFocusCapture={() => onPreview?.(breaker.breaker)}
          onBlurCapture={() => onPreview?.(undefined)}
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
          <Body
            breaker={breaker}
            x={columnX(breaker.column)}
            y={edge(breaker.top)}
            width={body}
            height={edge(breaker.top + breaker.height) - edge(breaker.top)}
            size={size}
            selected={isSelected(breaker.breaker)}
            back={chosen && !isSelected(breaker.breaker)}
            order={orders?.get(breaker.breaker)}
            load={loads?.get(breaker.breaker)}
            marked={marked?.has(breaker.breaker) ?? false}
            found={found?.has(breaker.breaker) ?? false}
            lens={lens}
            dead={face.dead}
            own={own}
          />
        </g>
      ))}
    </svg>
  );
}
