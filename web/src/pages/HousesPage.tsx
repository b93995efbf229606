import {
  Alert,
  Box,
  Button,
  Container,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  ListItemButton,
  ListItemText,
  Paper,
  Snackbar,
  Stack,
  TextField,
  Typography,
} from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link, Navigate, useNavigate } from "react-router";
import { client, data, type HouseItem, Problem, type ShelfWord } from "../api/client";
import { newId, useShelf } from "../api/edits";
import { useHouses } from "../api/reads";
import { Mark } from "../parts/Mark";
import { ProblemNote } from "../parts/ProblemNote";
import { type PanelFields, PanelForm } from "../survey/PanelForm";

/** All houses, and a new one. */
export function HousesPage() {
  const houses = useHouses();
  const [making, setMaking] = useState(false);
  const [sought, setSought] = useState("");
  const [showAway, setAway] = useState(false);
  const shelf = useShelf();
  const [gone, setGone] = useState<HouseItem>();
  if (houses.error instanceof Problem && houses.error.status === 401) {
    return <Navigate to="/join" replace />;
  }
  const all = houses.data ?? [];
  const kept = all.filter((h) => h.shelf === "active");
  const others = all.filter((h) => h.shelf !== "active");
  const away = showAway && others.length > 0;
  const matching = (away ? others : kept).filter((h) => h.name.toLowerCase().includes(sought.trim().toLowerCase()));
  const form = making || (houses.isSuccess && all.length === 0);
  const move = (house: HouseItem, to: ShelfWord) =>
    shelf.mutate({ id: house.id, shelf: to }, { onSuccess: () => setGone(to === "active" ? undefined : house) });
  return (
    <Container component="main" maxWidth="md" sx={{ py: 4 }}>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", mb: 3 }}>
        <Mark />
        <Typography variant="h1">Wayfinder</Typography>
      </Stack>
      <ProblemNote error={houses.error ?? shelf.error} />
      {all.length > 1 && (
        <Stack direction="row" spacing={1.5} sx={{ mb: 2, flexWrap: "wrap", rowGap: 1 }}>
          <TextField
            label="Search houses"
            value={sought}
            onChange={(e) => setSought(e.target.value)}
            sx={{ flexGrow: 1 }}
          />
          {others.length > 0 && (
            <Button onClick={() => setAway(!away)} aria-pressed={away}>
              {away ? "Back to those in use" : `Put away or thrown away: ${others.length}`}
            </Button>
          )}
        </Stack>
      )}
      {matching.length > 0 && (
        <Paper variant="outlined" sx={{ mb: 3 }} component="nav" aria-label="Houses">
          {matching.map((house) => (
            <HouseRow key={house.id} house={house} onMove={move} />
          ))}
        </Paper>
      )}
      {all.length > 0 && matching.length === 0 && <Typography gutterBottom>No house of that name here.</Typography>}
      {form ? (
        <NewHouse />
      ) : (
        <Button variant="contained" onClick={() => setMaking(true)}>
          New house
        </Button>
      )}
      <Snackbar
        open={gone !== undefined}
        autoHideDuration={10000}
        onClose={(_, reason) => reason === "timeout" && setGone(undefined)}
        message={gone === undefined ? "" : `${gone.name} is put away. Thrown-away houses are kept for thirty days.`}
        action={
          <Button color="inherit" sx={{ textDecoration: "underline" }} onClick={() => gone && move(gone, "active")}>
            Undo
          </Button>
        }
      />
    </Container>
  );
}

/** What a house needs, in a line. */
function needs(house: HouseItem): string {
  const { glance } = house;
  if (glance == null) {
    return house.shelf === "deleted" ? "thrown away; erased after thirty days" : "put away";
  }
  const open = glance.points - glance.settled;
  return [
    `${house.panels} ${house.panels === 1 ? "panel" : "panels"}`,
    `${glance.settled} of ${glance.points} points proven${open > 0 ? `, ${open} to go` : ""}`,
    glance.stale_cards.length > 0 ? `card out of date: ${glance.stale_cards.join(", ")}` : "",
    glance.no_card.length > 0 ? `no card printed: ${glance.no_card.join(", ")}` : "",
    glance.tests_due > 0 ? `${glance.tests_due} ground-fault tests due` : "",
    glance.misfits > 0 ? `${glance.misfits} found that ${glance.misfits === 1 ? "does" : "do"} not fit` : "",
  ]
    .filter((part) => part !== "")
    .join("; ");
}

function HouseRow({ house, onMove }: { house: HouseItem; onMove: (house: HouseItem, to: ShelfWord) => void }) {
  const [copying, setCopying] = useState(false);
  return (
    <Stack
      direction={{ xs: "column", sm: "row" }}
      sx={{ alignItems: { sm: "center" }, borderBottom: 1, borderColor: "divider", pr: 1 }}
    >
      <ListItemButton component={Link} to={`/houses/${house.id}`} sx={{ flexGrow: 1 }}>
        <ListItemText primary={house.name} secondary={needs(house)} />
      </ListItemButton>
      <Stack direction="row" sx={{ justifyContent: "end", "& button": { whiteSpace: "nowrap" } }}>
        {house.shelf === "active" ? (
          <>
            <Button onClick={() => setCopying(true)} aria-label={`Duplicate ${house.name}`}>
              Duplicate
            </Button>
            <Button onClick={() => onMove(house, "archived")} aria-label={`Put away ${house.name}`}>
              Put away
            </Button>
            <Button onClick={() => onMove(house, "deleted")} aria-label={`Throw away ${house.name}`}>
              Throw away
            </Button>
          </>
        ) : (
          <Button onClick={() => onMove(house, "active")} aria-label={`Take back ${house.name}`}>
            Take back
          </Button>
        )}
      </Stack>
      <Dialog open={copying} onClose={() => setCopying(false)} aria-labelledby="copy-title">
        {copying && <Copy house={house} onDone={() => setCopying(false)} />}
      </Dialog>
    </Stack>
  );
}

function Copy({ house, onDone }: { house: HouseItem; onDone: () => void }) {
  const queries = useQueryClient();
  const [name, setName] = useState(`${house.name}, copy`);
  const copy = useMutation({
    mutationFn: () =>
      data(client.POST("/api/v1/houses/{id}/duplicate", { params: { path: { id: house.id } }, body: { name } })),
    onSuccess: async () => {
      await queries.invalidateQueries({ queryKey: ["houses"] });
      onDone();
    },
  });
  return (
    <Box
      component="form"
      onSubmit={(event) => {
        event.preventDefault();
        copy.mutate();
      }}
    >
      <DialogTitle id="copy-title">Duplicate {house.name}</DialogTitle>
      <DialogContent>
        <TextField
          label="Name of the copy"
          value={name}
          autoFocus
          fullWidth
          onChange={(e) => setName(e.target.value)}
          sx={{ mt: 1 }}
        />
        <ProblemNote error={copy.error} />
      </DialogContent>
      <DialogActions>
        <Button onClick={onDone}>Cancel</Button>
        <Button type="submit" variant="contained" disabled={copy.isPending || name.trim() === ""}>
          Make the copy
        </Button>
      </DialogActions>
    </Box>
  );
}

function NewHouse() {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const make = useMutation({
    mutationFn: async ({ houseName, panel }: { houseName: string; panel: PanelFields }) => {
      const body = { name: houseName, panel: { ...panel, id: newId(), tandem: "none" as const } };
      return (await data(client.POST("/api/v1/houses", { body }))).id;
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
