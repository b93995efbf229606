import {
  AppBar,
  Box,
  Button,
  CircularProgress,
  Container,
  Paper,
  Stack,
  Tab,
  Tabs,
  ToggleButton,
  ToggleButtonGroup,
  Toolbar,
  Typography,
  useMediaQuery,
} from "@mui/material";
import { visuallyHidden } from "@mui/utils";
import { lazy, memo, Suspense, useDeferredValue, useEffect, useMemo, useState } from "react";
import { Link, Outlet, useLocation, useParams } from "react-router";
import { drawn } from "../api/edits";
import { useLive } from "../api/live";
import { useBeliefs, useHouse, useKept, useTracingRead } from "../api/reads";
import { SideFace } from "../face/SideFace";
import { BreakerSheet } from "../parts/BreakerSheet";
import { FindBox } from "../parts/FindBox";
import { KeySheet } from "../parts/KeySheet";
import { Mark } from "../parts/Mark";
import { PanelChoice } from "../parts/PanelChoice";
import { PhoneButton } from "../parts/PhoneButton";
import { PointDrawer } from "../parts/PointDrawer";
import { ProblemNote } from "../parts/ProblemNote";
import { isMeasuring, useCrew } from "../trace/crew";
import { OutOfReach } from "../trace/OutOfReach";
import { PanelStance } from "../trace/PanelStance";
import { Present } from "../trace/presence";
import { RoomsStance } from "../trace/RoomsStance";
import { WorkBanner } from "../work/WorkBanner";
import { type Asking, type Chosen, HouseContext, useHouseView } from "./house";
import { besidePages, fetchPages, pageAt, places, tabs } from "./pages";
import { PHONE, type Stance, useStance } from "./stance";
import { FETCH_AFTER_MS } from "./times";
import { usePageFocus } from "./usePageFocus";

/** A number that the address of the page names. */
function numberIn(name: string): number | undefined {
  return Number(new URLSearchParams(window.location.search).get(name)) || undefined;
}

/** A house, in the stance of whoever looks at it. */
export function HousePage() {
  const id = Number(useParams().house);
  const house = useHouse(id);
  // A code on a panel's card opens that panel.
  const [panel, setPanel] = useState(() => numberIn("panel"));
  const [chosen, choose] = useState<Chosen>({});
  const [asking, ask] = useState<Asking>();
  const { stance } = useStance();
  const order = house.data?.panel_order ?? [];
  const shown = panel !== undefined && order.includes(panel) ? panel : order[0];
  useLive(id);
  useKept(id, shown, stance !== "desk");
  const ready = house.data !== undefined;
  useEffect(() => {
    // What a phone keeps for when it is out of reach is not to be thrown away for want of room.
    void navigator.storage?.persist?.();
  }, []);
  useEffect(() => {
    if (ready) {
      const soon = setTimeout(fetchPages, FETCH_AFTER_MS);
      return () => clearTimeout(soon);
    }
  }, [ready]);
  // A house that changed is drawn when nothing else is to be: a finger on a slow phone goes before.
  const shownHouse = useDeferredValue(house.data);
  const revision = shownHouse?.revision;
  useEffect(() => {
    drawn(id, revision);
    return () => drawn(id, undefined);
  }, [id, revision]);
  const view = useMemo(
    () => shownHouse && { id, house: shownHouse, panel: shown, setPanel, chosen, choose, asking, ask },
    [id, shownHouse, shown, chosen, asking],
  );
  if (view === undefined) {
    return (
      <Container sx={{ py: 4 }}>
        {house.error === null ? (
          <CircularProgress aria-label="Loading the house" />
        ) : (
          <ProblemNote error={house.error} />
        )}
      </Container>
    );
  }
  return (
    <HouseContext value={view}>
      <Frame id={id} />
    </HouseContext>
  );
}

/** What stands around a page, drawn anew only where it changed itself. */
const Frame = memo(function Frame({ id }: { id: number }) {
  const { stance } = useStance();
  return (
    <Present house={id} stance={stance}>
      {stance === "desk" ? (
        // What stands at the head takes what it needs; the rest is the page's.
        <Box
          sx={{ display: "flex", flexDirection: "column", height: { md: "100vh" }, "@media print": { height: "auto" } }}
        >
          <SkipLink />
          <Header />
          <WorkBanner />
          <OutOfReach />
          <Desk />
        </Box>
      ) : (
        <Hand />
      )}
      <PointDrawer />
      <BreakerSheet />
    </Present>
  );
});

/** The first stop of who goes by the keyboard: past the head and the panel to the page itself. */
function SkipLink() {
  return (
    <Button
      href="#page"
      variant="contained"
      onClick={(event) => {
        event.preventDefault();
        document.getElementById("page")?.focus();
      }}
      sx={{ position: "absolute", left: 8, top: 8, zIndex: "tooltip", "&:not(:focus)": visuallyHidden }}
    >
      To the page itself
    </Button>
  );
}

/** Where a round of measuring goes on, it stands in the place of tracing. */
const Measuring = lazy(async () => ({ default: (await import("../loads/MeasurePage")).MeasurePage }));

/** A screen with no room for bars that stay. */
const LOW = "@media (max-height: 480px)";

/** In the hand: the stance of whoever traces or measures, or any other page; below, the way to all of them. */
function Hand() {
  const { house } = useHouseView();
  const { stance } = useStance();
  const page = pageAt(useLocation().pathname);
  const main = usePageFocus<HTMLDivElement>(house.about.name);
  const tracing = page?.path === "trace";
  return (
    <Box
      sx={{
        height: "100dvh",
        display: "flex",
        flexDirection: "column",
        "@media print": { height: "auto" },
        // On a phone on its side, or a very small one, the bars go with the page: else nothing is left of it.
        [LOW]: { height: "auto", minHeight: "100dvh", "& > nav": { position: "sticky", bottom: 0, zIndex: 1 } },
      }}
    >
      <SkipLink />
      <Header />
      <WorkBanner />
      <OutOfReach />
      <Box
        ref={main}
        id="page"
        tabIndex={-1}
        sx={{ flexGrow: 1, overflow: "auto", outline: "none", [LOW]: { overflow: "visible" } }}
      >
        {tracing && (
          <Box component="h1" sx={visuallyHidden}>
            {isMeasuring(house) ? "Measuring" : "Tracing"} {house.about.name},{" "}
            {stance === "panel" ? "at the panel" : "in the rooms"}
          </Box>
        )}
        {!tracing ? (
          <Container component="main" sx={{ py: 2, px: 1.5 }}>
            <Beside />
            <Outlet />
          </Container>
        ) : isMeasuring(house) ? (
          <Container component="main" sx={{ py: 2 }}>
            <Suspense fallback={null}>
              <Measuring />
            </Suspense>
          </Container>
        ) : stance === "panel" ? (
          <PanelStance />
        ) : (
          <RoomsStance />
        )}
      </Box>
      <Paper
        component="nav"
        aria-label="The house’s pages"
        className="no-print"
        square
        sx={{ display: "flex", flexShrink: 0, borderTop: 1, borderColor: "divider" }}
      >
        {places.map((p) => {
          const here = p.place === page?.place;
          return (
            <Button
              key={p.place}
              component={Link}
              to={p.path}
              aria-current={here ? "page" : undefined}
              sx={{
                flex: 1,
                minHeight: 56,
                borderRadius: 0,
                borderTop: 3,
                borderColor: here ? "primary.main" : "transparent",
              }}
            >
              {p.label}
            </Button>
          );
        })}
      </Paper>
    </Box>
  );
}

/** The pages that stand beside this one, each a press away. */
function Beside() {
  const page = pageAt(useLocation().pathname);
  const beside = besidePages(page);
  return (
    beside.length > 0 && (
      <Stack direction="row" component="nav" aria-label="Beside" className="no-print" sx={{ gap: 1, mb: 2 }}>
        {beside.map((p) => (
          <Button
            key={p.path}
            component={Link}
            to={p.path}
            variant={p.path === page?.path ? "contained" : "outlined"}
            aria-current={p.path === page?.path ? "page" : undefined}
            sx={{ minHeight: { xs: 44, md: 36 } }}
          >
            {p.label}
          </Button>
        ))}
      </Stack>
    )
  );
}

/** How far the work is: in the hand with what is read for tracing anyway. */
function useProgress(small: boolean) {
  const { id, house } = useHouseView();
  const [crew] = useCrew(id, house);
  const traced = useTracingRead(id, crew, small);
  const map = useBeliefs(id, !small);
  return (small ? traced.data : map.data)?.progress;
}

function Header() {
  const { house } = useHouseView();
  const { stance, setStance, dark, setDark } = useStance();
  const small = stance !== "desk";
  const phone = useMediaQuery(PHONE);
  const tracing = ["trace", "measure"].includes(pageAt(useLocation().pathname)?.path ?? "");
  const progress = useProgress(small);
  return (
    <AppBar
      className="no-print"
      position="static"
      color="transparent"
      elevation={0}
      sx={{ borderBottom: 1, borderColor: "divider" }}
    >
      <Toolbar variant="dense" sx={{ gap: 1.5, flexWrap: "wrap", py: 0.5 }}>
        <Button component={Link} to="/" aria-label="All houses" sx={{ minWidth: small ? 48 : 0, p: 0.5 }}>
          <Mark size={28} />
        </Button>
        {!small && (
          <Typography variant="h1" component="p" sx={{ fontSize: "1.15rem" }} noWrap>
            {house.about.name}
          </Typography>
        )}
        {progress !== undefined && progress.points > 0 && (
          // As much of it as the line has room for.
          <Typography sx={{ color: "text.secondary", flex: small ? "99 1 0" : undefined, minWidth: 60 }} noWrap>
            {progress.proven} of {progress.points} proven
          </Typography>
        )}
        <Box sx={{ flexGrow: 1 }} />
        <FindBox />
        {!small && <PhoneButton />}
        {!small && <KeySheet />}
        <Button onClick={() => setDark(!dark)} aria-pressed={dark} sx={{ minWidth: 0 }}>
          {dark ? "Light" : "Dark"}
        </Button>
        {(!small || tracing) && (
          <ToggleButtonGroup
            exclusive
            size="small"
            value={stance}
            aria-label="Where you are"
            onChange={(_, value: Stance | null) => value !== null && setStance(value)}
            sx={small ? { width: "100%", "& > *": { flex: 1, minHeight: 48 } } : {}}
          >
            <ToggleButton value="panel">At the panel</ToggleButton>
            <ToggleButton value="rooms">In the rooms</ToggleButton>
            {!phone && <ToggleButton value="desk">At the desk</ToggleButton>}
          </ToggleButtonGroup>
        )}
      </Toolbar>
    </AppBar>
  );
}

function Desk() {
  const { house } = useHouseView();
  const current = pageAt(useLocation().pathname);
  const main = usePageFocus<HTMLElement>(house.about.name);
  return (
    <Box sx={{ display: "flex", flexGrow: 1, minHeight: 0, flexDirection: { xs: "column", md: "row" } }}>
      <Box
        component="aside"
        className="no-print"
        aria-label="Panel"
        sx={{ width: { md: 440 }, flexShrink: 0, p: 1.5, display: "flex", flexDirection: "column", gap: 1 }}
      >
        <PanelChoice />
        <SideFace />
      </Box>
      <Box
        component="main"
        id="page"
        ref={main}
        tabIndex={-1}
        sx={{
          outline: "none",
          flexGrow: 1,
          minWidth: 0,
          overflow: "auto",
          borderLeft: { md: 1 },
          borderColor: { md: "divider" },
        }}
      >
        <Tabs
          value={current?.tab ?? false}
          variant="scrollable"
          scrollButtons="auto"
          aria-label="The work, in order"
          className="no-print"
          sx={{ borderBottom: 1, borderColor: "divider", px: 1, "& .MuiTab-root": { px: 1.5, minWidth: 0 } }}
        >
          {tabs.map((p) => (
            <Tab key={p.path} value={p.path} label={p.label} component={Link} to={p.path} />
          ))}
        </Tabs>
        <Stack sx={{ p: 2.5 }} spacing={2.5}>
          <Beside />
          <Outlet />
        </Stack>
      </Box>
    </Box>
  );
}
