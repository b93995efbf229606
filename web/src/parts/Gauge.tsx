import { useTheme } from "@mui/material/styles";
import { useId } from "react";
import { useSize } from "./size";

interface Props {
  /** What the reading must lie in. */
  from: number;
  to: number;
  unit: string;
  /** What is typed so far; nothing where it is no number yet. */
  typed: number | undefined;
}

const HEIGHT = 58;
const BAR = { y: 18, height: 18 };
/** White at both ends, so that numbers and the needle stay whole. */
const EDGE = 16;

/** A scale with the band that a reading must lie in, and a needle that follows what is typed. It promises nothing: what is entered is judged. */
export function Gauge({ from, to, unit, typed }: Props) {
  const { palette } = useTheme();
  const band = useId();
  const [box, size] = useSize<HTMLDivElement>();
  // The band takes about a third; what is far out stands at the end.
  const span = Math.max(to - from, 1);
  const low = Math.max(0, from - span);
  const high = to + span;
  const x = (value: number) =>
    EDGE + ((Math.max(low, Math.min(high, value)) - low) / (high - low)) * (size.width - 2 * EDGE);
  const within = typed !== undefined && typed >= from && typed <= to;
  const colour = within ? palette.text.primary : palette.error.main;
  const said =
    typed === undefined ? "" : within ? `${typed} ${unit}, in the band` : `${typed} ${unit}, outside the band`;
  return (
    <div ref={box}>
      {size.width > 0 && (
        <svg
          width={size.width}
          height={HEIGHT}
          role="img"
          aria-label={`It must read ${from} to ${to} ${unit}. ${said}`}
          style={{ display: "block" }}
          fontFamily="'Overpass Variable', sans-serif"
        >
          <defs>
            <pattern id={band} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
              <rect width="7" height="7" fill={palette.background.paper} />
              <rect width="3.5" height="7" fill={palette.primary.main} />
            </pattern>
          </defs>
          <rect
            x={EDGE}
            y={BAR.y}
            width={Math.max(0, size.width - 2 * EDGE)}
            height={BAR.height}
            fill="none"
            stroke={palette.text.secondary}
          />
          <rect
            x={x(from)}
            y={BAR.y}
            width={x(to) - x(from)}
            height={BAR.height}
            fill={`url(#${band})`}
            stroke={palette.primary.main}
          />
          {[from, to].map((end) => (
            <text
              key={end}
              x={x(end)}
              y={13}
              textAnchor="middle"
              fontSize={13}
              className="mono"
              fill={palette.text.primary}
            >
              {end}
            </text>
          ))}
          {typed !== undefined && (
            <>
              <path
                d={`M${x(typed)} ${BAR.y - 3}V${BAR.y + BAR.height + 3}`}
                stroke={palette.background.paper}
                strokeWidth={7}
              />
              <path d={`M${x(typed)} ${BAR.y - 4}V${BAR.y + BAR.height + 4}`} stroke={colour} strokeWidth={3.5} />
              <text
                x={Math.max(EDGE + 40, Math.min(size.width - EDGE - 40, x(typed)))}
                y={HEIGHT - 5}
                textAnchor="middle"
                fontSize={13}
                fontWeight={700}
                fill={colour}
              >
                {within ? "in the band" : "outside"}
              </text>
            </>
          )}
        </svg>
      )}
    </div>
  );
}
