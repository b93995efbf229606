import { useTheme } from "@mui/material/styles";
import { type ReactNode, useId } from "react";
import type { Schemas } from "../api/client";

/**
 * Currents lying on one scale in amperes: always on filled, usual striped, all at once in outline, the last reading a notch, the rating
 * a line, and a dotted end where more hangs that nobody knows.
 */

/** How amperes lie on the page. */
export interface Scale {
  /** At its right end. */
  most: number;
  /** How wide it is drawn. */
  width: number;
}

export interface Carried {
  base: number;
  usual: number;
  worst: number;
  read?: number | undefined;
  rating?: number | undefined;
  /** More hangs there of which nothing is known. */
  open?: boolean;
}

const STEPS = [1, 2, 5, 10, 20, 25, 50, 100, 200];
/** From one mark to the next at the least. */
const APART = 52;
/** The dotted end. */
const OPEN = 22;

/** A scale that ends a little behind the largest of these. */
export function scaleOf(amps: readonly number[], width: number): Scale {
  return { most: Math.max(1, ...amps) * 1.08, width };
}

const at = ({ most, width }: Scale, amps: number) => Math.max(0, Math.min(width - 1, (amps / most) * width));

/** Whole numbers that are not too close to one another. */
function marksOf(scale: Scale): number[] {
  const step = STEPS.find((each) => at(scale, each) >= APART) ?? 500;
  return Array.from({ length: Math.floor(scale.most / step) + 1 }, (_, nth) => nth * step);
}

function Stripes({ id }: { id: string }) {
  const { palette } = useTheme();
  return (
    <defs>
      <pattern id={id} width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="6" height="6" fill={palette.background.paper} />
        <rect width="3" height="6" fill={palette.primary.main} />
      </pattern>
    </defs>
  );
}

/** The numbers over bars of one scale. */
export function Axis({ scale }: { scale: Scale }) {
  const { palette } = useTheme();
  const marks = marksOf(scale);
  return (
    <svg width={scale.width} height={18} aria-hidden style={{ display: "block", overflow: "visible" }}>
      {marks.map((amps, nth) => (
        <text
          key={amps}
          x={at(scale, amps)}
          y={13}
          fontSize={12}
          className="mono"
          textAnchor={nth === 0 ? "start" : "middle"}
          fill={palette.text.secondary}
        >
          {amps}
          {nth === marks.length - 1 ? " A" : ""}
        </text>
      ))}
    </svg>
  );
}

/** A current on its scale. */
export function Bar({ scale, of, height }: { scale: Scale; of: Carried; height: number }) {
  const { palette } = useTheme();
  const stripes = useId();
  const [top, thick] = [3, height - 12];
  // Whatever stands there, that more is there is seen.
  const end = Math.min(at(scale, Math.max(of.worst, of.usual)), scale.width - OPEN);
  return (
    <svg width={scale.width} height={height} aria-hidden style={{ display: "block" }}>
      <Stripes id={stripes} />
      {marksOf(scale).map((amps) => (
        <path key={amps} d={`M${at(scale, amps) + 0.5} 0V${height}`} stroke={palette.divider} />
      ))}
      <rect x={0.5} y={top} width={at(scale, of.worst)} height={thick} fill="none" stroke={palette.text.secondary} />
      <rect x={0.5} y={top} width={at(scale, of.usual)} height={thick} fill={`url(#${stripes})`} />
      <rect x={0.5} y={top} width={at(scale, of.base)} height={thick} fill={palette.primary.main} />
      {of.open === true && (
        <path
          d={`M${end} ${top}h${OPEN}M${end} ${top + thick}h${OPEN}`}
          stroke={palette.text.primary}
          strokeWidth={1.6}
          strokeDasharray="2 3"
        />
      )}
      {of.rating !== undefined && (
        <path d={`M${at(scale, of.rating)} 0V${height - 6}`} stroke={palette.text.primary} strokeWidth={2.4} />
      )}
      {of.read !== undefined && (
        <path d={`M${at(scale, of.read)} ${height - 9}l-5 8h10z`} fill={palette.text.primary} />
      )}
    </svg>
  );
}

/** A leg that comes in, as it lies on a scale. */
export function ofLeg(leg: Schemas["LegLoad"], legs: Schemas["PanelLegs"]): Carried {
  return {
    base: leg.base,
    usual: leg.usual,
    worst: leg.worst,
    read: leg.read?.amps,
    rating: legs.rating ?? undefined,
    open: legs.unknown > 0,
  };
}

/** What the parts of the bars mean. */
export function BarKey() {
  const { palette } = useTheme();
  const stripes = useId();
  const entries: [string, ReactNode][] = [
    ["runs always", <rect key="a" y={2} width={20} height={12} fill={palette.primary.main} />],
    ["usual peak", <rect key="u" y={2} width={20} height={12} fill={`url(#${stripes})`} />],
    ["all at once", <rect key="w" x={0.5} y={2} width={19} height={12} fill="none" stroke={palette.text.secondary} />],
    ["last reading", <path key="m" d="M10 4l-6 9h12z" fill={palette.text.primary} />],
    ["rating", <path key="r" d="M10 0V16" stroke={palette.text.primary} strokeWidth={2} />],
    [
      "more is there, not known",
      <path key="o" d="M0 3h20M0 13h20" stroke={palette.text.primary} strokeWidth={1.6} strokeDasharray="2 3" />,
    ],
  ];
  return (
    <div style={{ display: "flex", flexWrap: "wrap", gap: "4px 18px", fontSize: 14 }}>
      {entries.map(([word, shape]) => (
        <span key={word} style={{ display: "inline-flex", alignItems: "center", gap: 6 }}>
          <svg width={20} height={16} aria-hidden="true">
            <Stripes id={stripes} />
            {shape}
          </svg>
          {word}
        </span>
      ))}
    </div>
  );
}
