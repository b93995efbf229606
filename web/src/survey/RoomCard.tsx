import { Box, Button, Dialog, DialogContent, DialogTitle, Paper, Stack, Typography } from "@mui/material";
import { useEffect, useRef, useState } from "react";
import type { Change, Point, Room } from "../api/client";
import { useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { PointLoads } from "../loads/PointLoads";
import { CloseButton } from "../parts/CloseButton";
import { ProblemNote } from "../parts/ProblemNote";
import type { Noted } from "../parts/Undoable";
import { pointName } from "../parts/words";
import { ChangeRoom } from "./ChangeRoom";
import { PointForm } from "./PointForm";

interface Props {
  room: Room;
  points: Point[];
  /** It was added just now: whoever types goes on there. */
  fresh: boolean;
  /** Something was taken out, with all that was observed of it. */
  onTaken: (noted: Noted) => void;
}

/** A room and its points, each to be changed or taken out. */
export function RoomCard({ room, points, fresh, onTaken }: Props) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (fresh) {
      card.current?.focus();
    }
  }, [fresh]);
  const takeOut = async (change: Change, name: string) => {
    // The card goes with its room, so what comes after is not left to its own callbacks.
    const done = await commit.mutateAsync(change).catch(() => undefined);
    if (done !== undefined) {
      onTaken({ text: `${name} taken out`, revision: done.revision });
    }
  };
  const [edited, setEdited] = useState<Point>();
  const [changing, setChanging] = useState(false);
  return (
    <Paper variant="outlined" ref={card} tabIndex={-1} sx={{ p: 2 }} role="region" aria-label={room.name}>
      <Stack direction="row" sx={{ alignItems: "center", gap: 1, flexWrap: "wrap" }}>
        <Typography variant="h3" sx={{ flexGrow: 1 }}>
          {room.name}, floor {room.floor}
        </Typography>
        <Button variant="outlined" onClick={() => setChanging(true)} aria-label={`Change, add points: ${room.name}`}>
          Change, add points
        </Button>
        <Button
          onClick={() => takeOut({ type: "remove-room", room: room.id }, room.name)}
          aria-label={`Take out ${room.name}`}
        >
          Take out
        </Button>
      </Stack>
      <Box component="ul" aria-label={`Points of ${room.name}`} sx={{ listStyle: "none", m: 0, p: 0 }}>
        {points.map((point) => (
          <Stack
            component="li"
            key={point.id}
            direction="row"
            sx={{ alignItems: "center", gap: 1, py: 0.25, borderTop: 1, borderColor: "divider" }}
          >
            <Box sx={{ flexGrow: 1, minWidth: 0 }}>
              <Typography sx={{ lineHeight: 1.25 }}>{pointName(point)}</Typography>
              <Typography variant="caption" sx={{ color: "text.secondary" }}>
                <span className="mono">{point.tag}</span> · {point.kind} ·{" "}
                {point.volts == null ? "volts not known" : `${point.volts} V`}
                {point.ground_fault === true && " · TEST button"}
              </Typography>
            </Box>
            <Button size="small" onClick={() => setEdited(point)} aria-label={`Edit ${point.tag}`}>
              Edit
            </Button>
            <Button
              size="small"
              sx={{ whiteSpace: "nowrap" }}
              onClick={() => takeOut({ type: "remove-point", point: point.id }, point.tag)}
              aria-label={`Take out ${point.tag}`}
            >
              Take out
            </Button>
          </Stack>
        ))}
      </Box>
      <ProblemNote error={commit.error} />
      <Dialog open={edited !== undefined} onClose={() => setEdited(undefined)} aria-labelledby="edit-title">
        <DialogTitle id="edit-title" sx={{ pr: 11 }}>
          Point {edited?.tag}
        </DialogTitle>
        <CloseButton onClose={() => setEdited(undefined)} />
        <DialogContent>
          {edited !== undefined && (
            <Stack spacing={3}>
              <PointForm point={edited} onDone={() => setEdited(undefined)} />
              <PointLoads point={edited} />
            </Stack>
          )}
        </DialogContent>
      </Dialog>
      <Dialog open={changing} onClose={() => setChanging(false)} aria-labelledby="change-title">
        <DialogTitle id="change-title" sx={{ pr: 11 }}>
          {room.name}
        </DialogTitle>
        <CloseButton onClose={() => setChanging(false)} />
        <DialogContent>{changing && <ChangeRoom room={room} onDone={() => setChanging(false)} />}</DialogContent>
      </Dialog>
    </Paper>
  );
}
