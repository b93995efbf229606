import { Button, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from "@mui/material";
import { Fragment, useState } from "react";
import type { House, Schemas, Subject } from "../api/client";
import { useUndo } from "../api/edits";
import { useHistory } from "../api/reads";
import { useHouseView } from "../app/house";
import { author, setAuthor } from "../app/who";
import { ProblemNote } from "../parts/ProblemNote";
import { roomName } from "../parts/words";
import { grouped } from "./grouped";

type Entry = Schemas["HistoryItem"];

/** What was changed, a line a thing that somebody did; each change can be taken back while nothing else stands on it. */
export function HistoryPage() {
  const { id, house } = useHouseView();
  const history = useHistory(id);
  const undo = useUndo(id);
  const [name, setName] = useState(author);
  const [open, setOpen] = useState<number>();
  const takeBack = (entry: Entry) =>
    entry.undone_by != null ? (
      "taken back"
    ) : (
      <Button
        size="small"
        disabled={undo.isPending}
        onClick={() => undo.mutate(entry.revision)}
        aria-label={`Take back ${entry.revision}`}
      >
        Take back
      </Button>
    );
  const row = (entry: Entry, within = false) => (
    <TableRow key={entry.revision} sx={entry.undone_by != null ? { textDecoration: "line-through" } : {}}>
      <Made entry={entry} within={within} />
      <TableCell>
        <MadeSmall entry={entry} />
        {entry.said} {entry.undoes != null ? `of ${entry.undoes}` : subjects(house, entry.subjects)}
      </TableCell>
      <TableCell align="right">{takeBack(entry)}</TableCell>
    </TableRow>
  );
  return (
    <>
      <TextField
        label="Your name in the log, on this device"
        value={name}
        onChange={(event) => {
          setName(event.target.value);
          setAuthor(event.target.value);
        }}
        sx={{ maxWidth: 320 }}
      />
      <ProblemNote error={history.error ?? undo.error} />
      {history.data?.length === 0 && <Typography>Nothing was changed here yet; what you do will be listed.</Typography>}
      <Table size="small" aria-label="Changes, newest first">
        <TableHead>
          <TableRow>
            <TableCell sx={wide}>When</TableCell>
            <TableCell sx={wide}>Who</TableCell>
            <TableCell>What</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {grouped(history.data ?? []).map((group) => {
            const [newest] = group;
            if (newest === undefined || group.length === 1) {
              return newest === undefined ? null : row(newest);
            }
            const unfolded = open === newest.revision;
            const all = group.flatMap((entry) => entry.subjects);
            return (
              <Fragment key={newest.revision}>
                <TableRow>
                  <Made entry={newest} />
                  <TableCell>
                    <MadeSmall entry={newest} />
                    <Button
                      size="small"
                      aria-expanded={unfolded}
                      onClick={() => setOpen(unfolded ? undefined : newest.revision)}
                      sx={{ textAlign: "left", fontWeight: 400, p: 0.5 }}
                    >
                      {unfolded ? "▾" : "▸"} {newest.said}, {group.length} times: {subjects(house, all)}
                    </Button>
                  </TableCell>
                  <TableCell align="right">{!unfolded && takeBack(newest)}</TableCell>
                </TableRow>
                {unfolded && group.map((entry) => row(entry, true))}
              </Fragment>
            );
          })}
        </TableBody>
      </Table>
    </>
  );
}

/** A phone has when and who above what, not beside it. */
const wide = { display: { xs: "none", sm: "table-cell" } };

function Made({ entry, within = false }: { entry: Entry; within?: boolean }) {
  return (
    <>
      <TableCell sx={{ ...wide, whiteSpace: "nowrap", pl: within ? 4 : 2 }}>
        {new Date(entry.time).toLocaleString()}
      </TableCell>
      <TableCell sx={wide}>{entry.author}</TableCell>
    </>
  );
}

function MadeSmall({ entry }: { entry: Entry }) {
  return (
    <Typography variant="caption" component="div" sx={{ display: { sm: "none" }, color: "text.secondary" }}>
      {new Date(entry.time).toLocaleString()}, {entry.author}
    </Typography>
  );
}

/** The things changes touched, as far as they are still there: points by room, the rest by name. */
function subjects(house: House, list: Subject[]): string {
  const points = new Set<number>();
  const names = new Set<string>();
  for (const subject of list) {
    switch (subject.thing) {
      case "breaker": {
        const breaker = house.breakers.find((b) => b.id === subject.id);
        if (breaker !== undefined) {
          names.add(breaker.at.join("-"));
        }
        break;
      }
      case "room":
        names.add(house.rooms.find((r) => r.id === subject.id)?.name ?? "");
        break;
      case "point":
        points.add(subject.id);
        break;
      case "evidence":
        points.add(house.evidence.find((e) => e.id === subject.id)?.point ?? 0);
        break;
      case "panel":
        names.add(house.panels.find((p) => p.id === subject.id)?.name ?? "");
        break;
      default:
        break;
    }
  }
  const byRoom = new Map<string, string[]>();
  for (const point of house.points.filter((p) => points.has(p.id))) {
    const room = roomName(house, point);
    byRoom.set(room, [...(byRoom.get(room) ?? []), point.tag]);
  }
  const rooms = [...byRoom].map(([room, tags]) => `${room} ${tags.length > 6 ? `(${tags.length})` : tags.join(" ")}`);
  const told = [...rooms, ...[...names].filter((n) => n !== "")];
  return told.length > 8 ? `${told.slice(0, 8).join(", ")} and ${told.length - 8} more` : told.join(", ");
}
