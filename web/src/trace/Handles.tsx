import { Box, Stack, Typography } from "@mui/material";
import type { BreakerRef } from "../api/client";
import { useFace } from "../api/reads";
import { useHouseView } from "../app/house";

/** Handles to move or standing so, by panel. */
export function Handles({ word, list, moves = true }: { word: string; list: BreakerRef[]; moves?: boolean }) {
  const { house } = useHouseView();
  if (list.length === 0) {
    return null;
  }
  const panels = house.panels.filter((panel) => list.some((b) => b.panel === panel.name));
  return (
    <Box sx={{ mb: 1.5 }}>
      {panels.map((panel) => (
        <Box key={panel.id} sx={{ mb: 1 }}>
          <Typography variant="h3" gutterBottom>
            {word}
            {house.panels.length > 1 && ` in ${panel.name}`}
          </Typography>
          <InPanel panel={panel.id} list={list.filter((b) => b.panel === panel.name)} moves={moves} />
        </Box>
      ))}
    </Box>
  );
}

/** Handles of one panel: number, rating, and in small what is believed to hang there. */
function InPanel({ panel, list, moves }: { panel: number; list: BreakerRef[]; moves: boolean }) {
  const { id, house } = useHouseView();
  const face = useFace(id, panel).data;
  return (
    <Stack direction="row" component="ul" sx={{ flexWrap: "wrap", gap: 1, listStyle: "none", p: 0, m: 0 }}>
      {list.map((b) => {
        const forms = face?.breakers.find((f) => f.breaker === b.breaker)?.words ?? [];
        const words = forms.find((form) => form.length <= FEW_LETTERS) ?? forms.at(-1);
        return (
          <Box component="li" key={b.breaker} sx={moves ? { ...handle, ...toMove } : handle}>
            {b.at}{" "}
            <Box component="span" className="mono" sx={{ fontSize: "0.85rem", fontWeight: 400 }}>
              {house.breakers.find((known) => known.id === b.breaker)?.amps} A
            </Box>
            {words !== undefined && <Box sx={{ fontSize: "0.8rem", fontWeight: 400, lineHeight: 1.2 }}>{words}</Box>}
          </Box>
        );
      })}
    </Stack>
  );
}

/** What hangs on a handle is a help to find it, and does not make it wide. */
const FEW_LETTERS = 20;

const handle = {
  border: 1,
  px: 1.5,
  py: 0.75,
  borderRadius: 1,
  fontWeight: 750,
  fontSize: "1.15rem",
};

/** The strong colour is for what is to be done now. */
const toMove = { bgcolor: "act.main", borderColor: "act.main", color: "act.contrastText" };
