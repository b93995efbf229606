import { Box } from "@mui/material";
import { useHouseView, useMap, useShownFace } from "../app/house";
import { FaceWork } from "./FaceWork";
import { type Order, PanelFace } from "./PanelFace";
import { useSize } from "./size";

interface Props {
  /** The breaker that is marked. */
  selected: number | undefined;
  orders?: ReadonlyMap<number, Order> | undefined;
}

/** The panel's face as wide as a phone, for whoever stands before it. */
export function FaceBelow({ selected, orders }: Props) {
  const { choose } = useHouseView();
  const beliefs = useMap();
  const face = useShownFace();
  const [box, size] = useSize<HTMLDivElement>();
  return (
    <Box ref={box}>
      <FaceWork work={face?.work ?? []} />
      {face !== undefined && size.width > 0 && (
        <PanelFace
          face={face}
          beliefs={beliefs}
          row={50}
          width={size.width}
          selected={selected}
          onBreaker={(breaker) => choose({ breaker })}
          {...(orders === undefined ? {} : { orders })}
        />
      )}
    </Box>
  );
}
