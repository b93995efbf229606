import { Alert, Checkbox, FormControlLabel, FormGroup, MenuItem, Stack, TextField, Typography } from "@mui/material";
import { useState } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "../api/client";
import { useDirectory } from "../api/reads";
import { useHouseView } from "../app/house";
import { useStored } from "../app/stored";
import { NumberField } from "../parts/NumberField";
import { capital, tagKindWord } from "../parts/words";
import { LabelTicks } from "./LabelTicks";
import { Preview, Prints } from "./Preview";
import { printPath, useBase } from "./prints";
import { SheetForm } from "./SheetForm";

type Kind = Schemas["TagKind"];

/** Not a sheet of labels: plain paper, or a tape. */
const CUT = "cut";
const TAPE = "tape";
/** Heights of tapes as they are sold, in millimetres. */
const tapes = [9, 12, 18, 24];
const MM = 25.4;
const text = (value: unknown) => (typeof value === "string" ? value : undefined);
const number = (value: unknown) => (typeof value === "number" ? value : undefined);

/** Labels for plates, wires, breakers and panels: which, on what, and whether they are stuck on. */
export function LabelsTab() {
  const { id, house } = useHouseView();
  const directory = useDirectory(id).data;
  const base = useBase();
  const [search, setSearch] = useSearchParams();
  const room = Number(search.get("room") ?? 0);
  const [kinds, setKinds] = useState<Kind[]>(["plate"]);
  const [due, setDue] = useState(true);
  const [likely, setLikely] = useState(false);
  const [codes, setCodes] = useState(false);
  // What lies in the printer is the same next time.
  const [on, setOn] = useStored("labels-on", CUT, text);
  const [high, setHigh] = useStored("labels-tape", 12, number);
  const [used, setUsed] = useState<number | null>(0);
  const sheets = [...(house.about.label_sheets ?? []), ...(directory?.usual_sheets ?? [])];
  const names = [...new Set(sheets.map((sheet) => sheet.name))];
  const sheet = sheets.find((s) => s.name === on);
  const asked = {
    kinds: kinds.join(","),
    room: room > 0 ? room : undefined,
    due,
    likely,
    sheet: sheet?.name,
    used: sheet === undefined ? undefined : (used ?? 0),
    tape: on === TAPE ? Number((high / MM).toFixed(4)) : undefined,
    base: codes ? base : undefined,
  };
  const path = (kind: string) => printPath(id, `labels.${kind}`, asked);
  const pick = (kind: Kind, picked: boolean) => setKinds(picked ? [...kinds, kind] : kinds.filter((k) => k !== kind));
  const ticks = <LabelTicks tags={directory?.tags ?? []} room={room > 0 ? room : undefined} />;
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: "start", flexWrap: "wrap", rowGap: 2 }}>
      <Stack spacing={2} sx={{ width: { xs: "100%", sm: 320 } }}>
        <Typography variant="h2">Labels</Typography>
        <FormGroup aria-label="For what">
          {Object.entries(tagKindWord).map(([kind, word]) => (
            <FormControlLabel
              key={kind}
              control={
                <Checkbox checked={kinds.includes(kind as Kind)} onChange={(_, picked) => pick(kind as Kind, picked)} />
              }
              label={capital(word)}
            />
          ))}
          <FormControlLabel
            control={<Checkbox checked={due} onChange={(_, v) => setDue(v)} />}
            label="Only what is not stuck on yet, or changed"
          />
          <FormControlLabel
            control={<Checkbox checked={likely} onChange={(_, v) => setLikely(v)} />}
            label="Also what is only likely, marked so"
          />
          <FormControlLabel
            control={<Checkbox checked={codes} onChange={(_, v) => setCodes(v)} />}
            label="With a code that a phone opens it by"
          />
        </FormGroup>
        <TextField
          select
          label="Of room"
          value={room}
          onChange={(e) => setSearch({ print: "labels", room: e.target.value }, { replace: true })}
        >
          <MenuItem value={0}>all rooms</MenuItem>
          {house.rooms.map((r) => (
            <MenuItem key={r.id} value={r.id}>
              {r.name}
            </MenuItem>
          ))}
        </TextField>
        <TextField select label="On" value={on} onChange={(e) => setOn(e.target.value)}>
          <MenuItem value={CUT}>plain paper, to cut</MenuItem>
          <MenuItem value={TAPE}>a tape</MenuItem>
          {names.map((name) => (
            <MenuItem key={name} value={name}>
              {name}
            </MenuItem>
          ))}
        </TextField>
        {on === TAPE && (
          <TextField select label="Tape" value={high} onChange={(e) => setHigh(Number(e.target.value))}>
            {tapes.map((mm) => (
              <MenuItem key={mm} value={mm}>
                {mm} mm
              </MenuItem>
            ))}
          </TextField>
        )}
        {sheet !== undefined && (
          <>
            <NumberField label="Places already used" unit="labels" value={used} onChange={setUsed} optional />
            <SheetForm key={sheet.name} sheet={sheet} onSaved={setOn} />
          </>
        )}
        {kinds.length > 0 && <Prints name="labels" path={path} />}
      </Stack>
      {/* Whoever comes from a room that is traced is there with the labels in hand. */}
      <Stack spacing={2} sx={{ flex: 1, minWidth: 300, order: { xs: room > 0 ? -1 : 0, sm: 0 } }}>
        {room > 0 && ticks}
        {kinds.length === 0 ? (
          <Alert severity="info">Choose what the labels are for.</Alert>
        ) : (
          <Preview path={path("svg")} label="The labels as they will be printed" />
        )}
        {room === 0 && ticks}
      </Stack>
    </Stack>
  );
}
