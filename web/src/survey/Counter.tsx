import { IconButton, Stack, Typography } from "@mui/material";
import type { Item } from "../api/client";

/** Most of a kind that are added at once. */
const MOST = 50;

/** How many of a kind of point. */
export function Counter({ item, onChange }: { item: Item; onChange: (count: number) => void }) {
  const what = `${item.name} ${item.kind === "receptacle" || item.name === "" ? item.kind : ""}`.trim();
  return (
    <Stack direction="row" spacing={0.5} sx={{ alignItems: "center" }} role="group" aria-label={what}>
      <IconButton
        aria-label={`fewer: ${what}`}
        onClick={() => onChange(Math.max(0, item.count - 1))}
        disabled={item.count === 0}
      >
        −
      </IconButton>
      <Typography className="mono" sx={{ width: 24, textAlign: "center" }} aria-live="polite">
        {item.count}
      </Typography>
      <IconButton aria-label={`more: ${what}`} onClick={() => onChange(Math.min(MOST, item.count + 1))}>
        +
      </IconButton>
      <Typography sx={{ color: item.count === 0 ? "text.secondary" : "text.primary" }}>
        {what}
        {item.volts === 240 && <span className="mono"> 240 V</span>}
      </Typography>
    </Stack>
  );
}
