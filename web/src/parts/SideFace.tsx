import { Box, Button, Typography } from "@mui/material";
import { useEffect, useEffectEvent } from "react";
import { useLocation } from "react-router";
import type { Advice } from "../api/client";
import { useLoads, useTracingRead } from "../api/reads";
import { useHouseView, useShownFace } from "../app/house";
import { useFound } from "../findings/useFound";
import { useCrew } from "../trace/crew";
import { orders } from "../trace/OrderCard";
import { FaceWork } from "./FaceWork";
import { breakerAndSpace, PanelFace } from "./PanelFace";
import { useSize } from "./size";

/** The panel that an order is about is the one shown, once for each order: another may be looked at meanwhile. */
function useOrderedPanel(advice: Advice | undefined) {
  const { house, panel, setPanel } = useHouseView();
  const moved = [...(advice?.switch_off ?? []), ...(advice?.switch_on ?? [])];
  const panels = moved.map((b) => house.panels.find((p) => p.name === b.panel)?.id).filter((p) => p !== undefined);
  const wanted = panel !== undefined && panels.includes(panel) ? undefined : panels[0];
  const order = moved.map((b) => b.breaker).join(",");
  const show = useEffectEvent(() => wanted !== undefined && setPanel(wanted));
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each order
  useEffect(() => {
    show();
  }, [order]);
}

/** The panel's face beside every page: a breaker chosen here filters the page. */
export function SideFace() {
  const { id, house, chosen, choose, asking } = useHouseView();
  const face = useShownFace();
  const breaker = face?.breakers.find((b) => b.breaker === chosen.breaker);
  const [box, size] = useSize<HTMLDivElement>();
  const page = useLocation().pathname;
  const surveying = page.endsWith("/survey");
  const wanted = page.endsWith("/loads");
  // Another page may have read them: that they are known does not mean that they are shown.
  const measured = useLoads(id, wanted).data?.circuits;
  const loads = wanted && measured !== undefined ? new Map(measured.map((c) => [c.breaker, c])) : undefined;
  // While an order stands its handles are marked.
  const tracing = page.endsWith("/trace");
  const [crew] = useCrew(id, house);
  const traced = useTracingRead(id, crew, tracing).data;
  const ordered = tracing && traced !== undefined && traced.guide == null ? traced.advice : undefined;
  const moves = ordered === undefined ? undefined : orders(ordered);
  useOrderedPanel(ordered);
  const found = useFound(id, !tracing).breakers;
  const row = face === undefined ? 0 : Math.min(46, Math.max(26, (size.height - 40) / face.rows));
  const pick = (breaker: number) =>
    choose(chosen.breaker === breaker || face === undefined ? {} : breakerAndSpace(face, breaker));
  return (
    <>
      {breaker !== undefined && (
        <Button
          variant="outlined"
          onClick={() => choose({ ...chosen, sheet: breaker.breaker })}
          sx={{ minHeight: 32, py: 0 }}
        >
          All about breaker {breaker.at} …
        </Button>
      )}
      <FaceWork work={face?.work ?? []} />
      <Box ref={box} sx={{ flexGrow: 1, minHeight: 200, overflow: "auto" }}>
        {face === undefined ? (
          <Typography sx={{ color: "text.secondary" }}>No panel yet: enter it under House.</Typography>
        ) : (
          size.width > 0 && (
            <PanelFace
              face={face}
              row={row}
              width={size.width}
              selected={asking?.chosen ?? chosen.breaker}
              onBreaker={asking?.onBreaker ?? pick}
              found={found}
              {...(loads === undefined ? {} : { loads })}
              {...(moves === undefined ? {} : { orders: moves })}
              {...(surveying ? { onSpace: (space: number) => choose({ space }) } : {})}
              {...(asking?.onSpace === undefined ? {} : { onSpace: asking.onSpace })}
            />
          )
        )}
      </Box>
    </>
  );
}
