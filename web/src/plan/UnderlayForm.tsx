import { Button, Stack, Typography } from "@mui/material";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { PlanView } from "../api/client";
import { newId, readLength, useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { Pictures } from "../parts/Pictures";
import { ProblemNote } from "../parts/ProblemNote";
import { LengthField } from "./LengthField";

export type Share = [number, number];

interface Props {
  view: PlanView;
  marks: Share[];
  marking: boolean;
  onMark: (on: boolean) => void;
}

/** First guess of a drawing's width before its scale is set: forty feet. */
const FIRST_WIDTH = 480;

/** An old drawing under the plan, its scale set by one known length. */
export function UnderlayForm({ view, marks, marking, onMark }: Props) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [known, setKnown] = useState("");
  const under = view.underlay;
  const scale = useMutation({
    mutationFn: async () => {
      const [from, to] = marks;
      if (under != null && from !== undefined && to !== undefined) {
        const length = await readLength(id, known);
        await commit.mutateAsync({ type: "scale-underlay", underlay: under.underlay, from, to, length });
      }
    },
    onSuccess: () => onMark(false),
  });
  const lay = (picture: number) => {
    const at = { x: view.bounds?.x ?? 0, y: view.bounds?.y ?? 0 };
    const width = view.bounds?.width ?? FIRST_WIDTH;
    const underlay = under?.underlay ?? newId();
    commit.mutate({ type: "put-underlay", underlay: { id: underlay, floor: view.floor, picture, ...at, width } });
  };
  return (
    <Stack spacing={1.5}>
      <Pictures
        of="floor"
        which={view.floor}
        title="An existing drawing of this floor"
        action={(picture) =>
          under?.picture === picture.id ? (
            <Button
              onClick={() => under != null && commit.mutate({ type: "remove-underlay", underlay: under.underlay })}
            >
              Take it from underneath
            </Button>
          ) : (
            <Button onClick={() => lay(picture.id)}>Lay it underneath</Button>
          )
        }
      />
      {under != null && !marking && (
        <Button variant="outlined" onClick={() => onMark(true)} sx={{ alignSelf: "start" }}>
          Set its scale by one known length
        </Button>
      )}
      {marking && (
        <Stack
          component="form"
          direction="row"
          spacing={1}
          onSubmit={(event) => {
            event.preventDefault();
            scale.mutate();
          }}
          sx={{ alignItems: "center", flexWrap: "wrap" }}
        >
          <Typography>
            {marks.length === 0 && "Click one end of the length on the drawing."}
            {marks.length === 1 && "Click its other end."}
            {marks.length > 1 && "It really is"}
          </Typography>
          {marks.length > 1 && <LengthField label="Known length" value={known} onChange={setKnown} />}
          {marks.length > 1 && (
            <Button type="submit" variant="contained" disabled={known === "" || scale.isPending}>
              Set
            </Button>
          )}
          <Button onClick={() => onMark(false)}>Cancel</Button>
        </Stack>
      )}
      <ProblemNote error={scale.error ?? commit.error} />
    </Stack>
  );
}
