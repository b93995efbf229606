import { Alert, Button, MenuItem, Stack, TextField } from "@mui/material";
import { useState } from "react";
import { newId, useNoteReading } from "../api/edits";
import { useLoads } from "../api/reads";
import { useHasStandIns, useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";
import { NumberPad } from "./NumberPad";
import { standInReads } from "./standIn";

/** A meter between plug and receptacle: one thing at a time. */
export function PlugIn() {
  const { id, house } = useHouseView();
  const standIns = useHasStandIns();
  const draws = useLoads(id).data?.loads;
  const points = house.points.filter((p) => p.kind === "receptacle");
  const loads = (house.loads ?? []).filter((l) => points.some((p) => p.id === l.point));
  const [load, setLoad] = useState<number | "">("");
  const [typed, setTyped] = useState("");
  const noting = useNoteReading(id);
  const chosen = loads.find((l) => l.id === load);
  const draw = draws?.find((d) => d.load === load);
  const place = chosen && { at: "point" as const, point: chosen.point };
  const enter = (value: number) => {
    if (place !== undefined && chosen !== undefined) {
      const reading = { place, quantity: { quantity: "watts" as const }, value, instrument: "plug-in" as const };
      noting.note({ ...reading, span: "spot", on: [chosen.id] }, () => setTyped(""));
    }
  };
  if (loads.length === 0) {
    return <Alert severity="info">Nothing that is plugged in is entered yet: add it in the form of its point.</Alert>;
  }
  return (
    <Stack spacing={2}>
      <TextField select label="What is plugged in" value={load} onChange={(e) => setLoad(Number(e.target.value))}>
        {loads.map((l) => (
          <MenuItem key={l.id} value={l.id}>
            {l.name}, {points.find((p) => p.id === l.point)?.tag}
          </MenuItem>
        ))}
      </TextField>
      {draw !== undefined && (
        <Alert severity="info" role="status">
          Believed: {draw.said}. Rests on {draw.rests_on.join(" and ")}.
        </Alert>
      )}
      {place !== undefined && chosen !== undefined && (
        <>
          <NumberPad label="It shows" unit="W" value={typed} onChange={setTyped} onEnter={enter} busy={noting.busy} />
          {standIns && (
            <Button
              onClick={async () => {
                const shown = await standInReads(id, "plug-in", place, { quantity: "watts" }, [chosen.id], newId());
                setTyped(shown?.value == null ? "" : String(shown.value));
              }}
            >
              Read the stand-in
            </Button>
          )}
        </>
      )}
      <ProblemNote error={noting.error} />
    </Stack>
  );
}
