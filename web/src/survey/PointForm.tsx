import { Button, MenuItem, Stack, TextField } from "@mui/material";
import { type FormEvent, useState } from "react";
import { type Point, Problem } from "../api/client";
import { useCommit } from "../api/edits";
import { useHouseView } from "../house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";

const kinds: Point["kind"][] = ["receptacle", "light", "switch", "appliance", "alarm", "other"];

/** A point's fields. */
export function PointForm({ point, onDone }: { point: Point; onDone: () => void }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [draft, setDraft] = useState(point);
  const fault = (field: string) =>
    commit.error instanceof Problem && commit.error.field === field ? commit.error.message : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    commit.mutate({ type: "put-point", point: draft }, { onSuccess: onDone });
  };
  return (
    <Stack component="form" spacing={2} sx={{ pt: 1, minWidth: 280 }} onSubmit={submit}>
      <TextField
        label="Tag"
        value={draft.tag}
        error={fault("point.tag") !== undefined}
        helperText={fault("point.tag")}
        onChange={(e) => setDraft({ ...draft, tag: e.target.value })}
      />
      <TextField
        label="What it is called"
        value={draft.name ?? ""}
        onChange={(e) => setDraft({ ...draft, name: e.target.value })}
      />
      <TextField
        select
        label="Kind"
        value={draft.kind}
        onChange={(e) => setDraft({ ...draft, kind: e.target.value as Point["kind"] })}
      >
        {kinds.map((kind) => (
          <MenuItem key={kind} value={kind}>
            {kind}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        label="Volts"
        value={draft.volts ?? 0}
        onChange={(e) => setDraft({ ...draft, volts: Number(e.target.value) === 0 ? null : Number(e.target.value) })}
      >
        <MenuItem value={0}>not known</MenuItem>
        <MenuItem value={120}>120 V</MenuItem>
        <MenuItem value={208}>208 V</MenuItem>
        <MenuItem value={240}>240 V</MenuItem>
      </TextField>
      <NumberField
        label="Nameplate"
        unit="W"
        optional
        value={draft.watts ?? null}
        onChange={(watts) => setDraft({ ...draft, watts })}
      />
      <ProblemNote error={commit.error} />
      <Button type="submit" variant="contained" disabled={commit.isPending}>
        Save
      </Button>
    </Stack>
  );
}
