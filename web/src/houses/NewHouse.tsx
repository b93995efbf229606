import { Alert, Box, Button, Paper, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { makeHouse, newId } from "../api/edits";
import { forgetHalf } from "../parts/useHalf";
import { type PanelFields, PanelForm } from "../survey/PanelForm";

const FORM = "new-house";

/** A new house, begun with its panel. */
export default function NewHouse({ onGone }: { onGone: () => void }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: async ({ houseName, panel, sure }: { houseName: string; panel: PanelFields; sure: boolean }) => {
      const body = { name: houseName, sure, panel: { ...panel, id: newId(), tandem: "none" as const } };
      return (await makeHouse(body)).id;
    },
    onSuccess: async (id) => {
      forgetHalf(FORM);
      await queries.invalidateQueries({ queryKey: ["houses"] });
      await navigate(`/houses/${id}/survey`);
    },
  });
  return (
    <Paper variant="outlined" sx={{ p: 3 }}>
      <Typography variant="h2" gutterBottom>
        A new house
      </Typography>
      <Typography sx={{ color: "text.secondary", mb: 2 }}>
        Start with the panel. Its door and its label tell all of this; nothing has to be opened.
      </Typography>
      <PanelForm
        form={FORM}
        withHouseName
        busy={make.isPending}
        error={make.error}
        action="Make the house"
        onDone={(panel, houseName, sure) => make.mutate({ panel, houseName, sure })}
      />
      <Button onClick={onGone} sx={{ minHeight: 44 }}>
        Not now
      </Button>
      <Box sx={{ mt: 2 }}>
        <Alert severity="info" icon={false}>
          Switching breakers is all that tracing needs. Behind the cover work only qualified people, where local code
          allows it.
        </Alert>
      </Box>
    </Paper>
  );
}
