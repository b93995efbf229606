import { Box, Button, Typography } from "@mui/material";
import { type RefObject, useEffect, useState } from "react";
import type { Face, FaceBreaker } from "../api/client";

/** A breaker is pointed at, or left. */
export type Pointed = (breaker: number | undefined) => void;

interface Props {
  face: Face;
  chosen: number | undefined;
  /** Who points calls it. */
  point: RefObject<Pointed>;
  found: ReadonlyMap<number, string>;
  onOpen: (breaker: number) => void;
}

/** Under the panel, always as high: what is chosen or pointed at, in words. */
export function FaceFoot({ face, chosen, point, found, onOpen }: Props) {
  const [pointed, setPointed] = useState<number>();
  useEffect(() => {
    point.current = setPointed;
  }, [point]);
  const breaker = face.breakers.find((b) => b.breaker === (pointed ?? chosen));
  return (
    <Box
      role="status"
      sx={{
        height: 68,
        flexShrink: 0,
        borderTop: 1,
        borderColor: "divider",
        pt: 0.75,
        display: "flex",
        alignItems: "center",
        gap: 1,
        overflow: "hidden",
      }}
    >
      {breaker === undefined ? (
        <Typography sx={{ color: "text.secondary" }}>
          Point at a breaker, or tap it: what it feeds is told here.
        </Typography>
      ) : (
        <>
          <Box sx={{ flexGrow: 1, minWidth: 0 }}>
            <Typography noWrap sx={{ fontWeight: 700 }}>
              <span className="mono">{breaker.at}</span>{" "}
              {breaker.words[0] ?? (breaker.label === "" ? "not traced" : `old label “${breaker.label}”`)}
            </Typography>
            <Typography noWrap variant="body2" sx={{ color: "text.secondary" }}>
              {told(breaker, found.get(breaker.breaker))}
            </Typography>
          </Box>
          <Button variant="outlined" onClick={() => onOpen(breaker.breaker)} aria-label={`Open breaker ${breaker.at}`}>
            Open
          </Button>
        </>
      )}
    </Box>
  );
}

function told(breaker: FaceBreaker, found: string | undefined): string {
  return [
    breaker.held ?? "",
    found === undefined ? "" : `found: ${found}`,
    `${breaker.amps} A`,
    `handle ${breaker.handle}`,
    breaker.surely === "" ? "nothing proven" : `proven: ${breaker.surely}`,
  ]
    .filter((part) => part !== "")
    .join(", ");
}
