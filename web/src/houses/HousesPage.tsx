import { Box, Button, Container, Stack, Typography } from "@mui/material";
import { lazy, Suspense, useState } from "react";
import { Link } from "react-router";
import type { HouseItem, ShelfWord } from "../api/client";
import { useShelf } from "../api/edits";
import { useHouses } from "../api/reads";
import { Mark } from "../parts/Mark";

// Fetched when they are asked for: the first page stays light.
const ProblemNote = lazy(async () => ({ default: (await import("../parts/ProblemNote")).ProblemNote }));
const CopyHouse = lazy(() => import("./CopyHouse"));
const NewHouse = lazy(() => import("./NewHouse"));
const PutAway = lazy(() => import("./PutAway"));
const SearchHouses = lazy(() => import("./SearchHouses"));

/** All houses, and a new one. */
export function HousesPage() {
  const houses = useHouses();
  const [making, setMaking] = useState(false);
  const [sought, setSought] = useState("");
  const [showAway, setAway] = useState(false);
  const shelf = useShelf();
  const [gone, setGone] = useState<HouseItem>();
  const error = houses.error ?? shelf.error;
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
      {error !== null && (
        <Suspense fallback={<Typography role="alert">{error.message}</Typography>}>
          <ProblemNote error={error} />
        </Suspense>
      )}
      {all.length > 1 && (
        <Stack direction="row" spacing={1.5} sx={{ mb: 2, flexWrap: "wrap", rowGap: 1 }}>
          <Box sx={{ flexGrow: 1, minHeight: 56 }}>
            <Suspense>
              <SearchHouses sought={sought} onChange={setSought} />
            </Suspense>
          </Box>
          {others.length > 0 && (
            <Button onClick={() => setAway(!away)} aria-pressed={away}>
              {away ? "Back to those in use" : `Put away or thrown away: ${others.length}`}
            </Button>
          )}
        </Stack>
      )}
      {matching.length > 0 && (
        <Box
          component="nav"
          aria-label="Houses"
          sx={{ mb: 3, border: 1, borderColor: "divider", borderRadius: 1, bgcolor: "background.paper" }}
        >
          {matching.map((house) => (
            <HouseRow key={house.id} house={house} onMove={move} />
          ))}
        </Box>
      )}
      {all.length > 0 && matching.length === 0 && <Typography gutterBottom>No house of that name here.</Typography>}
      {form ? (
        <Suspense>
          <NewHouse />
        </Suspense>
      ) : (
        <Button variant="contained" onClick={() => setMaking(true)}>
          New house
        </Button>
      )}
      {gone !== undefined && (
        <Suspense>
          <PutAway name={gone.name} onUndo={() => move(gone, "active")} onGone={() => setGone(undefined)} />
        </Suspense>
      )}
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
      sx={{
        alignItems: { sm: "center" },
        borderBottom: 1,
        borderColor: "divider",
        pr: 1,
        "&:last-child": { borderBottom: 0 },
      }}
    >
      <Button
        component={Link}
        to={`/houses/${house.id}`}
        sx={{ flexGrow: 1, justifyContent: "start", textAlign: "left", fontWeight: "inherit", py: 1.5, px: 2 }}
      >
        <Box>
          <Typography color="textPrimary">{house.name}</Typography>
          <Typography variant="body2" color="textSecondary">
            {needs(house)}
          </Typography>
        </Box>
      </Button>
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
      {copying && (
        <Suspense>
          <CopyHouse house={house} onDone={() => setCopying(false)} />
        </Suspense>
      )}
    </Stack>
  );
}
