import { useTheme } from "@mui/material/styles";
import type { FaceBreaker } from "../api/client";

interface Props {
  handle: FaceBreaker["handle"];
  held: boolean;
  /** It is of the left column: its inner side is right. */
  left: boolean;
  /** Where its inner end is. */
  spine: number;
  middle: number;
  /** Its body is a low one. */
  small: boolean;
  ink: string;
}

const WIDTH = 26;
const SMALL = 22;
/** At ON it is a block. */
const ON = 18;
const SMALL_ON = 13;

/** A handle: dark for ON and close to the spine; hollow, with its word, for anything else. */
export function Handle({ handle, held, left, spine, middle, small, ink }: Props) {
  const { palette } = useTheme();
  const width = small ? SMALL : WIDTH;
  const height = small ? 11 : 12;
  const x = left ? spine - width : spine;
  const y = middle - height / 2;
  const tripped = handle === "tripped";
  const colour = held || tripped ? palette.error.main : ink;
  if (handle === "on" && !held) {
    const wide = small ? SMALL_ON : ON;
    return <rect x={left ? spine - wide : spine} y={y + 1} width={wide} height={height - 2} rx={2} fill={ink} />;
  }
  const word = held ? "HELD" : tripped ? "TRIP" : handle === "off" ? "OFF" : "ON";
  return (
    <>
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        rx={2}
        fill={palette.background.paper}
        stroke={colour}
        strokeWidth={1.4}
      />
      <text
        x={x + width / 2}
        y={y + height - (small ? 2.4 : 2.6)}
        textAnchor="middle"
        fontSize={small ? 9 : 10}
        fontWeight={800}
        fill={colour}
        textLength={word.length > 3 ? width - 3 : undefined}
        lengthAdjust="spacingAndGlyphs"
      >
        {word}
      </text>
    </>
  );
}
