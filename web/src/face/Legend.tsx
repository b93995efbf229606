import { Button, Popover, Stack, Typography } from "@mui/material";
import { useTheme } from "@mui/material/styles";
import { type ReactNode, useState } from "react";
import { Handle } from "./Handle";

/** What the marks of the drawing mean, a press away. */
export function Legend() {
  const { palette } = useTheme();
  const [at, setAt] = useState<HTMLElement>();
  const handle = (handle: "on" | "off" | "tripped", held = false) => (
    <Handle handle={handle} held={held} left={false} spine={8} middle={12} small={false} ink={palette.text.primary} />
  );
  const bar = (fill: string) => <rect x={19} y={2} width={5} height={20} fill={fill} stroke={palette.primary.main} />;
  return (
    <>
      <Button
        size="small"
        aria-haspopup="dialog"
        onClick={(event) => setAt(event.currentTarget)}
        sx={{ minWidth: 0, px: 1, minHeight: 36 }}
      >
        Marks
      </Button>
      <Popover
        open={at !== undefined}
        anchorEl={at}
        onClose={() => setAt(undefined)}
        anchorOrigin={{ vertical: "bottom", horizontal: "right" }}
        transformOrigin={{ vertical: "top", horizontal: "right" }}
        slotProps={{ paper: { role: "dialog", "aria-label": "What the marks mean", sx: { p: 1.5, width: 320 } } }}
      >
        <Stack spacing={0.5}>
          <Line drawn={handle("on")}>The handle is at ON</Line>
          <Line drawn={handle("off")}>At OFF, or proven dead for work: hatched</Line>
          <Line drawn={handle("tripped")}>It tripped: it stands between</Line>
          <Line drawn={handle("off", true)}>Somebody holds it off: leave it</Line>
          <Line drawn={bar(palette.primary.main)}>All that is said there is proven</Line>
          <Line drawn={bar("none")}>Some of it is proven</Line>
          <Line
            drawn={
              <text x={8} y={17} fontSize={13} fontStyle="italic" fill={palette.text.primary}>
                Hall?
              </text>
            }
          >
            Slanted, with a question mark: not proven
          </Line>
          <Line
            drawn={
              <text x={8} y={17} fontSize={13} fontWeight={800} fill={palette.error.main}>
                ⚠
              </text>
            }
          >
            Something there is to be mended
          </Line>
          <Line
            drawn={
              <text x={8} y={17} fontSize={12} fontWeight={700} className="mono" fill={palette.text.secondary}>
                GF
              </text>
            }
          >
            Protects people: GF ground-fault, AF arc-fault, AG both
          </Line>
        </Stack>
      </Popover>
    </>
  );
}

function Line({ drawn, children }: { drawn: ReactNode; children: ReactNode }) {
  return (
    <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
      <svg width={46} height={24} aria-hidden style={{ flexShrink: 0 }}>
        {drawn}
      </svg>
      <Typography sx={{ fontSize: 14 }}>{children}</Typography>
    </Stack>
  );
}
