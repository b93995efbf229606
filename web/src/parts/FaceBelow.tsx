import { Box } from "@mui/material";
import { useHouseView, useShownFace } from "../app/house";
import { FaceWork } from "./FaceWork";
import { breakerAndSpace, type Order, PanelFace } from "./PanelFace";
import { useSize } from "./size";

interface Props {
  /** The breaker that is marked. */
  selected: number | undefined;
  orders?: ReadonlyMap<number, Order> | undefined;
  /** Spaces are entered by tapping them. */
  entering?: boolean;
}

/** What a finger needs, in pixels: a half-size breaker as well. */
const FINGER = 44;

/** The panel's face as wide as a phone, for whoever stands before it. */
export function FaceBelow({ selected, orders, entering = false }: Props) {
  const { choose } = useHouseView();
  const face = useShownFace();
  const [box, size] = useSize<HTMLDivElement>();
  return (
    <Box ref={box}>
      <FaceWork work={face?.work ?? []} />
      {face !== undefined && size.width > 0 && (
        <PanelFace
          face={face}
          row={50}
          half={FINGER}
          width={size.width}
          selected={selected}
          onBreaker={(breaker) => choose(entering ? breakerAndSpace(face, breaker) : { breaker })}
          {...(entering ? { onSpace: (space: number) => choose({ space }) } : {})}
          {...(orders === undefined ? {} : { orders })}
        />
      )}
    </Box>
  );
}
