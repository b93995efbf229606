import {
  Alert,
  Box,
  Button,
  Container,
  List,
  ListItemButton,
  ListItemText,
  Paper,
  Stack,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, Navigate, useNavigate } from "react-router";
import { type Change, client, data, Problem } from "../api/client";
import { newId } from "../api/edits";
import { useHouses } from "../api/reads";
import { Mark } from "../parts/Mark";
import { ProblemNote } from "../parts/ProblemNote";
import { type PanelFields, PanelForm } from "../survey/PanelForm";
import { author } from "../who";

/** All houses, and a new one. */
export function HousesPage() {
  const houses = useHouses();
  const [making, setMaking] = useState(false);
  if (houses.error instanceof Problem && houses.error.status === 401) {
    return <Navigate to="/join" replace />;
  }
  const list = houses.data ?? [];
  const form = making || (houses.isSuccess && list.length === 0);
  return (
    <Container component="main" maxWidth="sm" sx={{ py: 4 }}>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", mb: 3 }}>
        <Mark />
        <Typography variant="h1">Wayfinder</Typography>
      </Stack>
      <ProblemNote error={houses.error} />
      {list.length > 0 && (
        <Paper variant="outlined" sx={{ mb: 3 }}>
          <List component="nav" aria-label="Houses" disablePadding>
            {list.map((house) => (
              <ListItemButton key={house.id} component={Link} to={`/houses/${house.id}`}>
                <ListItemText
                  primary={house.name}
                  secondary={`${house.panels} ${house.panels === 1 ? "panel" : "panels"}, ${house.points} points`}
                />
              </ListItemButton>
            ))}
          </List>
        </Paper>
      )}
      {form ? (
        <NewHouse />
      ) : (
        <Button variant="contained" onClick={() => setMaking(true)}>
          New house
        </Button>
      )}
    </Container>
  );
}

function NewHouse() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: async ({ houseName, panel }: { houseName: string; panel: PanelFields }) => {
      const { id } = await data(client.POST("/api/v1/houses", { body: { name: houseName } }));
      const change: Change = { type: "put-panel", panel: { ...panel, id: newId(), tandem: "none" } };
      await data(
        client.POST("/api/v1/houses/{id}/changes", { params: { path: { id } }, body: { author: author(), change } }),
      );
      return id;
    },
    onSuccess: async (id) => {
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
        withHouseName
        busy={make.isPending}
        error={make.error}
        action="Make the house"
        onDone={(panel, houseName) => make.mutate({ panel, houseName })}
      />
      <Box sx={{ mt: 2 }}>
        <Alert severity="info" icon={false}>
          Switching breakers is all that tracing needs. Behind the cover work only qualified people, where local code
          allows it.
        </Alert>
      </Box>
    </Paper>
  );
}
