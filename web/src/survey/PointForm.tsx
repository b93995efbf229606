import { Button, FormControlLabel, MenuItem, Stack, Switch, TextField } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { PointPicker } from "../answers/PointPicker";
import { type Change, type House, type Point, Problem } from "../api/client";
import { newId, readSpot, useCommit } from "../api/edits";
import { usePlan } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { useHalf, useLeft } from "../parts/useHalf";

const kinds: Point["kind"][] = ["receptacle", "light", "switch", "appliance", "alarm", "other"];

/** A point's fields. */
export function PointForm({ point, onDone }: { point: Point; onDone: () => void }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  // Of the point as it stands: what was typed of it before others changed it is not taken up again.
  const form = `point ${JSON.stringify(point)}`;
  useLeft(form);
  const [draft, setDraft] = useHalf(form, "draft", point);
  const [place, setPlace] = useHalf<string | null>(form, "place", null);
  // As the core writes it, in the house's units.
  const plan = usePlan(id, house.rooms.find((r) => r.id === point.room)?.floor);
  const written = plan.data?.points.find((p) => p.point === point.id)?.place ?? "";
  const [boxed, setBoxed] = useHalf(form, "boxed", mates(house, point));
  const save = useMutation({
    mutationFn: async () => {
      const spot = place === null ? (draft.spot ?? null) : place.trim() === "" ? null : await readSpot(id, place);
      const changes: Change[] = [{ type: "put-point", point: { ...draft, spot } }];
      const before = mates(house, point);
      if (boxed.length !== before.length || boxed.some((p) => !before.includes(p))) {
        const left = before.filter((p) => !boxed.includes(p));
        changes.push(...left.map((p): Change => ({ type: "share-box", points: [p] })));
        changes.push({ type: "share-box", points: [point.id, ...boxed] });
      }
      await commit.mutateAsync({ type: "batch", changes });
    },
    onSuccess: onDone,
  });
  const fault = (field: string) =>
    save.error instanceof Problem && save.error.field === field ? save.error.message : undefined;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
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
      <TextField
        label="Place in the room"
        value={place ?? written}
        error={fault("text") !== undefined || fault("point.spot") !== undefined}
        helperText={fault("text") ?? fault("point.spot") ?? `${example(house)} from the left and top walls`}
        onChange={(e) => setPlace(e.target.value)}
      />
      <FormControlLabel
        control={
          <Switch
            checked={draft.ground_fault ?? false}
            onChange={(_, ground_fault) => setDraft({ ...draft, ground_fault })}
          />
        }
        label="It is a ground-fault device with a TEST button"
      />
      <TextField
        select
        label="Hangs behind the ground-fault device"
        value={draft.protected_by ?? 0}
        onChange={(e) =>
          setDraft({ ...draft, protected_by: Number(e.target.value) === 0 ? null : Number(e.target.value) })
        }
      >
        <MenuItem value={0}>none that is known</MenuItem>
        {house.points
          .filter((p) => p.ground_fault === true && p.id !== point.id)
          .map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.tag} {p.name}
            </MenuItem>
          ))}
      </TextField>
      <PointPicker
        label="Switched by"
        value={draft.switched_by ?? []}
        onChange={(switched_by) => setDraft({ ...draft, switched_by })}
        which={(p) => p.kind === "switch" && p.id !== point.id}
      />
      {point.kind === "receptacle" && (
        <Button
          variant="outlined"
          disabled={commit.isPending}
          onClick={() =>
            commit.mutate({ type: "split-receptacle", point: point.id, new: newId() }, { onSuccess: onDone })
          }
        >
          Its halves differ: make two points of it
        </Button>
      )}
      <PointPicker label="In one box with" value={boxed} onChange={setBoxed} without={[point.id]} />
      <ProblemNote error={save.error ?? commit.error} />
      <Button type="submit" variant="contained" disabled={save.isPending}>
        Save
      </Button>
    </Stack>
  );
}

/** The other points in the same box. */
function mates(house: House, point: Point): number[] {
  const box = point.shared_box;
  return box == null ? [] : house.points.filter((p) => p.shared_box === box && p.id !== point.id).map((p) => p.id);
}

/** How a place is written in the house's units. */
function example(house: House): string {
  return house.about.lengths === "metres"
    ? "north 1.1 m (from the wall's left or top end), or 0.9 m x 1.4 m"
    : "north 3'6\" (from the wall's left or top end), or 3' x 4'6\"";
}
