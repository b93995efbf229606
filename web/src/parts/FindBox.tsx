import {
  Box,
  Button,
  Dialog,
  DialogActions,
  DialogContent,
  List,
  ListItemButton,
  TextField,
  Typography,
} from "@mui/material";
import { type FormEvent, useDeferredValue, useState } from "react";
import { useNavigate } from "react-router";
import type { Found, House } from "../api/client";
import { useFind } from "../api/reads";
import { useHouseView } from "../app/house";
import { useKeys } from "./keys";
import { percent } from "./words";

/** One box that finds anything by what people call it, and answers the commonest question in its first line. */
export function FindBox() {
  const [open, setOpen] = useState(false);
  useKeys({ "/": () => setOpen(true) });
  return (
    <>
      <Button onClick={() => setOpen(true)} aria-label="Find anything" variant="outlined" sx={{ minWidth: 0 }}>
        Find
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} fullWidth aria-label="Find anything">
        <DialogContent>{open && <Search onDone={() => setOpen(false)} />}</DialogContent>
        <DialogActions>
          <Button onClick={() => setOpen(false)}>Close</Button>
        </DialogActions>
      </Dialog>
    </>
  );
}

/** Types, finds, opens. */
export function Search({ onDone }: { onDone: () => void }) {
  const { id, house, choose, setPanel } = useHouseView();
  const [typed, setTyped] = useState("");
  const hits = useFind(id, useDeferredValue(typed));
  const navigate = useNavigate();
  const list = typed.trim() === "" ? [] : (hits.data ?? []);
  const go = (hit: Found) => {
    onDone();
    const { subject } = hit;
    if (subject.thing === "point") {
      choose({ point: subject.id });
    } else if (subject.thing === "breaker") {
      setPanel(house.breakers.find((b) => b.id === subject.id)?.panel ?? 0);
      choose({ breaker: subject.id, sheet: subject.id });
    } else if (subject.thing === "panel") {
      setPanel(subject.id);
    } else if (subject.thing === "room") {
      void navigate(`/houses/${id}/plan?room=${subject.id}`);
    }
  };
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const first = list[0];
    if (first !== undefined) {
      go(first);
    }
  };
  return (
    <Box component="form" onSubmit={submit}>
      <TextField
        fullWidth
        autoFocus
        label="A tag, a thing, a room, a breaker, an old label"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        slotProps={{ htmlInput: { autoComplete: "off" } }}
      />
      <List component="nav" aria-label="Found">
        {list.map((hit) => (
          <ListItemButton key={`${hit.subject.thing}-${hit.title}`} onClick={() => go(hit)} sx={{ minHeight: 48 }}>
            <Answer hit={hit} house={house} />
          </ListItemButton>
        ))}
      </List>
      {typed.trim() !== "" && hits.isSuccess && list.length === 0 && (
        <Typography>Nothing of that name. Try the room, or what the thing does.</Typography>
      )}
    </Box>
  );
}

/** "K10 Kitchen, disposer → space 9, 20 A, leg A; also goes dark: …" */
function Answer({ hit, house }: { hit: Found; house: House }) {
  const fed = hit.fed_by;
  const panel = house.panels.length > 1 && fed != null ? `${fed.panel} ` : "";
  return (
    <Box>
      <Typography sx={{ fontWeight: 650 }}>
        {hit.title}
        {fed != null && (
          <>
            {" → "}
            <span className="mono">
              {panel}
              {fed.at}
            </span>
            , {fed.amps} A, leg {fed.legs.join(" and ")}
          </>
        )}
      </Typography>
      {hit.warning !== "" && (
        <Typography color="error" sx={{ fontWeight: 700 }}>
          {hit.warning}
        </Typography>
      )}
      <Typography sx={{ color: "text.secondary" }}>
        {fed != null && fed.status !== "proven" && `Not proven: ${percent(fed.p)} likely. `}
        {hit.dark !== "" && `${fed == null ? "Points" : "Also goes dark"}: ${hit.dark}`}
      </Typography>
    </Box>
  );
}
