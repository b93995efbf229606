import { Box, Typography } from "@mui/material";
import { useLocation } from "react-router";
import { useHouseView } from "../house";
import { PanelFace } from "./PanelFace";
import { useSize } from "./size";

/** The panel's face beside every page: a breaker chosen here filters the page. */
export function SideFace() {
  const { face, beliefs, chosen, choose } = useHouseView();
  const [box, size] = useSize<HTMLDivElement>();
  const surveying = useLocation().pathname.endsWith("/survey");
  const row = face === undefined ? 0 : Math.min(46, Math.max(26, (size.height - 40) / face.rows));
  const pick = (breaker: number) => {
    const space = face?.breakers.find((b) => b.breaker === breaker)?.at.match(/^\d+/)?.[0];
    choose(chosen.breaker === breaker ? {} : { breaker, ...(space === undefined ? {} : { space: Number(space) }) });
  };
  return (
    <Box ref={box} sx={{ flexGrow: 1, minHeight: 200, overflow: "auto" }}>
      {face === undefined ? (
        <Typography sx={{ color: "text.secondary" }}>No panel yet: enter it under Survey.</Typography>
      ) : (
        size.width > 0 && (
          <PanelFace
            face={face}
            beliefs={beliefs}
            row={row}
            width={size.width}
            selected={chosen.breaker}
            onBreaker={pick}
            {...(surveying ? { onSpace: (space: number) => choose({ space }) } : {})}
          />
        )
      )}
    </Box>
  );
}
