import { Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { type FormEvent, useState } from "react";
import type { Observation, Point } from "../api/client";
import { newId, useCommit } from "../api/edits";
import { useKnownLoad } from "../api/reads";
import { useHouseView, useMap } from "../app/house";
import { author } from "../app/who";
import { NumberField } from "./NumberField";
import { ProblemNote } from "./ProblemNote";
import { breakerName } from "./words";

type Kind = "word" | "rise" | "wire";

const kinds: Record<Kind, string> = {
  word: "somebody says it went dead with",
  rise: "a load here raised the current of",
  wire: "its cable, followed with the cover off, goes to",
};

/** What is known of a point otherwise than by a look: said, measured, followed. */
export function TellMore({ point }: { point: Point }) {
  const { id, house } = useHouseView();
  const beliefs = useMap();
  const commit = useCommit(id);
  const [open, setOpen] = useState(false);
  const [kind, setKind] = useState<Kind>("word");
  const [at, setAt] = useState("");
  const [who, setWho] = useState("");
  const load = useKnownLoad();
  const [typed, setExpected] = useState<number | null>();
  const expected = typed === undefined ? load.amps : typed;
  const [rose, setRose] = useState<number | null>(null);
  if (!open) {
    return (
      <Button variant="outlined" onClick={() => setOpen(true)} sx={{ alignSelf: "start" }}>
        Add what you know
      </Button>
    );
  }
  const tell = (event: FormEvent) => {
    event.preventDefault();
    const observation = observed(kind, Number(at), expected, rose);
    if (observation === undefined) {
      return;
    }
    const evidence = {
      id: newId(),
      point: point.id,
      time: new Date().toISOString(),
      who: kind === "word" && who.trim() !== "" ? who.trim() : author(),
      step: null,
      observation,
    };
    commit.mutate({ type: "record", evidence }, { onSuccess: () => setOpen(false) });
  };
  const ready = at !== "" && observed(kind, Number(at), expected, rose) !== undefined;
  return (
    <Paper component="form" variant="outlined" sx={{ p: 2 }} onSubmit={tell} aria-label="Add what you know">
      <Stack spacing={2}>
        <TextField select label="What" value={kind} onChange={(e) => setKind(e.target.value as Kind)}>
          {(Object.keys(kinds) as Kind[]).map((k) => (
            <MenuItem key={k} value={k}>
              {kinds[k]}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="Breaker" value={at} onChange={(e) => setAt(e.target.value)}>
          {beliefs?.breakers.map((b) => (
            <MenuItem key={b.breaker} value={String(b.breaker)}>
              {breakerName(house, b)}
            </MenuItem>
          ))}
        </TextField>
        {kind === "word" && (
          <TextField label="Who says so" value={who} onChange={(e) => setWho(e.target.value)} placeholder={author()} />
        )}
        {kind === "rise" && (
          <Stack direction="row" spacing={2}>
            <NumberField label="The load draws" unit="A" value={expected} onChange={setExpected} />
            <NumberField label="It rose by" unit="A" value={rose} onChange={setRose} />
          </Stack>
        )}
        {kind !== "word" && (
          <Typography sx={{ color: "text.secondary" }}>
            With the cover off, live parts are bare: only for people qualified for it.
          </Typography>
        )}
        <ProblemNote error={commit.error} />
        <Stack direction="row" spacing={1}>
          <Button type="submit" variant="contained" disabled={!ready || commit.isPending}>
            Add
          </Button>
          <Button onClick={() => setOpen(false)}>Cancel</Button>
        </Stack>
      </Stack>
    </Paper>
  );
}

function observed(kind: Kind, at: number, expected: number | null, rose: number | null): Observation | undefined {
  switch (kind) {
    case "word":
      return { what: "power", off: [at], seen: "dead", how: "word" };
    case "wire":
      return { what: "wire", at };
    case "rise":
      return expected === null || rose === null ? undefined : { what: "rise", at, expected, rose };
  }
}
