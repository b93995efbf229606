import { useTheme } from "@mui/material/styles";
import { useId } from "react";
import type { CircuitLoad, PanelLegs } from "../api/client";

/** Bars of currents: always on filled, usual striped, all at once in outline, the last reading a notch; a line for the rating. */

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

/** A circuit's bar: the rating stands at two thirds of the width, so that what is over it shows. */
export function CircuitBar({ circuit, width = 260 }: { circuit: CircuitLoad; width?: number }) {
  const { palette } = useTheme();
  const stripes = useId();
  const height = 26;
  const at = (amps: number) => Math.min(width - 2, (amps / circuit.rating) * width * 0.66);
  const limit = at(circuit.rating);
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      aria-hidden="true"
      style={{ maxWidth: "100%" }}
    >
      <Stripes id={stripes} />
      <rect
        x={1}
        y={5}
        width={Math.max(0, at(circuit.worst))}
        height={12}
        fill="none"
        stroke={palette.text.secondary}
      />
      <rect x={1} y={5} width={Math.max(0, at(circuit.usual))} height={12} fill={`url(#${stripes})`} />
      <rect x={1} y={5} width={Math.max(0, at(circuit.base))} height={12} fill={palette.primary.main} />
      {circuit.measured != null && <path d={`M${at(circuit.measured.amps)} 18l-5 7h10z`} fill={palette.text.primary} />}
      <path d={`M${limit} 0V${height}`} stroke={palette.text.primary} strokeWidth={2} />
    </svg>
  );
}

/** The legs of a panel as standing bars against its rating, and the neutral. */
export function LegBars({ legs }: { legs: PanelLegs }) {
  const { palette } = useTheme();
  const stripes = useId();
  const [height, top, bottom, each] = [190, 26, 34, 64];
  const neutral = { name: "neutral", base: 0, usual: legs.neutral, worst: legs.neutral, read: legs.neutral_read };
  const bars = [...legs.each.map((l) => ({ name: `leg ${l.leg}`, ...l })), neutral];
  const most = Math.max(1, (legs.rating ?? 0) * 1.15, ...bars.map((b) => Math.max(b.worst, b.read?.amps ?? 0)));
  const y = (amps: number) => height - bottom - (amps / most) * (height - top - bottom);
  const width = bars.length * each + 56;
  const told = bars.map((b) => `${b.name} ${b.usual.toFixed(0)} A`).join(", ");
  return (
    <svg
      width={width}
      height={height}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`${legs.panel} at the usual peak: ${told}${legs.rating == null ? "" : `, rating ${legs.rating} A`}`}
      style={{ maxWidth: "100%" }}
      fontFamily="'Overpass Variable', sans-serif"
    >
      <Stripes id={stripes} />
      {bars.map((b, i) => {
        const x = 8 + i * each;
        return (
          <g key={b.name}>
            <rect
              x={x}
              y={y(b.worst)}
              width={34}
              height={y(0) - y(b.worst)}
              fill="none"
              stroke={palette.text.secondary}
            />
            <rect x={x} y={y(b.usual)} width={34} height={y(0) - y(b.usual)} fill={`url(#${stripes})`} />
            <rect x={x} y={y(b.base)} width={34} height={y(0) - y(b.base)} fill={palette.primary.main} />
            {b.read != null && <path d={`M${x + 36} ${y(b.read.amps)}l7 -5v10z`} fill={palette.text.primary} />}
            <text x={x + 17} y={height - 19} textAnchor="middle" fontSize={12} fill={palette.text.primary}>
              {b.name}
            </text>
            <text
              x={x + 17}
              y={height - 4}
              textAnchor="middle"
              fontSize={12}
              className="mono"
              fill={palette.text.primary}
            >
              {b.usual.toFixed(0)} A
            </text>
          </g>
        );
      })}
      {legs.rating != null && (
        <g>
          <path d={`M2 ${y(legs.rating)}H${width - 46}`} stroke={palette.text.primary} strokeWidth={2} />
          <text x={width - 42} y={y(legs.rating) + 4} fontSize={12} className="mono" fill={palette.text.primary}>
            {legs.rating} A
          </text>
        </g>
      )}
    </svg>
  );
}

/** What the parts of the bars mean. */
export function BarKey() {
  const { palette } = useTheme();
  const stripes = useId();
  const entries: [string, React.ReactNode][] = [
    ["runs always", <rect key="a" y={2} width={20} height={12} fill={palette.primary.main} />],
    ["usual peak", <rect key="u" y={2} width={20} height={12} fill={`url(#${stripes})`} />],
    ["all at once", <rect key="w" x={0.5} y={2} width={19} height={12} fill="none" stroke={palette.text.secondary} />],
    ["last reading", <path key="m" d="M10 4l-6 9h12z" fill={palette.text.primary} />],
    ["rating", <path key="r" d="M10 0V16" stroke={palette.text.primary} strokeWidth={2} />],
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
