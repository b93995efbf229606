import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { useCallback, useEffect, useRef, useState } from "react";
import type { Point, Seen } from "../api/client";
import { useHouseView } from "../app/house";
import { pointName } from "../parts/words";
import { lookFirst, usingWord } from "./LookCard";
import type { With } from "./phase";
import { StopButton } from "./StopButton";
import type { Tracing } from "./useTracing";

interface Props {
  /** The point that would be looked at next. */
  point: Point;
  tracing: Tracing;
  /** Back to one point at a time. */
  onOneByOne: () => void;
}

/**
 * A room on one card: its points as rows, what is seen from the door first. A row is answered by one tap and stands where it
 * stood; nothing has to be waited for. "Live" for all that is left counts for the rows on the screen alone.
 */
export function RoomCard({ point, tracing, onOneByOne }: Props) {
  const { house } = useHouseView();
  // The room stays until somebody goes on to the next.
  const [at, setAt] = useState(point.room);
  const rows = tracing.rows.flatMap((row) => {
    const found = house.points.find((p) => p.id === row.point && p.room === at);
    return found === undefined ? [] : [{ ...row, at: found }];
  });
  const room = house.rooms.find((r) => r.id === at);
  const next = house.rooms.find((r) => r.id === point.room);
  const { seen, now, watch } = useOnScreen();
  const open = rows.filter((row) => row.open && !tracing.answered.has(row.point));
  // What is to be looked at another way is not seen by looking round.
  const shown = open.filter((row) => row.with === "any" && seen.includes(row.point)).map((row) => row.at);
  const restIsLive = () => {
    // What was told on the button, as far as it still can be seen.
    const still = now();
    tracing.answerRows(
      shown.filter((p) => still.includes(p.id)),
      "live",
    );
  };
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // Browsers return something of it, which is no way to end an effect.
    void card.current?.scrollIntoView({ block: "start" });
  }, []);
  const firstInside = rows.findIndex((row) => !row.from_door);
  return (
    <Paper
      variant="outlined"
      ref={card}
      // Below what stays at the top of a phone.
      sx={{ borderColor: "act.main", borderWidth: 2, scrollMarginTop: 180 }}
      data-room={room?.name}
    >
      <Stack direction="row" sx={{ p: 1.5, pb: 0.5, gap: 1, alignItems: "center" }}>
        <Typography variant="h2" sx={{ flexGrow: 1 }}>
          {room?.name}: {open.length === 0 ? "all answered" : `${open.length} to look at`}
        </Typography>
        <Button onClick={onOneByOne} sx={{ whiteSpace: "nowrap" }}>
          One at a time
        </Button>
      </Stack>
      <Typography sx={{ px: 1.5, pb: 1, color: "text.secondary" }}>
        DEAD is a sign for the map, never a promise that it is safe to touch.
      </Typography>
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0 }} aria-label={`Points of ${room?.name}`}>
        {rows.map((row, nth) => (
          <Box component="li" key={row.point} ref={watch(row.point)} data-row={row.at.tag}>
            {nth === 0 && row.from_door && firstInside > 0 && <Heading>Seen from the door</Heading>}
            {nth === firstInside && nth > 0 && <Heading>Then inside</Heading>}
            <Row
              point={row.at}
              answer={tracing.answered.get(row.point)?.seen}
              open={row.open}
              using={row.with}
              current={row.point === point.id}
              busy={tracing.busy}
              onAnswer={(answer) => tracing.answerRows([row.at], answer)}
            />
          </Box>
        ))}
      </Box>
      <Box
        sx={{
          position: "sticky",
          bottom: 0,
          p: 1.5,
          bgcolor: "background.paper",
          borderTop: 1,
          borderColor: "divider",
        }}
      >
        {open.length > 0 ? (
          <Button
            variant="outlined"
            fullWidth
            disabled={shown.length === 0 || tracing.busy}
            onClick={restIsLive}
            sx={{ minHeight: 52 }}
          >
            {shown.length === 1
              ? "The one left on the screen is LIVE"
              : `I looked: these ${shown.length} on the screen are LIVE`}
          </Button>
        ) : (
          point.room !== at && (
            <Button variant="contained" color="act" fullWidth onClick={() => setAt(point.room)} sx={{ minHeight: 56 }}>
              Go on to {next?.name}
            </Button>
          )
        )}
        {/* Here and not over the page: it would cover what is answered next. */}
        <Stack direction="row" sx={{ minHeight: 48, mt: 0.5, alignItems: "center", justifyContent: "space-between" }}>
          <Typography role="status">{tracing.noted?.text}</Typography>
          {tracing.noted !== undefined && (
            <Button disabled={tracing.busy} onClick={() => tracing.takeBack(tracing.noted)}>
              Undo
            </Button>
          )}
        </Stack>
      </Box>
      <Stack direction="row" sx={{ gap: 1, px: 1.5, pb: 1, flexWrap: "wrap" }}>
        <Button onClick={tracing.endTour} disabled={tracing.busy}>
          End this tour
        </Button>
        <StopButton tracing={tracing} />
      </Stack>
    </Paper>
  );
}

function Heading({ children }: { children: string }) {
  return (
    <Typography sx={{ px: 1.5, pt: 1, fontSize: "0.9rem", fontWeight: 700, color: "text.secondary" }}>
      {children}
    </Typography>
  );
}

interface RowProps {
  point: Point;
  answer: Seen | undefined;
  /** Still worth a look; what is settled meanwhile stays where it stood. */
  open: boolean;
  /** What it is looked at with. */
  using: With;
  /** The keys answer it. */
  current: boolean;
  busy: boolean;
  onAnswer: (seen: Seen) => void;
}

function Row({ point, answer, open, using, current, busy, onAnswer }: RowProps) {
  const settled = !open && answer === undefined;
  const another = using === "any" || !open ? undefined : usingWord[using];
  const button = (seen: Seen, word: string, wide: number) => (
    <Button
      variant={answer === seen ? "contained" : "outlined"}
      color={answer === seen && seen === "dead" ? "inherit" : "primary"}
      aria-pressed={answer === seen}
      aria-label={`${point.tag}: ${seen === "unsure" ? "not sure" : word}`}
      disabled={busy || settled}
      onClick={() => answer !== seen && onAnswer(seen)}
      sx={{
        minWidth: wide,
        minHeight: 52,
        px: 0.5,
        fontWeight: 800,
        ...(answer === seen && seen === "dead"
          ? {
              bgcolor: "text.primary",
              color: "background.paper",
              border: "4px double",
              "&:hover": { bgcolor: "text.primary" },
            }
          : {}),
      }}
    >
      {word}
    </Button>
  );
  return (
    <Stack
      direction="row"
      sx={{
        px: 1.5,
        py: 0.75,
        gap: 0.75,
        alignItems: "center",
        borderTop: 1,
        borderColor: "divider",
        minHeight: 68,
        boxShadow: current ? "inset 6px 0 0 currentColor" : "none",
      }}
    >
      <Box sx={{ flexGrow: 1, minWidth: 0, opacity: settled ? 0.6 : 1 }}>
        <Typography sx={{ fontWeight: 700, lineHeight: 1.2 }}>{pointName(point)}</Typography>
        <Typography sx={{ fontSize: "0.85rem", color: "text.secondary" }}>
          <span className="mono">{point.tag}</span> {settled ? "settled meanwhile" : (lookFirst[point.kind] ?? "")}
        </Typography>
        {another !== undefined && <Typography sx={{ fontSize: "0.85rem", fontWeight: 700 }}>{another}</Typography>}
      </Box>
      {button("live", "LIVE", 72)}
      {button("dead", "DEAD", 72)}
      {button("unsure", "?", 44)}
    </Stack>
  );
}

/** How often it is looked which rows can be seen: something may come to lie over them without a scroll. */
const LOOK_MS = 300;

/** True where nothing lies over an element, and all of its height is on the screen. */
function isSeen(element: Element): boolean {
  const { left, right, top, bottom } = element.getBoundingClientRect();
  const middle = (left + right) / 2;
  return [top + 3, (top + bottom) / 2, bottom - 3].every((y) => element.contains(document.elementFromPoint(middle, y)));
}

/** Which rows stand whole on the screen, with nothing over them. */
function useOnScreen() {
  const elements = useRef(new Map<number, HTMLElement>());
  const now = useCallback(() => [...elements.current].filter(([, element]) => isSeen(element)).map(([row]) => row), []);
  const [seen, setSeen] = useState<readonly number[]>([]);
  useEffect(() => {
    const look = () => {
      const next = now();
      setSeen((old) => (old.length === next.length && old.every((row, nth) => row === next[nth]) ? old : next));
    };
    look();
    const timer = setInterval(look, LOOK_MS);
    document.addEventListener("scroll", look, { capture: true, passive: true });
    return () => {
      clearInterval(timer);
      document.removeEventListener("scroll", look, { capture: true });
    };
  }, [now]);
  const watch = (row: number) => (element: HTMLElement | null) => {
    if (element === null) {
      elements.current.delete(row);
    } else {
      elements.current.set(row, element);
    }
  };
  return { seen, now, watch };
}
