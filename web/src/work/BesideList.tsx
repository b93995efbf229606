import { Box, Button, Stack, Typography } from "@mui/material";
import { type Beside, besideTitle } from "./useBeside";

/** Jobs of the same shutdown, each to be looked at again or left out. */
export function BesideList({
  jobs,
  title,
  onOpen,
  onRemove,
}: {
  jobs: readonly Beside[];
  title: string;
  onOpen: (nth: number) => void;
  onRemove: (nth: number) => void;
}) {
  return (
    <Box component="section" aria-labelledby="beside">
      <Typography variant="h3" component="h2" id="beside">
        {title}
      </Typography>
      <Box component="ul" sx={{ m: 0, p: 0, listStyle: "none" }}>
        {jobs.map((job, nth) => {
          const name = besideTitle(job);
          return (
            <Stack
              key={JSON.stringify(job)}
              component="li"
              direction="row"
              sx={{ gap: 1, alignItems: "center", flexWrap: "wrap" }}
            >
              <Typography sx={{ flexGrow: 1, fontWeight: 650 }}>{name}</Typography>
              <Button onClick={() => onOpen(nth)} aria-label={`Change ${name}`} sx={{ minHeight: 44 }}>
                Change
              </Button>
              <Button onClick={() => onRemove(nth)} aria-label={`Leave out ${name}`} sx={{ minHeight: 44 }}>
                Leave out
              </Button>
            </Stack>
          );
        })}
      </Box>
    </Box>
  );
}
