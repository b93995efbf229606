import { Box, Button, Checkbox, FormControlLabel, Stack, Typography } from "@mui/material";
import type { Schemas } from "../api/client";
import { useHouseView } from "../app/house";
import { useRemark } from "../findings/useRemark";
import { ProblemNote } from "../parts/ProblemNote";

type Tag = Schemas["Tag"];

/** What each plate is to say, to be copied by hand or ticked when its label is stuck on. */
export function LabelTicks({ tags, room }: { tags: Tag[]; room: number | undefined }) {
  const { id, house } = useHouseView();
  const { remark, busy, error } = useRemark(id);
  const plates = tags.filter((tag) => tag.kind === "plate" && tag.proven && (room === undefined || tag.room === room));
  const rooms = house.rooms.filter((r) => plates.some((tag) => tag.room === r.id));
  const stick = (tag: Tag) => remark(tag.of, { what: "labelled", text: tag.large });
  if (plates.length === 0) {
    return (
      <Typography>Nothing is proven here yet: what is traced stands here with what its plate is to say.</Typography>
    );
  }
  return (
    <Stack spacing={1.5}>
      <Typography variant="h3" component="h2">
        What is stuck on
      </Typography>
      <ProblemNote error={error} />
      {rooms.map((r) => {
        const here = plates.filter((tag) => tag.room === r.id);
        const open = here.filter((tag) => tag.due);
        return (
          <Box component="section" key={r.id} aria-label={r.name}>
            <Stack direction="row" spacing={1} sx={{ alignItems: "center" }}>
              <Typography sx={{ fontWeight: 650, flexGrow: 1 }}>
                {r.name}: {here.length - open.length} of {here.length}
              </Typography>
              {open.length > 1 && (
                <Button disabled={busy} onClick={() => open.forEach(stick)} sx={{ minHeight: 44 }}>
                  All of them are on
                </Button>
              )}
            </Stack>
            {here.map((tag) => (
              <FormControlLabel
                key={JSON.stringify(tag.of)}
                sx={{ display: "flex", minHeight: 44 }}
                control={<Checkbox checked={!tag.due} disabled={busy || !tag.due} onChange={() => stick(tag)} />}
                label={
                  <>
                    <strong>{tag.large}</strong> · {tag.small}
                    {tag.stuck != null && tag.due && ` (it says ${tag.stuck})`}
                  </>
                }
              />
            ))}
          </Box>
        );
      })}
    </Stack>
  );
}
