import { Box, Button, Container, Stack, Typography } from "@mui/material";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { lazy, Suspense, useState } from "react";
import { Link, useNavigate } from "react-router";
import { client, data, type HouseItem, type ShelfWord } from "../api/client";
import { useShelf } from "../api/edits";
import { useHouses } from "../api/reads";
import { Mark } from "../parts/Mark";

// Fetched when they are asked for: the first page stays light.
const ProblemNote = lazy(async () => ({ default: (await import("../parts/ProblemNote")).ProblemNote }));
const BringHouse = lazy(() => import("./BringHouse"));
const CopyHouse = lazy(() => import("./CopyHouse"));
const NewHouse = lazy(() => import("./NewHouse"));
const PutAway = lazy(() => import("./PutAway"));
const SearchHouses = lazy(() => import("./SearchHouses"));

/** All houses, and a new one. */
export function HousesPage() {
  const houses = useHouses();
  const [asked, setAsked] = useState<"new" | "bring">();
  const queries = useQueryClient();
  const navigate = useNavigate();
  const demo = useMutation({
    mutationFn: async () => (await data(client.POST("/api/v1/houses/demo"))).id,
    onSuccess: async (id) => {
      await queries.invalidateQueries({ queryKey: ["houses"] });
      await navigate(`/houses/${id}`);
    },
  });
  const [sought, setSought] = useState("");
  const [showAway, setAway] = useState(false);
  const shelf = useShelf();
  const [gone, setGone] = useState<{ house: HouseItem; thrown: boolean }>();
  const error = houses.error ?? shelf.error ?? demo.error;
  const all = houses.data ?? [];
  const kept = all.filter((h) => h.shelf === "active");
  const others = all.filter((h) => h.shelf !== "active");
  const away = showAway && others.length > 0;
  const matching = (away ? others : kept).filter((h) => h.name.toLowerCase().includes(sought.trim().toLowerCase()));
  const move = (house: HouseItem, to: ShelfWord) =>
    shelf.mutate(
      { id: house.id, shelf: to },
      {
        onSuccess: () => setGone(to === "active" ? undefined : { house, thrown: to === "deleted" }),
      },
    );
  return (
    <Container component="main" maxWidth="md" sx={{ py: { xs: 2, sm: 4 } }}>
      <Stack direction="row" spacing={1.5} sx={{ alignItems: "center", mb: 1.5 }}>
        <Mark />
        <Typography variant="h1">Wayfinder</Typography>
      </Stack>
      <Typography sx={{ mb: 3, fontSize: "1.05rem" }}>
        Find out which breaker feeds each outlet, light and appliance, and print a card for the panel’s door that is
        right.
        <br />
        Everything stays on this computer; a phone on the same Wi-Fi can join in.
      </Typography>
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
      {asked === undefined ? (
        <Stack direction={{ xs: "column", sm: "row" }} sx={{ gap: 1.5, "& button": { minHeight: 48 } }}>
          <Button variant="contained" onClick={() => setAsked("new")}>
            New house
          </Button>
          <Button variant="outlined" onClick={() => setAsked("bring")}>
            Bring a house
          </Button>
          <Button variant="outlined" disabled={demo.isPending} onClick={() => demo.mutate()}>
            Look at the demo house
          </Button>
        </Stack>
      ) : (
        <Suspense>
          {asked === "new" ? (
            <NewHouse onGone={() => setAsked(undefined)} />
          ) : (
            <BringHouse onGone={() => setAsked(undefined)} />
          )}
        </Suspense>
      )}
      {gone !== undefined && (
        <Suspense>
          <PutAway
            name={gone.house.name}
            thrown={gone.thrown}
            onUndo={() => move(gone.house, "active")}
            onGone={() => setGone(undefined)}
          />
        </Suspense>
      )}
    </Container>
  );
}

/** So many lines stand in a house's own line; the rest is counted. */
const LINES = 2;

function firstOf(lines: string[]): string {
  const more = lines.length - LINES;
  return lines.slice(0, LINES).join("; ") + (more > 0 ? `; ${more} more` : "");
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
    glance.stale_cards.length > 0 ? `card out of date: ${firstOf(glance.stale_lines)}` : "",
    glance.no_card.length > 0 ? `no card printed: ${glance.no_card.join(", ")}` : "",
    glance.tests_due > 0 ? `${glance.tests_due} ground-fault tests due` : "",
    glance.misfits > 0
      ? `${glance.misfits} ${glance.misfits === 1 ? "thing stands" : "things stand"} that should not`
      : "",
  ]
    .filter((part) => part !== "")
    .join("; ");
}

function HouseRow({ house, onMove }: { house: HouseItem; onMove: (house: HouseItem, to: ShelfWord) => void }) {
  const [copying, setCopying] = useState(false);
  const [more, setMore] = useState(false);
  return (
    <Stack
      direction="row"
      sx={{
        alignItems: "center",
        flexWrap: "wrap",
        borderBottom: 1,
        borderColor: "divider",
        pr: 1,
        "&:last-child": { borderBottom: 0 },
      }}
    >
      <Button
        component={Link}
        to={`/houses/${house.id}`}
        sx={{
          flex: "1 1 0",
          minWidth: 0,
          justifyContent: "start",
          textAlign: "left",
          fontWeight: "inherit",
          py: 1.5,
          px: 2,
        }}
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
            <Button
              onClick={() => setMore(!more)}
              aria-expanded={more}
              aria-label={`More for ${house.name}`}
              sx={{ minHeight: 44, fontSize: "1.3rem", order: { sm: 1 } }}
            >
              {more ? "×" : "⋯"}
            </Button>
            {more && (
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
            )}
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
