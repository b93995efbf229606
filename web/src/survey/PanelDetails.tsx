import { Box, Button, FormControlLabel, MenuItem, Stack, Switch, TextField, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { type Panel, Problem } from "../api/client";
import { readSpot, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { Pictures } from "../parts/Pictures";
import { ProblemNote } from "../parts/ProblemNote";

const numbers = (text: string) =>
  text
    .split(/[;, ]+/)
    .filter((part) => part !== "")
    .map(Number);

/** What the panel's label and a look at it tell beyond its spaces. */
export function PanelDetails({ panel }: { panel: Panel }) {
  return (
    <Box
      component="details"
      sx={{ "& > summary": { cursor: "pointer", fontWeight: 700, minHeight: { xs: 44, md: 28 } } }}
    >
      <summary>More of panel {panel.name}: label, main, tandems, numbers, place, pictures</summary>
      <Stack spacing={2.5} sx={{ mt: 1.5, maxWidth: 640 }}>
        <Details key={JSON.stringify(panel)} panel={panel} />
        <Pictures of="panel" which={panel.id} title={`Pictures of panel ${panel.name}`} />
      </Stack>
    </Box>
  );
}

type YesNo = "" | "yes" | "no";
const yesNo = (value: boolean | null | undefined): YesNo => (value == null ? "" : value ? "yes" : "no");
const fromYesNo = (value: string) => (value === "" ? null : value === "yes");

function Details({ panel }: { panel: Panel }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [draft, setDraft] = useState(panel);
  const set = (part: Partial<Panel>) => setDraft((old) => ({ ...old, ...part }));
  const [tandem, setTandem] = useState(typeof panel.tandem === "object" ? panel.tandem.some.join("; ") : panel.tandem);
  const [engraved, setEngraved] = useState(
    typeof panel.numbering === "object" ? panel.numbering.custom.join("; ") : panel.numbering,
  );
  const [listed, setListed] = useState((panel.listed ?? []).join("; "));
  const [place, setPlace] = useState("");
  const save = useMutation({
    mutationFn: async () => {
      const spot = place.trim() === "" ? (draft.place?.spot ?? null) : await readSpot(id, place);
      const put: Panel = {
        ...draft,
        tandem: tandem === "none" || tandem === "all" ? tandem : { some: numbers(tandem) },
        numbering: engraved === "odd-even" || engraved === "columns" ? engraved : { custom: numbers(engraved) },
        listed: listed.split(";").flatMap((part) => (part.trim() === "" ? [] : [part.trim()])),
        place: draft.place == null ? null : { room: draft.place.room, spot },
      };
      await commit.mutateAsync({ type: "put-panel", panel: put });
    },
  });
  const fault = (field: string) =>
    save.error instanceof Problem && save.error.field === field ? save.error.message : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <Stack component="form" spacing={1.5} onSubmit={submit} aria-label={`More of panel ${panel.name}`}>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <TextField
          label="Type, by its label"
          value={draft.model ?? ""}
          onChange={(e) => set({ model: e.target.value })}
        />
        <TextField
          label="Breaker types its label lists"
          value={listed}
          helperText="with ; between"
          onChange={(e) => setListed(e.target.value)}
        />
        <NumberField
          label="Most circuits"
          unit="poles, by its label"
          optional
          value={draft.max_circuits ?? null}
          onChange={(max_circuits) => set({ max_circuits })}
          error={fault("panel.max_circuits")}
        />
        <NumberField
          label="Main breaker"
          unit="A"
          optional
          value={draft.main ?? null}
          onChange={(main) => set({ main })}
        />
      </Stack>
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <TextField
          label="Spaces that take half-size breakers"
          value={tandem}
          helperText="none, all, or their numbers: 17; 18"
          error={fault("panel.tandem") !== undefined || fault("breaker.at") !== undefined}
          onChange={(e) => setTandem(e.target.value)}
        />
        <TextField
          select
          label="How is that known?"
          value={draft.tandem_known ?? ""}
          onChange={(e) => set({ tandem_known: e.target.value === "" ? null : (e.target.value as "label" | "notch") })}
          sx={{ minWidth: 170 }}
        >
          <MenuItem value="">not known</MenuItem>
          <MenuItem value="label">its label</MenuItem>
          <MenuItem value="notch">notches seen</MenuItem>
        </TextField>
        <TextField
          label="Numbers engraved"
          value={engraved}
          helperText="odd-even, columns, or each: left column down, then right"
          error={fault("panel.numbering") !== undefined}
          onChange={(e) => setEngraved(e.target.value)}
        />
      </Stack>
      {fault("panel.numbering") !== undefined && <Typography color="error">{fault("panel.numbering")}</Typography>}
      <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
        <Choice label="Neutral bonded in it" value={yesNo(draft.bonded)} onChange={(bonded) => set({ bonded })} />
        <Choice
          label="Plug-on neutral bars"
          value={yesNo(draft.plug_on_neutral)}
          onChange={(plug_on_neutral) => set({ plug_on_neutral })}
        />
        <TextField
          label="Disconnect upstream"
          value={draft.disconnect ?? ""}
          helperText="where it has main lugs only"
          onChange={(e) => set({ disconnect: e.target.value })}
        />
      </Stack>
      <Switches draft={draft} set={set} />
      <Place
        place={draft.place ?? null}
        typed={place}
        onTyped={setPlace}
        onChange={(put) => set({ place: put })}
        fault={fault}
      />
      <ProblemNote error={save.error} />
      <Button type="submit" variant="outlined" disabled={save.isPending} sx={{ alignSelf: "start" }}>
        Save panel {panel.name}
      </Button>
    </Stack>
  );
}

interface ChoiceProps {
  label: string;
  value: YesNo;
  onChange: (value: boolean | null) => void;
}

/** Yes, no, or not looked at. */
function Choice({ label, value, onChange }: ChoiceProps) {
  return (
    <TextField
      select
      label={label}
      value={value}
      onChange={(e) => onChange(fromYesNo(e.target.value))}
      sx={{ minWidth: 200 }}
    >
      <MenuItem value="">not looked at</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}

function Switches({ draft, set }: { draft: Panel; set: (part: Partial<Panel>) => void }) {
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", columnGap: 2 }}>
      <FormControlLabel
        control={<Switch checked={draft.feed_through ?? false} onChange={(_, v) => set({ feed_through: v })} />}
        label="Feed-through lugs"
      />
      <FormControlLabel
        control={
          <Switch checked={draft.separate_building ?? false} onChange={(_, v) => set({ separate_building: v })} />
        }
        label="In a separate building"
      />
    </Stack>
  );
}

interface PlaceProps {
  place: NonNullable<Panel["place"]> | null;
  /** Where in its room, as it is typed. */
  typed: string;
  onTyped: (text: string) => void;
  onChange: (place: NonNullable<Panel["place"]> | null) => void;
  fault: (field: string) => string | undefined;
}

/** In which room it hangs, and where. */
function Place({ place, typed, onTyped, onChange, fault }: PlaceProps) {
  const { house } = useHouseView();
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5 }}>
      <TextField
        select
        label="In which room"
        value={place?.room ?? 0}
        onChange={(e) => onChange(Number(e.target.value) === 0 ? null : { room: Number(e.target.value) })}
        sx={{ minWidth: 170 }}
      >
        <MenuItem value={0}>not said</MenuItem>
        {house.rooms.map((r) => (
          <MenuItem key={r.id} value={r.id}>
            {r.name}
          </MenuItem>
        ))}
      </TextField>
      {place !== null && (
        <TextField
          label="Where in it"
          value={typed}
          placeholder={"north 3'"}
          helperText={fault("text") ?? fault("panel.place") ?? "a new place: north 3'6\""}
          error={fault("text") !== undefined || fault("panel.place") !== undefined}
          onChange={(e) => onTyped(e.target.value)}
        />
      )}
    </Stack>
  );
}
