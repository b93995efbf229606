import { Box, Button, Paper, Stack, Typography } from "@mui/material";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { problemOf } from "../api/client";
import { houseKey } from "../api/reads";
import { useHouseView } from "../app/house";
import { ProblemNote } from "../parts/ProblemNote";

interface Props {
  /** The address of the print as an SVG. */
  path: string;
  /** What it is, for those who do not see it. */
  label: string;
}

/** A print as it will come out; why there is none where there is none. */
export function Preview({ path, label }: Props) {
  const { id } = useHouseView();
  const drawing = useQuery({
    queryKey: [...houseKey(id), "print", path],
    placeholderData: keepPreviousData,
    queryFn: async ({ signal }) => {
      const answer = await fetch(path, { signal });
      if (!answer.ok) {
        throw problemOf(answer.status, await answer.json());
      }
      return answer.text();
    },
  });
  if (drawing.error !== null) {
    return <ProblemNote error={drawing.error} />;
  }
  return (
    // What scrolls is reached by keys as well.
    <Paper
      variant="outlined"
      component="section"
      aria-label={label}
      tabIndex={0}
      sx={{ p: 0, lineHeight: 0, maxWidth: "100%", maxHeight: 620, overflow: "auto", bgcolor: "#fff" }}
    >
      {drawing.data !== undefined && (
        <Box
          component="img"
          alt={label}
          src={`data:image/svg+xml;charset=utf-8,${encodeURIComponent(drawing.data)}`}
          sx={{ display: "block", width: "100%", minWidth: 480, height: "auto" }}
        />
      )}
    </Paper>
  );
}

interface PrintsProps {
  /** The address of each kind of file. */
  path: (kind: string) => string;
  name: string;
  kinds?: string[];
}

/** The PDF to print, and the same as other files. */
export function Prints({ path, name, kinds = ["pdf", "svg", "png"] }: PrintsProps) {
  return (
    <Stack spacing={1}>
      <Button variant="outlined" component="a" href={path("pdf")} target="_blank" rel="noreferrer">
        Open the PDF to print
      </Button>
      <Typography sx={{ color: "text.secondary" }}>Print at 100 %, not “fit to page”.</Typography>
      <Stack direction="row" spacing={1}>
        {kinds.map((kind) => (
          <Button key={kind} component="a" href={path(kind)} download={`${name}.${kind}`} sx={{ minHeight: 44 }}>
            {kind.toUpperCase()}
          </Button>
        ))}
      </Stack>
    </Stack>
  );
}
