import {
  Accordion,
  AccordionDetails,
  AccordionSummary,
  Button,
  Link,
  MenuItem,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { type FormEvent, useState } from "react";
import type { Schemas } from "../api/client";
import { useCommit } from "../api/edits";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { printPath } from "./prints";

type Sheet = Schemas["LabelSheet"];
type Pair = "paper" | "label" | "pitch" | "corner";

const MM = 25.4;
/** What is read on the scale: half a millimetre is as fine as a ruler tells. */
const steps = Array.from({ length: 25 }, (_, nth) => nth / 2 - 6);
const nearest = (inches: number) => Math.max(-6, Math.min(6, Math.round(inches * MM * 2) / 2));
const pairs: [Pair, string, string][] = [
  ["paper", "Paper, width", "Paper, height"],
  ["label", "Label, width", "Label, height"],
  ["pitch", "From one label’s edge to the next, across", "The same, down"],
  ["corner", "First label from the left", "First label from the top"],
];

/** A sheet's measures, and what the printer is off by; saved with the house under its name. */
export function SheetForm({ sheet, onSaved }: { sheet: Sheet; onSaved: (name: string) => void }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const own = house.about.label_sheets ?? [];
  const [draft, setDraft] = useState<Sheet>(sheet);
  const save = (event: FormEvent) => {
    event.preventDefault();
    const name = draft.name.trim();
    const label_sheets = [...own.filter((s) => s.name !== sheet.name && s.name !== name), { ...draft, name }];
    commit.mutate({ type: "set-about", about: { ...house.about, label_sheets } }, { onSuccess: () => onSaved(name) });
  };
  const set = (pair: Pair | "off", at: 0 | 1, inches: number | null) => {
    const [x = 0, y = 0] = draft[pair];
    setDraft({ ...draft, [pair]: at === 0 ? [inches ?? 0, y] : [x, inches ?? 0] });
  };
  return (
    <Accordion variant="outlined" disableGutters>
      <AccordionSummary sx={{ minHeight: 44 }}>The printer is off, or the sheet is another one …</AccordionSummary>
      <AccordionDetails>
        <Stack spacing={1.5} component="form" onSubmit={save}>
          <Typography>
            <Link href={printPath(id, "calibration.pdf", { sheet: sheet.name })} target="_blank" rel="noreferrer">
              Print the scale
            </Link>
            , hold it before a sheet of labels against the light, and enter where the label’s edge lies on it.
          </Typography>
          <Stack direction="row" spacing={1}>
            {(["Read across", "Read down"] as const).map((label, at) => (
              <TextField
                key={label}
                select
                fullWidth
                label={`${label} (mm)`}
                value={nearest(draft.off[at] ?? 0)}
                onChange={(e) => set("off", at === 0 ? 0 : 1, Number(e.target.value) / MM)}
              >
                {steps.map((mm) => (
                  <MenuItem key={mm} value={mm}>
                    {mm}
                  </MenuItem>
                ))}
              </TextField>
            ))}
          </Stack>
          <TextField
            label="Name of the sheet"
            value={draft.name}
            onChange={(e) => setDraft({ ...draft, name: e.target.value })}
          />
          {pairs.map(([pair, across, down]) => (
            <Stack key={pair} direction="row" spacing={1}>
              {[across, down].map((label, at) => (
                <NumberField
                  key={label}
                  label={label}
                  unit="in"
                  value={Number((draft[pair][at] ?? 0).toFixed(4))}
                  onChange={(inches) => set(pair, at === 0 ? 0 : 1, inches)}
                />
              ))}
            </Stack>
          ))}
          <Stack direction="row" spacing={1}>
            <NumberField
              label="Labels across"
              unit="labels"
              value={draft.columns}
              onChange={(columns) => setDraft({ ...draft, columns: columns ?? 0 })}
            />
            <NumberField
              label="Labels down"
              unit="labels"
              value={draft.rows}
              onChange={(rows) => setDraft({ ...draft, rows: rows ?? 0 })}
            />
          </Stack>
          <Button type="submit" variant="outlined" disabled={commit.isPending}>
            Keep this sheet
          </Button>
          <ProblemNote error={commit.error} />
        </Stack>
      </AccordionDetails>
    </Accordion>
  );
}
