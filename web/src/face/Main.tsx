import { useTheme } from "@mui/material/styles";
import type { Face } from "../api/client";
import { Handle } from "./Handle";
import { HEAD } from "./shape";

const WIDTH = 164;
const HEIGHT = 34;

/** The main as a breaker over both columns. With it off what comes in above it is live all the same. */
export function Main({ face, width, own }: { face: Face; width: number; own: string }) {
  const { palette } = useTheme();
  const middle = (HEAD - 8) / 2;
  const x = (width - WIDTH) / 2;
  const live = face.off && (
    <text x={x + WIDTH + 8} y={middle + 5} fontSize={13} fontWeight={800} fill={palette.error.main}>
      lugs live
    </text>
  );
  if (face.main == null) {
    return (
      <>
        <text
          x={width / 2}
          y={middle + 5}
          textAnchor="middle"
          fontSize={13}
          fontWeight={650}
          fill={palette.text.primary}
        >
          main lugs only
        </text>
        {live}
      </>
    );
  }
  return (
    <>
      <rect
        x={x}
        y={middle - HEIGHT / 2}
        width={WIDTH}
        height={HEIGHT}
        rx={4}
        fill={face.off ? `url(#off-${own})` : palette.background.paper}
        stroke={palette.text.primary}
        strokeWidth={1.6}
      />
      <text x={x + 12} y={middle + 5} fontSize={14} fontWeight={750} fill={palette.text.primary}>
        main{" "}
        <tspan className="mono" fontSize={13} fontWeight={400}>
          {face.main} A
        </tspan>
      </text>
      <Handle
        handle={face.off ? "off" : "on"}
        held={false}
        left
        spine={x + WIDTH - 12}
        middle={middle}
        small={false}
        ink={palette.text.primary}
      />
      {live}
    </>
  );
}
