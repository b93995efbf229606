import { Button, Menu, MenuItem } from "@mui/material";
import { useState } from "react";
import type { Fault, Point } from "../api/client";
import { faultWord } from "../parts/words";
import type { Tracing } from "./useTracing";

/** A fault met on the way, noted with two taps. */
export function FaultButton({ point, tracing }: { point: Point; tracing: Tracing }) {
  const [anchor, setAnchor] = useState<HTMLElement>();
  return (
    <>
      <Button onClick={(e) => setAnchor(e.currentTarget)} aria-haspopup="menu">
        Note a fault
      </Button>
      <Menu open={anchor !== undefined} anchorEl={anchor ?? null} onClose={() => setAnchor(undefined)}>
        {(Object.keys(faultWord) as Fault[]).map((fault) => (
          <MenuItem
            key={fault}
            sx={{ minHeight: 48 }}
            onClick={() => {
              tracing.fault(point, fault);
              setAnchor(undefined);
            }}
          >
            {faultWord[fault]}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
