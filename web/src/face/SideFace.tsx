import { Box, Typography } from "@mui/material";
import { useEffect, useEffectEvent, useRef, useState } from "react";
import { useLocation } from "react-router";
import type { Advice } from "../api/client";
import { useLoads, useTracingRead } from "../api/reads";
import { useHouseView, useShownFace } from "../app/house";
import { useFound } from "../findings/useFound";
import { useSize } from "../parts/size";
import { useCrew } from "../trace/crew";
import { orders } from "../trace/OrderCard";
import { FaceFoot, type Pointed } from "./FaceFoot";
import { FaceHead } from "./FaceHead";
import { FaceWork } from "./FaceWork";
import type { Lens } from "./lens";
import { PanelFace } from "./PanelFace";
import { breakerAndSpace, HEAD } from "./shape";

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

/** What a page is about is what the panel beside it is looked at for, until somebody says otherwise there. */
function useLens(page: string): [Lens, (lens: Lens) => void] {
  const usual: Lens = page.endsWith("/loads") ? "load" : page.endsWith("/findings") ? "findings" : "feeds";
  const [picked, setPicked] = useState<{ page: string; lens: Lens }>();
  return [picked?.page === page ? picked.lens : usual, (lens) => setPicked({ page, lens })];
}

/** Rows are no lower: half-size bodies and two hands' width of words need it. */
const LEAST_ROW = 26;
const MOST_ROW = 46;
/** What half of a row has at the least. */
const HALF = 17;

/** The panel's face beside every page: a breaker chosen here filters the page. */
export function SideFace() {
  const { id, house, chosen, choose, asking } = useHouseView();
  const face = useShownFace();
  // Told past the drawing, which is much to draw anew.
  const point = useRef<Pointed>(() => undefined);
  const [box, size] = useSize<HTMLDivElement>();
  const page = useLocation().pathname;
  const [lens, setLens] = useLens(page);
  const surveying = page.endsWith("/survey");
  // Another page may have read them: that they are known does not mean that they are shown.
  const measured = useLoads(id, lens === "load").data?.circuits;
  const loads = lens === "load" && measured !== undefined ? new Map(measured.map((c) => [c.breaker, c])) : undefined;
  // While an order stands its handles are marked.
  const tracing = page.endsWith("/trace");
  const [crew] = useCrew(id, house);
  const traced = useTracingRead(id, crew, tracing).data;
  const ordered = tracing && traced !== undefined && traced.guide == null ? traced.advice : undefined;
  const moves = ordered === undefined ? undefined : orders(ordered);
  useOrderedPanel(ordered);
  const found = useFound(id, !tracing).breakers;
  const row = face === undefined ? 0 : Math.min(MOST_ROW, Math.max(LEAST_ROW, (size.height - HEAD - 12) / face.rows));
  const pick = (breaker: number) =>
    choose(chosen.breaker === breaker || face === undefined ? {} : breakerAndSpace(face, breaker));
  return (
    <>
      <FaceHead
        asked={asking ?? (moves !== undefined && moves.size > 0 ? { what: "Move the marked handles" } : undefined)}
        lens={lens}
        onLens={setLens}
      />
      <FaceWork work={face?.work ?? []} />
      <Box ref={box} sx={{ flexGrow: 1, minHeight: 200, overflow: "auto" }}>
        {face === undefined ? (
          <Typography sx={{ color: "text.secondary" }}>No panel yet: enter it under House.</Typography>
        ) : (
          size.width > 0 && (
            <PanelFace
              face={face}
              row={row}
              half={HALF}
              width={size.width}
              selected={asking?.chosen ?? chosen.breaker}
              onBreaker={asking?.onBreaker ?? pick}
              onPreview={(breaker) => point.current(breaker)}
              found={found}
              lens={lens}
              {...(loads === undefined ? {} : { loads })}
              {...(moves === undefined ? {} : { orders: moves })}
              {...(surveying ? { onSpace: (space: number) => choose({ space }) } : {})}
              {...(asking?.onSpace === undefined ? {} : { onSpace: asking.onSpace })}
            />
          )
        )}
      </Box>
      {face !== undefined && (
        <FaceFoot
          face={face}
          chosen={chosen.breaker}
          point={point}
          found={found}
          onOpen={(breaker) => choose({ ...chosen, sheet: breaker })}
        />
      )}
    </>
  );
}
