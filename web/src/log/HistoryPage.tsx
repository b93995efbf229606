import { Button, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from "@mui/material";
import { useState } from "react";
import type { House, Subject } from "../api/client";
import { useUndo } from "../api/edits";
import { useHistory } from "../api/reads";
import { useHouseView } from "../app/house";
import { author, setAuthor } from "../app/who";
import { ProblemNote } from "../parts/ProblemNote";

/** Everything that was changed, by whom and when; each can be taken back while nothing else stands on it. */
export function HistoryPage() {
  const { id, house } = useHouseView();
  const history = useHistory(id);
  const undo = useUndo(id);
  const [name, setName] = useState(author);
  return (
    <>
      <TextField
        label="Your name in the log, on this device"
        value={name}
        onChange={(event) => {
          setName(event.target.value);
          setAuthor(event.target.value);
        }}
        sx={{ width: 320 }}
      />
      <ProblemNote error={history.error ?? undo.error} />
      {history.data?.length === 0 && <Typography>Nothing was changed here yet; what you do will be listed.</Typography>}
      <Table size="small" aria-label="Changes, newest first">
        <TableHead>
          <TableRow>
            <TableCell>No.</TableCell>
            <TableCell>When</TableCell>
            <TableCell>Who</TableCell>
            <TableCell>What</TableCell>
            <TableCell />
          </TableRow>
        </TableHead>
        <TableBody>
          {history.data?.map((entry) => (
            <TableRow key={entry.revision} sx={entry.undone_by != null ? { textDecoration: "line-through" } : {}}>
              <TableCell className="mono">{entry.revision}</TableCell>
              <TableCell>{new Date(entry.time).toLocaleString()}</TableCell>
              <TableCell>{entry.author}</TableCell>
              <TableCell>
                {entry.said} {entry.undoes != null ? `of ${entry.undoes}` : subjects(house, entry.subjects)}
              </TableCell>
              <TableCell align="right">
                {entry.undone_by != null ? (
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
                )}
              </TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

/** The things a change touched, as far as they are still there. */
function subjects(house: House, list: Subject[]): string {
  const names = list.flatMap((subject) => {
    switch (subject.thing) {
      case "breaker":
        return house.breakers.find((b) => b.id === subject.id)?.at.join("-") ?? [];
      case "room":
        return house.rooms.find((r) => r.id === subject.id)?.name ?? [];
      case "point":
        return house.points.find((p) => p.id === subject.id)?.tag ?? [];
      case "evidence": {
        const point = house.evidence.find((e) => e.id === subject.id)?.point;
        return house.points.find((p) => p.id === point)?.tag ?? [];
      }
      case "panel":
        return house.panels.find((p) => p.id === subject.id)?.name ?? [];
      default:
        return [];
    }
  });
  return names.length > 8 ? `${names.slice(0, 8).join(", ")} and ${names.length - 8} more` : names.join(", ");
}
