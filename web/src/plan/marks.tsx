import { useTheme } from "@mui/material/styles";
import type { PlanView, Schemas } from "../api/client";

/** Pixels of an em: what marks and their text are measured in. */
const EM = 11;

/** Pixels around a mark in which a finger means it: half of the 44 of WCAG 2.2, 2.5.5 (Target Size, Enhanced). */
const REACH = 22;

type Px = (pixels: number) => number;

/** Where a place is drawn, in inches at the scale of the moment. */
function at(place: Schemas["Place"], px: Px): [number, number] {
  const [right = 0, down = 0] = place.em;
  return [place.x + px(right * EM), place.y + px(down * EM)];
}

/** What stands on the plan and is small beside a finger. */
type Small = { point: number } | { opening: number };

/**
 * What a finger at a place means: where the reaches of neighbours overlap it is the one whose mark is nearest, whichever
 * was drawn last.
 */
export function nearest(view: PlanView, [x, y]: [number, number], px: Px): Small | undefined {
  const apart = (to: [number, number]) => Math.hypot(to[0] - x, to[1] - y);
  const all: { what: Small; apart: number }[] = [
    ...view.points.map((p) => {
      const [left, line] = at(p.mark.tag, px);
      const [frame] = at(p.mark.frame, px);
      const label: [number, number] = [(left + frame + px(p.mark.frame_width * EM)) / 2, line];
      return { what: { point: p.point }, apart: Math.min(apart(at(p.mark.middle, px)), apart(label)) };
    }),
    ...view.openings.map((o) => ({ what: { opening: o.opening }, apart: apart(middle(o)) })),
  ];
  all.sort((a, b) => a.apart - b.apart);
  return all.find((each) => each.apart <= px(REACH))?.what;
}

function middle({ from, to }: PlanView["openings"][number]): [number, number] {
  return [((from[0] ?? 0) + (to[0] ?? 0)) / 2, ((from[1] ?? 0) + (to[1] ?? 0)) / 2];
}

interface PointMarkProps {
  point: PlanView["points"][number];
  view: PlanView;
  px: Px;
  chosen: boolean;
  /** A finger is what points here. */
  finger: boolean;
  /** Something dangerous or to be mended is found here. */
  found: boolean;
}

/** A point: its symbol, its tag, and its circuit's number; without a number the frame asks. */
export function PointMark({ point, view, px, chosen, finger, found }: PointMarkProps) {
  const { palette } = useTheme();
  const { mark } = point;
  const shape = view.symbols.find((s) => s.symbol === point.symbol);
  const [cx, cy] = at(mark.middle, px);
  const radius = px(view.radius * EM);
  const foot = mark.footprint;
  const half = foot == null ? 1.5 * radius : Math.max(foot.width, foot.depth) / 2;
  const [left, line] = at(mark.tag, px);
  const [frameLeft, frameTop] = at(mark.frame, px);
  const [frameWidth, frameHeight] = [px(mark.frame_width * EM), px(view.frame_height * EM)];
  const proven = point.status === "proven";
  return (
    <>
      {/* A finger takes hold of the whole: the symbol and the label. */}
      <circle cx={cx} cy={cy} r={finger ? Math.max(half, px(REACH)) : half} fill="transparent" />
      <rect
        x={left}
        y={frameTop - px(2)}
        width={frameLeft + frameWidth - left}
        height={frameHeight + px(4)}
        fill="transparent"
      />
      {chosen && (
        <circle cx={cx} cy={cy} r={half + px(5)} fill="none" stroke={palette.primary.main} strokeWidth={px(3)} />
      )}
      {foot != null ? (
        <rect
          x={foot.x}
          y={foot.y}
          width={foot.width}
          height={foot.depth}
          fill={palette.background.paper}
          stroke={palette.text.primary}
          strokeWidth={px(1)}
        />
      ) : (
        <path
          d={shape?.path ?? ""}
          transform={`translate(${cx} ${cy}) rotate(${mark.turn}) scale(${radius})`}
          fill={palette.background.paper}
          stroke={palette.text.primary}
          strokeWidth={0.18}
        />
      )}
      {foot == null && shape !== undefined && shape.letter !== "" && (
        <text x={cx} y={cy + px(4)} textAnchor="middle" fontSize={px(EM)} fontWeight={700} fill={palette.text.primary}>
          {shape.letter}
        </text>
      )}
      {found && (
        <text x={cx + half} y={cy - half + px(3)} fontSize={px(14)} fontWeight={800} fill={palette.error.main}>
          ⚠
        </text>
      )}
      <text x={left} y={line} fontSize={px(EM)} className="mono" fontWeight={650} fill={palette.text.primary}>
        {point.tag}
      </text>
      <rect
        x={frameLeft}
        y={frameTop}
        width={frameWidth}
        height={frameHeight}
        rx={px(2)}
        fill={proven ? palette.text.primary : palette.background.paper}
        stroke={palette.text.primary}
        strokeWidth={px(1)}
        strokeDasharray={proven ? undefined : `${px(3)} ${px(2)}`}
      />
      <text
        x={frameLeft + frameWidth / 2}
        y={line}
        textAnchor="middle"
        fontSize={px(EM)}
        className="mono"
        fill={proven ? palette.background.paper : palette.text.primary}
      >
        {point.circuit}
      </text>
    </>
  );
}

/** A panel and its name. */
export function PanelMark({ panel, px }: { panel: PlanView["panels"][number]; px: Px }) {
  const { palette } = useTheme();
  const { mark } = panel;
  const [x, y] = at(mark.corner, px);
  const [width = 0, height = 0] = mark.size;
  const [nameX, nameY] = at(mark.name, px);
  return (
    <g>
      <rect x={x} y={y} width={px(width * EM)} height={px(height * EM)} fill={palette.text.primary} />
      <text x={nameX} y={nameY} fontSize={px(12)} fontWeight={700} textAnchor={mark.anchor} fill={palette.text.primary}>
        Panel {panel.name}
      </text>
    </g>
  );
}

interface OpeningMarkProps {
  opening: PlanView["openings"][number];
  px: Px;
  chosen: boolean;
  finger: boolean;
}

/** A door with its swing, a window, a passage, or stairs. */
export function OpeningMark({ opening, px, chosen, finger }: OpeningMarkProps) {
  const { palette } = useTheme();
  const [x1 = 0, y1 = 0] = opening.from;
  const [x2 = 0, y2 = 0] = opening.to;
  const ink = chosen ? palette.primary.main : palette.text.primary;
  const line = `M${x1} ${y1}L${x2} ${y2}`;
  const [cx, cy] = middle(opening);
  return (
    <>
      {finger && <circle cx={cx} cy={cy} r={px(REACH)} fill="transparent" />}
      <path d={line} stroke={palette.background.paper} strokeWidth={px(chosen ? 8 : 5)} />
      {opening.kind === "window" && <path d={line} stroke={ink} strokeWidth={px(1)} />}
      <path d={opening.path} fill="none" stroke={ink} strokeWidth={px(chosen ? 2.5 : 1)} />
      {opening.label != null && (
        <text
          x={opening.label[0]}
          y={opening.label[1]}
          textAnchor="middle"
          fontSize={px(10)}
          fill={palette.text.secondary}
        >
          to {opening.leads_to}
        </text>
      )}
    </>
  );
}
