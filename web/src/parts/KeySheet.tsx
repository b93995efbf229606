import {
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  Switch,
  Table,
  TableBody,
  TableCell,
  TableRow,
} from "@mui/material";
import { useState } from "react";
import { useKeys, useSingleKeys } from "./keys";

const sheet = [
  ["/", "find anything: a tag, a thing, a room, a breaker, an old label"],
  ["B", "on Trace: begin a run"],
  ["L", "on Trace: the point asked for is LIVE"],
  ["D", "it is DEAD"],
  ["N", "NOT SURE"],
  ["O", "the handles are moved as asked"],
  ["Z", "on Trace: take your last change back"],
  [
    "arrows",
    "on the Plan: go to the next; hold it with Enter, then move it by a foot (a room) or half a foot; Escape lets go",
  ],
  ["Enter", "in a space of the panel: take it over, go to the next"],
  ["?", "this sheet"],
];

/** What the keys do. */
export function KeySheet() {
  const [open, setOpen] = useState(false);
  const [on, setOn] = useSingleKeys();
  useKeys({ "?": () => setOpen(true) });
  return (
    <>
      <Button onClick={() => setOpen(true)} aria-label="Keys" sx={{ minWidth: 0 }}>
        Keys
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} aria-labelledby="keys-title">
        <DialogTitle id="keys-title">Keys</DialogTitle>
        <DialogContent>
          <Table size="small">
            <TableBody>
              {sheet.map(([key, what]) => (
                <TableRow key={key}>
                  <TableCell className="mono">{key}</TableCell>
                  <TableCell>{what}</TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
          <FormControlLabel
            control={<Switch checked={on} onChange={(_, acts) => setOn(acts)} />}
            label="Single keys act. They do so in the work area, not on a link or a field."
          />
        </DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}
