import { Box } from "@mui/material";
import { memo, useDeferredValue, useMemo } from "react";
import { useHouseView, useShownFace } from "../app/house";
import { useFound } from "../findings/useFound";
import { FINGER, useSize } from "../parts/size";
import type { Order } from "./Body";
import { FaceWork } from "./FaceWork";
import { PanelFace } from "./PanelFace";
import { breakerAndSpace } from "./shape";

interface Props {
  /** The breaker that is marked. */
  selected: number | undefined;
  orders?: ReadonlyMap<number, Order> | undefined;
  /** Spaces are entered by tapping them. */
  entering?: boolean;
}

/** What a body keeps free above and below. */
const EDGE = 1;

/** The panel's face as wide as a phone, for whoever stands before it. */
export const FaceBelow = memo(function FaceBelow({ selected, orders, entering = false }: Props) {
  const { id, choose, asking } = useHouseView();
  // While handles are moved nothing else is shown on them.
  const found = useFound(id, orders === undefined).breakers;
  // It is much to draw: a finger comes first.
  const face = useDeferredValue(useShownFace());
  const [box, size] = useSize<HTMLDivElement>();
  const drawn = useMemo(
    () =>
      face !== undefined &&
      size.width > 0 && (
        <PanelFace
          face={face}
          row={50}
          size={14}
          half={FINGER + 2 * EDGE}
          width={size.width}
          selected={asking?.chosen ?? selected}
          onBreaker={
            asking?.onBreaker ?? ((breaker) => choose(entering ? breakerAndSpace(face, breaker) : { breaker }))
          }
          found={found}
          {...(entering ? { onSpace: (space: number) => choose({ space }) } : {})}
          {...(asking?.onSpace === undefined ? {} : { onSpace: asking.onSpace })}
          {...(orders === undefined ? {} : { orders })}
        />
      ),
    [face, size.width, selected, entering, orders, choose, asking, found],
  );
  return (
    <Box ref={box}>
      <FaceWork work={face?.work ?? []} />
      {drawn}
    </Box>
  );
});
