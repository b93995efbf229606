import { Button, Table, TableBody, TableCell, TableHead, TableRow, TextField, Typography } from "@mui/material";
import { Fragment, useState } from "react";
import type { Schemas } from "../api/client";
import { useUndo } from "../api/edits";
import { useHistory } from "../api/reads";
import { useHouseView } from "../app/house";
import { author, setAuthor } from "../app/who";
import { ProblemNote } from "../parts/ProblemNote";

type Entry = Schemas["HistoryItem"];

/** What was changed, a line a thing that somebody did; each change can be taken back while nothing else stands on it. */
export function HistoryPage() {
  const { id } = useHouseView();
  const history = useHistory(id);
  const undo = useUndo(id);
  const [name, setName] = useState(author);
  const [open, setOpen] = useState<number>();
  // What the line says, as one change: one entry, or all that it folds.
  const takeBack = (entries: Entry[], line: string) =>
    entries.some((entry) => entry.undone_by != null) ? (
      "taken back"
    ) : (
      <Button
        size="small"
        disabled={undo.isPending}
        onClick={() => undo.mutate(entries.map((entry) => entry.revision))}
        aria-label={`${backWord(entries)}: ${line}`}
      >
        {backWord(entries)}
      </Button>
    );
  const row = (entry: Entry, within = false) => (
    <TableRow key={entry.revision} sx={entry.undone_by != null ? { textDecoration: "line-through" } : {}}>
      <Made entry={entry} within={within} />
      <TableCell>
        <MadeSmall entry={entry} />
        {said(entry)}
        <Ended all={entry.ended} />
      </TableCell>
      <TableCell align="right">{takeBack([entry], said(entry))}</TableCell>
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
          {history.data?.map(({ entries, ...line }) => {
            const [newest] = entries;
            if (newest === undefined || entries.length === 1) {
              return newest === undefined ? null : row(newest);
            }
            const unfolded = open === newest.revision;
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
                      {unfolded ? "▾" : "▸"} {said(line)}
                    </Button>
                    {!unfolded && <Ended all={line.ended} />}
                  </TableCell>
                  <TableCell align="right">{!unfolded && takeBack(entries, said(line))}</TableCell>
                </TableRow>
                {unfolded && entries.map((entry) => row(entry, true))}
              </Fragment>
            );
          })}
        </TableBody>
      </Table>
    </>
  );
}

/** What was found before and is no more. */
function Ended({ all }: { all: string[] }) {
  return all.map((ended) => (
    <Typography key={ended} variant="body2" sx={{ color: "text.secondary" }}>
      No longer found: {ended}
    </Typography>
  ));
}

/** What takes back is put back by taking it back. */
function backWord(entries: Entry[]): string {
  const undone = entries.some((entry) => entry.undoes.length > 0);
  return undone ? "Put back" : entries.length > 1 ? `Take all ${entries.length} back` : "Take back";
}

function said({ said, what }: { said: string; what: string }): string {
  return what === "" ? said : `${said}: ${what}`;
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
