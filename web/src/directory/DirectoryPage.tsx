import { Alert, Box, Button, MenuItem, Paper, Stack, TextField, Typography } from "@mui/material";
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { type Panel, Problem, problemOf } from "../api/client";
import { useCommit } from "../api/edits";
import { houseKey } from "../api/reads";
import { useHouseView } from "../app/house";
import { NumberField } from "../parts/NumberField";
import { ProblemNote } from "../parts/ProblemNote";
import { useCardState } from "../parts/useCardState";

/** The card for the door, to the measured size. */
export function DirectoryPage() {
  const { house, panel, setPanel } = useHouseView();
  const shown = house.panels.find((p) => p.id === panel);
  if (shown === undefined) {
    return <Typography>Enter the panel under House first; its card is made here.</Typography>;
  }
  return (
    <Stack spacing={2}>
      {house.panels.length > 1 && (
        <TextField
          select
          label="Card of panel"
          value={shown.id}
          onChange={(e) => setPanel(Number(e.target.value))}
          sx={{ width: 240 }}
        >
          {house.panels.map((p) => (
            <MenuItem key={p.id} value={p.id}>
              {p.name}
            </MenuItem>
          ))}
        </TextField>
      )}
      <CardOf key={shown.id} panel={shown} />
    </Stack>
  );
}

function CardOf({ panel }: { panel: Panel }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const [width, setWidth] = useState<number | null>(panel.card?.width ?? null);
  const [height, setHeight] = useState<number | null>(panel.card?.height ?? null);
  const [asked, setAsked] = useState(panel.card ?? undefined);
  const make = useMutation({
    mutationFn: async (size: { width: number; height: number }) => {
      // A size that no readable card fits in is refused before it is kept.
      await drawn(id, { panel: panel.id, size });
      await commit.mutateAsync({ type: "put-panel", panel: { ...panel, card: size } });
      return size;
    },
    onSuccess: setAsked,
  });
  const apply = () => {
    if (width !== null && height !== null) {
      make.mutate({ width, height });
    }
  };
  return (
    <Stack direction="row" spacing={3} sx={{ alignItems: "start", flexWrap: "wrap", rowGap: 2 }}>
      <Stack
        spacing={2}
        sx={{ width: { xs: "100%", sm: 280 } }}
        component="form"
        onSubmit={(e) => {
          e.preventDefault();
          apply();
        }}
      >
        <Typography variant="h2">The card on the door</Typography>
        <Typography>Measure the pocket or sheet inside the door. The card comes out exactly so large.</Typography>
        <NumberField label="Width" unit="in" tape value={width} onChange={setWidth} />
        <NumberField label="Height" unit="in" tape value={height} onChange={setHeight} />
        <Button type="submit" variant="contained" disabled={width === null || height === null || make.isPending}>
          Make the card
        </Button>
        <ProblemNote error={make.error} />
        {asked !== undefined && <Downloads panel={panel.id} size={asked} />}
        {asked !== undefined && <CardState panel={panel} />}
      </Stack>
      <Box sx={{ flexGrow: 1, minWidth: 300 }}>
        {asked === undefined ? (
          <Alert severity="info">Give the size to see the card.</Alert>
        ) : (
          <Preview panel={panel.id} size={asked} />
        )}
      </Box>
    </Stack>
  );
}

/** Whether the card on the door still says what is so. */
function CardState({ panel }: { panel: Panel }) {
  const { id } = useHouseView();
  const commit = useCommit(id);
  const { stale, said } = useCardState(panel);
  return (
    <Stack spacing={1}>
      {panel.printed == null ? (
        <Typography>{said}</Typography>
      ) : (
        <Alert severity={stale ? "warning" : "info"} icon={false}>
          {said} Printed {new Date(panel.printed.time).toLocaleDateString()}, revision {panel.printed.revision}.
        </Alert>
      )}
      <Button
        variant="outlined"
        disabled={commit.isPending}
        onClick={() => commit.mutate({ type: "card-printed", panel: panel.id, time: new Date().toISOString() })}
      >
        It is printed and on the door
      </Button>
      <ProblemNote error={commit.error} />
    </Stack>
  );
}

interface Sized {
  panel: number;
  size: { width: number; height: number };
}

function cardPath(id: number, { panel, size }: Sized, kind: string): string {
  return `/api/v1/houses/${id}/panels/${panel}/card.${kind}?width=${size.width}&height=${size.height}`;
}

function Downloads(sized: Sized) {
  const { id } = useHouseView();
  return (
    <Stack spacing={1}>
      <Button variant="outlined" component="a" href={cardPath(id, sized, "pdf")} target="_blank" rel="noreferrer">
        Open the PDF to print
      </Button>
      <Typography sx={{ color: "text.secondary" }}>Print at 100 %, not “fit to page”.</Typography>
      <Stack direction="row" spacing={1}>
        {["pdf", "svg", "png"].map((kind) => (
          <Button key={kind} component="a" href={cardPath(id, sized, kind)} download={`card.${kind}`}>
            {kind.toUpperCase()}
          </Button>
        ))}
        <Button component="a" href={`/api/v1/houses/${id}/circuits.csv`} download="circuits.csv">
          CSV
        </Button>
      </Stack>
    </Stack>
  );
}

/** The card as a drawing, or why there is none at that size. */
async function drawn(id: number, sized: Sized): Promise<string> {
  const answer = await fetch(`${cardPath(id, sized, "svg")}&bare=true`);
  if (!answer.ok) {
    throw problemOf(answer.status, await answer.json());
  }
  return answer.text();
}

function Preview({ panel, size }: Sized) {
  const { id } = useHouseView();
  const drawing = useQuery({
    queryKey: [...houseKey(id), "card", panel, size],
    placeholderData: keepPreviousData,
    queryFn: () => drawn(id, { panel, size }),
  });
  if (drawing.error instanceof Problem) {
    return <ProblemNote error={drawing.error} />;
  }
  return (
    <Paper
      variant="outlined"
      sx={{ display: "inline-block", p: 0, lineHeight: 0, maxWidth: "100%", overflow: "auto", bgcolor: "#fff" }}
      aria-label="The card as it will be printed"
      role="img"
    >
      {/* The drawing comes from this program alone, with every text in it escaped. */}
      {/* biome-ignore lint/security/noDangerouslySetInnerHtml: inline, so that it uses the page's typeface */}
      <div dangerouslySetInnerHTML={{ __html: drawing.data ?? "" }} />
    </Paper>
  );
}
