import { Box, Typography, useMediaQuery, useTheme } from "@mui/material";
import type { Face, Schemas } from "../api/client";
import { PanelFace } from "../face/PanelFace";
import { bodyEdge } from "../face/shape";
import { useSize } from "../parts/size";

/** Height of a row; large panels are drawn lower, so that both are seen at once. */
const rowOf = (face: Face) => Math.max(20, Math.min(30, 560 / face.rows));
const GAP = 56;

/** The panel before and after, side by side; what moves is marked in both, with a line between. */
export function BeforeAfter({ faces }: { faces: Schemas["BeforeAfter"] }) {
  const { palette, breakpoints } = useTheme();
  const wide = useMediaQuery(breakpoints.up("md"));
  const [box, size] = useSize<HTMLDivElement>();
  const { before, after } = faces;
  const width = wide && after != null ? Math.min(360, (size.width - GAP) / 2) : Math.min(360, size.width);
  const row = rowOf(before);
  const stood = new Set(before.breakers.map((b) => b.breaker));
  const stands = new Set(after?.breakers.map((b) => b.breaker) ?? []);
  const moved = new Set(faces.moved.map((m) => m.breaker));
  const leaves = new Set([...moved, ...(after == null ? [] : [...stood].filter((b) => !stands.has(b)))]);
  const comes = new Set([...moved, ...[...stands].filter((b) => !stood.has(b))]);
  const draw = (face: Face, marked: Set<number>) => (
    <PanelFace face={face} row={row} width={width} selected={undefined} marked={marked} />
  );
  return (
    <Box ref={box}>
      {size.width > 0 && (
        <Box
          role="group"
          aria-label={`The panel before and after: ${faces.moved.map((m) => `${m.from} goes to ${m.to}`).join(", ") || "nothing moves"}`}
          sx={{
            position: "relative",
            display: "flex",
            flexDirection: wide ? "row" : "column",
            gap: wide ? `${GAP}px` : 2,
          }}
        >
          <Box sx={{ width }}>
            <Typography sx={{ fontWeight: 700 }}>Before</Typography>
            {draw(before, leaves)}
          </Box>
          {after != null && (
            <Box sx={{ width }}>
              <Typography sx={{ fontWeight: 700 }}>After</Typography>
              {draw(after, comes)}
            </Box>
          )}
          {wide && after != null && (
            <svg width={2 * width + GAP} height="100%" style={{ position: "absolute", left: 0, top: 24 }} aria-hidden>
              {faces.moved.map((m) => {
                const from = before.breakers.find((b) => b.breaker === m.breaker);
                const to = after.breakers.find((b) => b.breaker === m.breaker);
                if (from === undefined || to === undefined) {
                  return null;
                }
                const a = bodyEdge(from, row, width, "right");
                const b = bodyEdge(to, row, width, "left");
                const [x, y] = [b.x + width + GAP, b.y];
                const middle = width + GAP / 2;
                return (
                  <g key={m.breaker} stroke={palette.act.main} fill="none" strokeWidth={2.5}>
                    <path d={`M${a.x} ${a.y}C${middle} ${a.y} ${middle} ${y} ${x - 5} ${y}`} />
                    <path d={`M${x - 10} ${y - 5}L${x - 2} ${y}L${x - 10} ${y + 5}`} />
                  </g>
                );
              })}
            </svg>
          )}
        </Box>
      )}
    </Box>
  );
}
