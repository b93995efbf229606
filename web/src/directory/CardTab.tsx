import { Alert, Box, Button, FormControlLabel, MenuItem, Stack, Switch, TextField, Typography } from "@mui/material";
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Panel, Problem, problemOf } from "../api/client";
import { useCommit } from "../api/edits";
import { houseKey, useDirectory } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { capital, schoolWord } from "../parts/words";
import { CardState } from "./CardState";
import { PanelPick } from "./PanelPick";
import { Prints } from "./Preview";
import { cardPath, printPath, useBase } from "./prints";

interface Size {
  width: number;
  height: number;
}

/** The card for the door, to the measured size. */
export function CardTab() {
  const { house, panel } = useHouseView();
  const shown = house.panels.find((p) => p.id === panel);
  return shown === undefined ? null : <CardOf key={shown.id} panel={shown} />;
}

function CardOf({ panel }: { panel: Panel }) {
  const { id, house } = useHouseView();
  const commit = useCommit(id);
  const base = useBase();
  const [width, setWidth] = useState<number | null>(panel.card?.width ?? null);
  const [height, setHeight] = useState<number | null>(panel.card?.height ?? null);
  const make = useMutation({
    mutationFn: async (size: Size) => {
      // A size that no readable card fits in is refused before it is kept.
      await drawn(cardPath(id, panel.id, "card.svg", { ...size, bare: true }));
      await commit.mutateAsync({ type: "put-panel", panel: { ...panel, card: size } });
    },
  });
  const set = (changed: Partial<Panel>) => commit.mutate({ type: "put-panel", panel: { ...panel, ...changed } });
  const papers = useDirectory(id).data?.papers ?? [];
  const paper = papers.find(({ size }) => size.width === width && size.height === height)?.name;
  const measured = panel.card ?? undefined;
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: "start", flexWrap: "wrap", rowGap: 2 }}>
      <Stack spacing={2} sx={{ width: { xs: "100%", sm: 300 } }}>
        <PanelPick label="Card of panel" />
        <Stack
          spacing={2}
          component="form"
          onSubmit={(e) => {
            e.preventDefault();
            if (width !== null && height !== null) {
              make.mutate({ width, height });
            }
          }}
        >
          <Typography variant="h2">The card on the door</Typography>
          <Stack direction="row" spacing={1.5} sx={{ alignItems: "center" }}>
            <Box
              component="img"
              alt="The pocket inside the door, measured across and down"
              src={printPath(id, "measure.svg")}
              sx={{ width: 110, bgcolor: "#fff", borderRadius: 1 }}
            />
            <Typography>Measure the pocket or sheet inside the door. The card comes out exactly so large.</Typography>
          </Stack>
          <TextField
            select
            label="Size"
            value={paper ?? "measured"}
            onChange={(e) => {
              const size = papers.find(({ name }) => name === e.target.value)?.size;
              setWidth(size?.width ?? panel.card?.width ?? null);
              setHeight(size?.height ?? panel.card?.height ?? null);
            }}
          >
            <MenuItem value="measured">as measured</MenuItem>
            {papers.map(({ name }) => (
              <MenuItem key={name} value={name}>
                {capital(name)}, whole sheet
              </MenuItem>
            ))}
          </TextField>
          <NumberField label="Width" unit="in" tape value={width} onChange={setWidth} />
          <NumberField label="Height" unit="in" tape value={height} onChange={setHeight} />
          <Button type="submit" variant="contained" disabled={width === null || height === null || make.isPending}>
            Make the card
          </Button>
          <ProblemNote error={make.error ?? commit.error} />
        </Stack>
        {measured !== undefined && (
          <>
            <TextField
              select
              label="Mark its lines"
              value={panel.school ?? "plain"}
              onChange={(e) => set({ school: e.target.value as NonNullable<Panel["school"]> })}
            >
              {Object.entries(schoolWord).map(([school, word]) => (
                <MenuItem key={school} value={school}>
                  {word}
                </MenuItem>
              ))}
            </TextField>
            <FormControlLabel
              control={<Switch checked={panel.code ?? false} onChange={(_, code) => set({ code })} />}
              label="With a code that a phone opens this panel by"
            />
            {panel.code === true && base === undefined && (
              <Typography sx={{ color: "text.secondary" }}>
                The code needs an address that phones reach: let a phone in first.
              </Typography>
            )}
            <Prints name="card" path={(kind) => cardPath(id, panel.id, `card.${kind}`, { ...measured, base })} />
            <Stack direction="row" spacing={1} sx={{ flexWrap: "wrap" }}>
              <Button component="a" href={`/api/v1/houses/${id}/circuits.csv`} download="circuits.csv">
                CSV
              </Button>
              {house.panels.length > 1 && house.panels.every((p) => p.card != null) && (
                <Button
                  component="a"
                  href={printPath(id, "cards.pdf", { paper: house.about.lengths === "metres" ? "a4" : "letter", base })}
                  target="_blank"
                  rel="noreferrer"
                >
                  All cards on as few sheets
                </Button>
              )}
            </Stack>
            <CardState panel={panel} />
          </>
        )}
      </Stack>
      <Box sx={{ flex: "1 1 300px", minWidth: 0 }}>
        {measured === undefined ? (
          <Alert severity="info">Give the size to see the card.</Alert>
        ) : (
          <Drawn path={cardPath(id, panel.id, "card.svg", { ...measured, bare: true, base })} />
        )}
      </Box>
    </Stack>
  );
}

/** The card as a drawing, or why there is none at that size. */
async function drawn(path: string): Promise<string> {
  const answer = await fetch(path);
  if (!answer.ok) {
    throw problemOf(answer.status, await answer.json());
  }
  return answer.text();
}

function Drawn({ path }: { path: string }) {
  const { id } = useHouseView();
  const drawing = useQuery({
    queryKey: [...houseKey(id), "card", path],
    placeholderData: keepPreviousData,
    queryFn: () => drawn(path),
  });
  if (drawing.error instanceof Problem) {
    return <ProblemNote error={drawing.error} />;
  }
  return (
    <Box
      sx={{
        display: "inline-block",
        lineHeight: 0,
        maxWidth: "100%",
        overflow: "auto",
        bgcolor: "#fff",
        border: 1,
        borderColor: "divider",
        "& svg": { maxWidth: "100%", height: "auto" },
      }}
      aria-label="The card as it will be printed"
      role="img"
    >
      {/* The drawing comes from this program alone, with every text in it escaped. */}
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: inline, so that it uses the page's typeface */}
      <div dangerouslySetInnerHTML={{ __html: drawing.data ?? "" }} />
    </Box>
  );
}
