import { useTheme } from "@mui/material/styles";
import type { CircuitLoad, FaceBreaker } from "../api/client";
import { textWidth } from "../parts/size";
import { Handle } from "./Handle";
import type { Lens } from "./lens";
import { onBody } from "./said";
import { AT_SPINE, isHalf, LEADING, linesOf, TALL } from "./shape";

/** What a handle has to do now. */
export type Order = "off" | "on";

/** As wide as a low handle with its word. */
const LOW_HANDLE = 22;

interface Props {
  breaker: FaceBreaker;
  x: number;
  y: number;
  width: number;
  height: number;
  /** Size of its words. */
  size: number;
  selected: boolean;
  /** Others are chosen, and not this one. */
  back: boolean;
  order: Order | undefined;
  load: CircuitLoad | undefined;
  marked: boolean;
  found: boolean;
  lens: Lens;
  /** The panel was read dead for work, and that counts still. */
  dead: boolean;
  /** The face that it is on. */
  own: string;
}

/** A breaker: what it feeds first, its rating and its handle at the spine, and outside it the bar of what is proven. */
export function Body(props: Props) {
  const { breaker, x, y, width, height, size, selected, back, order, load, marked, found, lens, dead, own } = props;
  const { palette } = useTheme();
  const left = breaker.column === "left";
  const act = order !== undefined;
  const tall = height >= TALL;
  const odd = found || breaker.marks.length > 0;
  const seen = lens === "findings" ? odd : breaker.held != null;
  const looked = lens === "findings" || lens === "held";
  const half = isHalf(breaker) ? (breaker.at.match(/[ab]/)?.[0] ?? "") : "";
  const rating = [half, `${breaker.amps}${tall ? " A" : ""}`].filter((part) => part !== "").join(" ");
  const mark = breaker.mark;
  const ink = act
    ? palette.act.contrastText
    : back || (looked && !seen) || dead
      ? palette.text.secondary
      : palette.text.primary;
  const soft = act ? palette.act.contrastText : palette.text.secondary;
  const off = breaker.handle !== "on" || dead;
  const fill = act ? palette.act.main : off ? `url(#off-${own})` : palette.background.paper;
  const low = [rating, mark].filter((part) => part !== "").join(" ");
  // Of a low body all stands in one line.
  const atSpine = tall ? AT_SPINE : textWidth(low, 11.5, "mono") + LOW_HANDLE + 14;
  const warned = load?.warns === true;
  const sign = odd ? "⚠ " : warned ? "! " : "";
  const room = width - atSpine - 10 - textWidth(sign, size);
  const { lines, old } = onBody(breaker, size, room, linesOf(height));
  const textX = left ? x + 7 : x + atSpine + 3;
  const middle = y + height / 2;
  const first = middle - ((lines.length - 1) * size * LEADING) / 2 + size * 0.36;
  const proven = breaker.standing === "proven" || breaker.standing === "partly";
  const alarmed = looked && seen;
  const frame = marked
    ? palette.act.main
    : selected
      ? palette.primary.main
      : alarmed
        ? palette.error.main
        : palette.text.secondary;
  const spine = left ? x + width - 4 : x + 4;
  const inward = left ? "end" : "start";
  // Words stay readable where the mark of a load or the hatching of off runs through them.
  const halo =
    load !== undefined || off ? { paintOrder: "stroke", stroke: palette.background.paper, strokeWidth: 3 } : {};
  return (
    <>
      <rect
        x={x + 1}
        y={y + 1}
        width={width - 2}
        height={height - 2}
        rx={3}
        fill={fill}
        stroke={frame}
        strokeWidth={marked || selected || alarmed ? 3.5 : 1}
      />
      {lens === "leg" && !act && <Legs {...{ breaker, x, y, width, height }} />}
      {load !== undefined && load.things.length > 0 && (
        <LoadFill load={load} x={x + 2} y={y + 2} width={width - 4} height={height - 4} />
      )}
      {proven && (
        // Outside the body: what is proven here. Open where something is not.
        <rect
          x={left ? x - 5 : x + width + 1}
          y={y + 2.5}
          width={4}
          height={height - 5}
          fill={breaker.standing === "proven" ? palette.primary.main : "none"}
          stroke={palette.primary.main}
        />
      )}
      <g {...(act ? {} : halo)}>
        {act ? (
          <text x={textX} y={middle + 5} fontSize={tall ? 14 : 13} fontWeight={800} fill={ink}>
            {order === "off" ? "SWITCH OFF" : "SWITCH ON"}
          </text>
        ) : lines.length === 0 ? null : (
          <text
            y={first}
            fontSize={size}
            fontWeight={breaker.standing === "proven" ? 650 : 400}
            fontStyle={old || !proven ? "italic" : "normal"}
            fill={old ? soft : ink}
          >
            {lines.map((line, nth) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: lines have no name but their place
              <tspan key={nth} x={textX} dy={nth === 0 ? 0 : size * LEADING}>
                {nth === 0 && sign !== "" && (
                  <tspan fill={palette.error.main} fontWeight={800} fontStyle="normal">
                    {sign}
                  </tspan>
                )}
                {`${line} `}
              </tspan>
            ))}
          </text>
        )}
        {lines.length === 0 && !act && sign !== "" && (
          <text x={textX} y={middle + 5} fontSize={size} fontWeight={800} fill={palette.error.main}>
            {sign}
          </text>
        )}
        {tall ? (
          <text x={spine} y={middle - 2} fontSize={12} className="mono" fill={soft} textAnchor={inward}>
            {rating}
          </text>
        ) : (
          <text
            x={left ? spine - LOW_HANDLE - 5 : spine + LOW_HANDLE + 5}
            y={middle + 4}
            fontSize={11.5}
            className="mono"
            fill={soft}
            textAnchor={inward}
          >
            {low}
          </text>
        )}
        {tall && mark !== "" && (
          <text
            x={left ? spine - 30 : spine + 30}
            y={middle + 11}
            fontSize={11}
            fontWeight={700}
            className="mono"
            fill={soft}
            textAnchor={inward}
          >
            {mark}
          </text>
        )}
      </g>
      <Handle
        handle={breaker.handle}
        held={breaker.held != null}
        left={left}
        spine={spine}
        middle={tall ? middle + 7 : middle}
        small={!tall}
        ink={act ? palette.act.contrastText : palette.text.primary}
      />
    </>
  );
}

/** Where a body stands. */
type Place = Record<"x" | "y" | "width" | "height", number>;

/** Current against the rating, behind the words: the whole width is the rating, filled up to the usual peak, darker to the base. */
function LoadFill({ load, x, y, width, height }: { load: CircuitLoad } & Place) {
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

/** How deep each leg is tinted: the letter beside it says which. */
const DEPTH: Record<string, number> = { A: 0, B: 0.2, C: 0.4 };

/** The part of a body that lies on each leg. */
function Legs({ breaker, x, y, width, height }: { breaker: FaceBreaker } & Place) {
  const { palette } = useTheme();
  const part = (height - 4) / breaker.legs.length;
  return breaker.legs.map((leg, nth) => (
    <rect
      key={leg}
      x={x + 2}
      y={y + 2 + nth * part}
      width={width - 4}
      height={part}
      fill={palette.primary.main}
      fillOpacity={DEPTH[leg] ?? 0}
    />
  ));
}
