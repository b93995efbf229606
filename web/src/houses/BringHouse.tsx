import { Alert, Button, Stack, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { client, data } from "../api/client";
import { ProblemNote } from "../parts/ProblemNote";
import { unpacked } from "./unpacked";

/** A house from a file that was saved here or elsewhere, or from the files of a survey, chosen together. */
export default function BringHouse({ onGone }: { onGone: () => void }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const bring = useMutation({
    mutationFn: async (chosen: File[]) => {
      const files = (await Promise.all(chosen.map(unpacked))).flat();
      return data(client.POST("/api/v1/houses/bring", { body: { files } }));
    },
    onSuccess: async (made) => {
      await queries.invalidateQueries({ queryKey: ["houses"] });
      if (made.notes.length === 0) {
        await navigate(`/houses/${made.id}`);
      }
    },
  });
  return (
    <Stack spacing={1.5}>
      <Typography variant="h2">Bring a house</Typography>
      <Typography>
        Choose a house file (<span className="mono">.wayfinder.json</span>), or the files of a survey: all at once (
        <span className="mono">panels.csv</span>, <span className="mono">breakers.csv</span> …), or their folder as a
        zip.
      </Typography>
      <Stack direction="row" spacing={1.5}>
        <Button component="label" variant="contained" disabled={bring.isPending} sx={{ minHeight: 48 }}>
          Choose files
          <input
            type="file"
            multiple
            accept=".json,.csv,.zip"
            aria-label="Files of the house"
            style={{ position: "absolute", width: 1, height: 1, opacity: 0 }}
            onChange={(event) => {
              const chosen = [...(event.target.files ?? [])];
              event.target.value = "";
              if (chosen.length > 0) {
                bring.mutate(chosen);
              }
            }}
          />
        </Button>
        <Button onClick={onGone} sx={{ minHeight: 48 }}>
          Not now
        </Button>
      </Stack>
      <ProblemNote error={bring.error} />
      {bring.data !== undefined && bring.data.notes.length > 0 && (
        <Alert
          severity="info"
          action={
            <Button component={Link} to={`/houses/${bring.data.id}`}>
              Open it
            </Button>
          }
        >
          {bring.data.notes.map((note) => (
            <Typography key={note}>{note}</Typography>
          ))}
        </Alert>
      )}
    </Stack>
  );
}
