import { Checkbox, FormControlLabel, MenuItem, Stack, TextField } from "@mui/material";
import type { ReactNode } from "react";
import type { House, Schemas } from "../api/client";
import { words } from "../api/core.gen.json";
import { newId } from "../api/edits";
import { useCatalog } from "../api/reads";
import { useHouseView, useMap } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { useFeeds } from "../parts/useFeeds";
import { breakerName, named } from "../parts/words";

type Goal = Schemas["Goal"];
type Answer = "yes" | "no" | "";

/** What is typed for a job, of any kind. */
export interface Fields {
  panel?: number;
  breaker?: number;
  other?: number;
  space?: number | null;
  amps?: number | null;
  watts?: number | null;
  model?: string;
  device?: Schemas["Device"];
  keep?: boolean;
  wish?: string;
  at?: string;
  listed?: Answer;
  neutral?: Answer;
  carries?: number[];
  spaces?: number | null;
  name?: string;
  room?: number;
  volts?: number;
  kind?: Schemas["LoadKind"];
  draws?: number | null;
  mca?: number | null;
  mop?: number | null;
  long?: boolean;
  plugged?: boolean;
  length?: number | null;
  /** Fields in which something stands that is no number (yet): there is no plan without it. */
  unread?: string[];
}

/** Those of the fields that are numbers. */
type NumberName = "space" | "amps" | "watts" | "spaces" | "draws" | "mca" | "mop" | "length";

/** Ids for what a job puts in, the same as long as its form is open. */
export interface NewIds {
  breaker: number;
  circuit: number;
  point: number;
  load: number;
}

export function newIds(): NewIds {
  const first = newId(4);
  return { breaker: first, circuit: first + 1, point: first + 2, load: first + 3 };
}

const asked = (answer: Answer | undefined) => (answer === "yes" ? true : answer === "no" ? false : null);

/** A tag that no point has, in the letters of the room. */
function freeTag(house: House, room: number): string {
  const here = house.points.find((p) => p.room === room)?.tag ?? "N0";
  const letters = here.replace(/\d+$/, "");
  const numbers = house.points.filter((p) => p.tag.replace(/\d+$/, "") === letters);
  const most = Math.max(0, ...numbers.map((p) => Number(/\d+$/.exec(p.tag)?.[0] ?? 0)));
  return `${letters}${most + 1}`;
}

/** The goal that the fields come to; nothing while the least is missing. */
export function goalOf(
  kind: string,
  f: Fields,
  house: House,
  panel: number | undefined,
  ids: NewIds,
): Goal | undefined {
  const at = f.panel ?? panel;
  if (f.unread !== undefined && f.unread.length > 0) {
    return undefined;
  }
  switch (kind) {
    case "replace":
      return f.breaker === undefined
        ? undefined
        : { job: "replace", breaker: f.breaker, amps: f.amps ?? null, model: f.model ?? "" };
    case "combine":
      return f.breaker === undefined || f.other === undefined
        ? undefined
        : { job: "combine", keep: f.breaker, give_up: f.other, way: "splice" };
    case "tandem":
      return f.breaker === undefined || f.other === undefined || f.space == null
        ? undefined
        : { job: "tandem", upper: f.breaker, lower: f.other, space: f.space };
    case "convert":
      return f.breaker === undefined
        ? undefined
        : { job: "convert", breaker: f.breaker, two_legs: (f.volts ?? 240) > 120 };
    case "protect":
      return f.breaker === undefined
        ? undefined
        : { job: "protect", breaker: f.breaker, device: f.device ?? "gfci", keep_devices: f.keep ?? false };
    case "retire":
      return f.breaker === undefined ? undefined : { job: "retire", breaker: f.breaker, spare: f.keep ?? false };
    case "rearrange":
      return at === undefined ? undefined : { job: "rearrange", panel: at, wishes: [wishOf(f)] };
    case "balance":
      return at === undefined ? undefined : { job: "rearrange", panel: at, wishes: ["balance"] };
    case "makeup": {
      const old = house.panels.find((p) => p.id === at);
      if (old === undefined || f.spaces == null) {
        return undefined;
      }
      const { max_circuits: _, tandem_known: __, listed: ___, printed: ____, ...rest } = old;
      return {
        job: "makeup",
        panel: { ...rest, spaces: f.spaces, bus: f.amps ?? old.bus, tandem: "none", model: "", empty: [] },
      };
    }
    case "generator":
      return at === undefined || f.watts == null
        ? undefined
        : {
            job: "generator",
            panel: at,
            breaker: ids.breaker,
            watts: f.watts,
            at: (f.at ?? "").trim() === "" ? [] : (f.at ?? "").split("-").map((p) => p.trim()),
            listed: asked(f.listed),
            carries: f.carries ?? [],
          };
    case "add":
    case "dedicated":
      return at === undefined || f.room === undefined ? undefined : newCircuit(kind, f, house, at, f.room, ids);
    default:
      return undefined;
  }
}

function wishOf(f: Fields): string {
  const poles = f.wish ?? "2p";
  return f.space == null ? poles : `${f.space}=${poles}`;
}

function newCircuit(
  kind: "add" | "dedicated",
  f: Fields,
  house: House,
  panel: number,
  room: number,
  ids: NewIds,
): Goal {
  const volts = f.volts ?? (kind === "dedicated" ? 240 : 120);
  const plate = f.draws != null || f.mca != null || f.watts != null;
  const point = {
    id: ids.point,
    tag: freeTag(house, room),
    room,
    kind: f.plugged === true || !plate ? ("receptacle" as const) : ("appliance" as const),
    name: f.name ?? "",
    volts,
  };
  const load = {
    id: ids.load,
    point: ids.point,
    name: f.name || "new load",
    kind: f.kind ?? ("other" as const),
    volts,
    amps: f.draws ?? null,
    watts: f.watts ?? null,
    mca: f.mca ?? null,
    mop: f.mop ?? null,
    continuous: f.long === true ? true : null,
  };
  return {
    job: kind,
    panel,
    point,
    load: plate || kind === "dedicated" ? load : null,
    neutral: volts > 120 ? asked(f.neutral) : null,
    plugged: f.plugged ?? false,
    length: f.length ?? null,
    breaker: ids.breaker,
    circuit: ids.circuit,
    amps: f.amps ?? null,
  };
}

interface Props {
  kind: string;
  fields: Fields;
  onChange: (fields: Fields) => void;
}

/** What a job asks: as little as possible, the nameplate first. */
export function GoalForm({ kind, fields: f, onChange }: Props) {
  const set = (part: Fields) => onChange({ ...f, ...part });
  return (
    <Stack direction="row" sx={{ flexWrap: "wrap", gap: 1.5, alignItems: "flex-start" }}>
      {form(kind, f, set)}
    </Stack>
  );
}

function form(kind: string, f: Fields, set: (part: Fields) => void): ReactNode {
  switch (kind) {
    case "replace":
      return (
        <>
          <BreakerField label="The breaker" value={f.breaker} onChange={(breaker) => set({ breaker })} />
          <Numeric of="amps" label="Rating, if it changes" unit="A" optional f={f} set={set} />
          <TextField
            label="Type of the new one, if known"
            value={f.model ?? ""}
            onChange={(e) => set({ model: e.target.value })}
          />
        </>
      );
    case "combine":
      return (
        <>
          <BreakerField label="Stays" value={f.breaker} onChange={(breaker) => set({ breaker })} />
          <BreakerField label="Is given up" value={f.other} onChange={(other) => set({ other })} />
        </>
      );
    case "tandem":
      return (
        <>
          <BreakerField label="Becomes the upper half" value={f.breaker} onChange={(breaker) => set({ breaker })} />
          <BreakerField label="Becomes the lower half" value={f.other} onChange={(other) => set({ other })} />
          <Numeric of="space" label="In space" unit="number" f={f} set={set} />
        </>
      );
    case "convert":
      return (
        <>
          <BreakerField label="The breaker" value={f.breaker} onChange={(breaker) => set({ breaker })} />
          <Choice
            label="To"
            value={String(f.volts ?? 240)}
            options={[
              ["240", "two legs: 240 V (208 V on a wye)"],
              ["120", "one leg: 120 V"],
            ]}
            onChange={(volts) => set({ volts: Number(volts) })}
          />
        </>
      );
    case "protect":
      return (
        <>
          <BreakerField label="The breaker" value={f.breaker} onChange={(breaker) => set({ breaker })} />
          <Choice
            label="Becomes"
            value={f.device ?? "gfci"}
            options={[
              ["gfci", "ground-fault (GFCI)"],
              ["afci", "arc-fault (AFCI)"],
              ["dual", "both in one"],
            ]}
            onChange={(device) => set({ device: device as Schemas["Device"] })}
          />
        </>
      );
    case "retire":
      return (
        <BreakerField label="The breaker of the circuit" value={f.breaker} onChange={(breaker) => set({ breaker })} />
      );
    case "rearrange":
      return (
        <>
          <PanelField value={f.panel} onChange={(panel) => set({ panel })} />
          <Choice
            label="Room for"
            value={f.wish ?? "2p"}
            options={[
              ["1p", "one pole: one space"],
              ["2p", "two poles: two adjacent spaces"],
              ["3p", "three poles"],
            ]}
            onChange={(wish) => set({ wish })}
          />
          <Numeric of="space" label="At this space, if it matters" unit="number" optional f={f} set={set} />
        </>
      );
    case "balance":
      return <PanelField value={f.panel} onChange={(panel) => set({ panel })} />;
    case "makeup":
      return (
        <>
          <PanelField value={f.panel} onChange={(panel) => set({ panel })} />
          <Numeric of="spaces" label="The new one has" unit="spaces" f={f} set={set} />
          <Numeric of="amps" label="Its bus, if it differs" unit="A" optional f={f} set={set} />
        </>
      );
    case "generator":
      return (
        <>
          <PanelField value={f.panel} onChange={(panel) => set({ panel })} />
          <Numeric of="watts" label="It gives, for hours" unit="W" f={f} set={set} />
          <TextField
            label="The interlock asks for spaces"
            placeholder="2-4"
            value={f.at ?? ""}
            onChange={(e) => set({ at: e.target.value })}
            slotProps={{ htmlInput: { className: "mono" } }}
          />
          <YesNo label="Interlock listed for this panel?" value={f.listed} onChange={(listed) => set({ listed })} />
          <CarriesField value={f.carries ?? []} onChange={(carries) => set({ carries })} />
        </>
      );
    default:
      return <NewFields f={f} set={set} large={kind === "dedicated"} />;
  }
}

function NewFields({ f, set, large }: { f: Fields; set: (part: Fields) => void; large: boolean }) {
  const { house } = useHouseView();
  const usual = useCatalog().data?.loads ?? [];
  const volts = f.volts ?? (large ? 240 : 120);
  const known = usual.find((u) => u.name === f.name?.trim().toLowerCase());
  return (
    <>
      <TextField
        label="What is it?"
        value={f.name ?? ""}
        onChange={(e) => set({ name: e.target.value })}
        helperText={known && `typically ${known.low} to ${known.high} A: its nameplate is better`}
      />
      <TextField
        select
        label="In which room"
        value={f.room ?? ""}
        onChange={(e) => set({ room: Number(e.target.value) })}
        sx={{ minWidth: 190 }}
      >
        {house.rooms.map((room) => (
          <MenuItem key={room.id} value={room.id}>
            {room.name}
          </MenuItem>
        ))}
      </TextField>
      <PanelField value={f.panel} onChange={(panel) => set({ panel })} />
      <Choice
        label="Made for"
        value={String(volts)}
        options={[
          ["120", "120 V"],
          ["208", "208 V"],
          ["240", "240 V"],
        ]}
        onChange={(chosen) => set({ volts: Number(chosen) })}
      />
      <Choice
        label="It is"
        value={f.kind ?? "other"}
        options={Object.entries(words.LoadKind)}
        onChange={(kind) => set({ kind: kind as Schemas["LoadKind"] })}
      />
      <Numeric of="draws" label="Nameplate" unit="A" optional f={f} set={set} />
      <Numeric of="watts" label="or nameplate" unit="W" optional f={f} set={set} />
      <Numeric of="mca" label="or minimum circuit ampacity" unit="A" optional f={f} set={set} />
      <Numeric of="mop" label="and max fuse or breaker" unit="A" optional f={f} set={set} />
      {volts > 120 && <YesNo label="Takes a neutral?" value={f.neutral} onChange={(neutral) => set({ neutral })} />}
      <Numeric of="length" label="Wire, one way" unit="ft" optional f={f} set={set} />
      <FormControlLabel
        control={<Checkbox checked={f.long ?? false} onChange={(_, long) => set({ long })} />}
        label="runs for three hours or more"
      />
      <FormControlLabel
        control={<Checkbox checked={f.plugged ?? false} onChange={(_, plugged) => set({ plugged })} />}
        label="is plugged in"
      />
    </>
  );
}

interface NumericProps {
  of: NumberName;
  label: string;
  unit: string;
  optional?: boolean;
  f: Fields;
  set: (part: Fields) => void;
}

function Numeric({ of, label, unit, optional = false, f, set }: NumericProps) {
  const others = (f.unread ?? []).filter((name) => name !== of);
  return (
    <NumberField
      label={label}
      unit={unit}
      optional={optional}
      value={f[of] ?? null}
      onChange={(value, typed) => set({ [of]: value, unread: typed.unread ? [...others, of] : others })}
    />
  );
}

function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
}) {
  return (
    <TextField select label={label} value={value} onChange={(e) => onChange(e.target.value)} sx={{ minWidth: 150 }}>
      {options.map(([code, word]) => (
        <MenuItem key={code} value={code}>
          {word}
        </MenuItem>
      ))}
    </TextField>
  );
}

function YesNo({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Answer | undefined;
  onChange: (value: Answer) => void;
}) {
  return (
    <TextField
      select
      label={label}
      value={value ?? ""}
      onChange={(e) => onChange(e.target.value as Answer)}
      sx={{ minWidth: 220 }}
    >
      <MenuItem value="">not looked yet</MenuItem>
      <MenuItem value="yes">yes</MenuItem>
      <MenuItem value="no">no</MenuItem>
    </TextField>
  );
}

/** A breaker, by its place and what it feeds as far as believed. */
function BreakerField({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | undefined;
  onChange: (breaker: number) => void;
}) {
  const { house } = useHouseView();
  const beliefs = useMap();
  const feeds = useFeeds();
  return (
    <TextField
      select
      label={label}
      value={value ?? ""}
      onChange={(e) => onChange(Number(e.target.value))}
      sx={{ minWidth: 240 }}
    >
      {(beliefs?.breakers ?? house.breakers.map((b) => named(house, b))).map((b) => (
        <MenuItem key={b.breaker} value={b.breaker}>
          {breakerName(house, b)}
          {feeds(b.breaker)}
        </MenuItem>
      ))}
    </TextField>
  );
}

function CarriesField({ value, onChange }: { value: number[]; onChange: (breakers: number[]) => void }) {
  const { house } = useHouseView();
  const feeds = useFeeds();
  return (
    <TextField
      select
      label="Circuits that it is to carry"
      value={value}
      onChange={(e) => onChange((e.target.value as unknown as (number | string)[]).map(Number))}
      sx={{ minWidth: 240 }}
      slotProps={{ select: { multiple: true } }}
    >
      {house.breakers.map((b) => (
        <MenuItem key={b.id} value={b.id}>
          {breakerName(house, named(house, b))}
          {feeds(b.id)}
        </MenuItem>
      ))}
    </TextField>
  );
}

function PanelField({ value, onChange }: { value: number | undefined; onChange: (panel: number) => void }) {
  const { house, panel } = useHouseView();
  if (house.panels.length < 2) {
    return null;
  }
  return (
    <TextField
      select
      label="Panel"
      value={value ?? panel ?? ""}
      onChange={(e) => onChange(Number(e.target.value))}
      sx={{ minWidth: 150 }}
    >
      {house.panels.map((p) => (
        <MenuItem key={p.id} value={p.id}>
          {p.name}
        </MenuItem>
      ))}
    </TextField>
  );
}
