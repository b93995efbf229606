import {
  AppBar,
  Box,
  Button,
  CircularProgress,
  Container,
  MenuItem,
  Paper,
  Stack,
  Tab,
  Tabs,
  TextField,
  ToggleButton,
  ToggleButtonGroup,
  Toolbar,
  Typography,
} from "@mui/material";
import { visuallyHidden } from "@mui/utils";
import { lazy, Suspense, useEffect, useState } from "react";
import { Link, Outlet, useLocation, useParams } from "react-router";
import { useLive } from "../api/live";
import { useBeliefs, useHouse, useKept, useTracingRead } from "../api/reads";
import { BreakerSheet } from "../parts/BreakerSheet";
import { FindBox } from "../parts/FindBox";
import { KeySheet } from "../parts/KeySheet";
import { Mark } from "../parts/Mark";
import { PhoneButton } from "../parts/PhoneButton";
import { PointDrawer } from "../parts/PointDrawer";
import { ProblemNote } from "../parts/ProblemNote";
import { SideFace } from "../parts/SideFace";
import { isMeasuring, useCrew } from "../trace/crew";
import { OutOfReach } from "../trace/OutOfReach";
import { PanelStance } from "../trace/PanelStance";
import { usePresence } from "../trace/presence";
import { RoomsStance } from "../trace/RoomsStance";
import { WorkBanner } from "../work/WorkBanner";
import { type Chosen, HouseContext, useHouseView } from "./house";
import { FIRST, fetchPages, pageAt, pages } from "./routes";
import { type Stance, useStance } from "./stance";
import { FETCH_AFTER_MS } from "./times";
import { usePageFocus } from "./usePageFocus";

/** A house, in the stance of whoever looks at it. */
export function HousePage() {
  const id = Number(useParams().house);
  const house = useHouse(id);
  const [panel, setPanel] = useState<number>();
  const [chosen, choose] = useState<Chosen>({});
  const { stance } = useStance();
  const presence = usePresence(id, stance);
  const order = house.data?.panel_order ?? [];
  const shown = panel !== undefined && order.includes(panel) ? panel : order[0];
  useLive(id);
  useKept(id, shown, stance !== "desk");
  const ready = house.data !== undefined;
  useEffect(() => {
    if (ready) {
      const soon = setTimeout(fetchPages, FETCH_AFTER_MS);
      return () => clearTimeout(soon);
    }
  }, [ready]);
  if (house.data === undefined) {
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
  const view = {
    id,
    house: house.data,
    panel: shown,
    setPanel,
    chosen,
    choose,
    presence,
  };
  return (
    <HouseContext value={view}>
      {stance === "desk" ? (
        <>
          <Header />
          <WorkBanner />
          <OutOfReach />
          <Desk />
        </>
      ) : (
        <Hand />
      )}
      <PointDrawer />
      <BreakerSheet />
    </HouseContext>
  );
}

/** Where a round of measuring goes on, it stands in the place of tracing. */
const Measuring = lazy(async () => ({ default: (await import("../loads/MeasurePage")).MeasurePage }));

/** The bar below: tracing, and the answers that have a place there. */
const bar = pages
  .filter((p) => p.path === FIRST || p.hand?.bar !== undefined)
  .map((p) => ({ path: p.path, label: p.hand?.bar ?? p.label }));

/** In the hand: the tracing of the stance, or an answer that was asked for; below, the way to the others. */
function Hand() {
  const { house } = useHouseView();
  const { stance } = useStance();
  const page = pageAt(useLocation().pathname);
  const main = usePageFocus<HTMLDivElement>(house.about.name);
  return (
    <Box sx={{ height: "100dvh", display: "flex", flexDirection: "column", "@media print": { height: "auto" } }}>
      <Header />
      <WorkBanner />
      <OutOfReach />
      <Box ref={main} tabIndex={-1} sx={{ flexGrow: 1, overflow: "auto", outline: "none" }}>
        {page?.hand === undefined && (
          <Box component="h1" sx={visuallyHidden}>
            {isMeasuring(house) ? "Measuring" : "Tracing"} {house.about.name},{" "}
            {stance === "panel" ? "at the panel" : "in the rooms"}
          </Box>
        )}
        {page?.hand !== undefined ? (
          <Container component="main" sx={{ py: 2 }}>
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
        aria-label="Answers"
        className="no-print"
        square
        sx={{ display: "flex", flexShrink: 0, borderTop: 1, borderColor: "divider" }}
      >
        {bar.map((p) => {
          const here = p.path === (page?.hand === undefined ? FIRST : page.path);
          return (
            <Button
              key={p.path}
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
        <Button component={Link} to="/" aria-label="All houses" sx={{ minWidth: 0, p: 0.5 }}>
          <Mark size={28} />
        </Button>
        {!small && (
          <Typography variant="h1" sx={{ fontSize: "1.15rem" }} noWrap>
            {house.about.name}
          </Typography>
        )}
        {progress !== undefined && progress.points > 0 && (
          <Typography sx={{ color: "text.secondary" }} noWrap>
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
          <ToggleButton value="desk">At the desk</ToggleButton>
        </ToggleButtonGroup>
      </Toolbar>
    </AppBar>
  );
}

const tabs = pages.filter((p) => p.tab);

function Desk() {
  const { house, panel, setPanel } = useHouseView();
  const current = pageAt(useLocation().pathname);
  const main = usePageFocus<HTMLElement>(house.about.name);
  return (
    <Box sx={{ display: "flex", height: { md: "calc(100vh - 58px)" }, flexDirection: { xs: "column", md: "row" } }}>
      <Box
        component="aside"
        className="no-print"
        aria-label="Panel"
        sx={{ width: { md: 392 }, flexShrink: 0, p: 1.5, display: "flex", flexDirection: "column", gap: 1 }}
      >
        {house.panels.length > 1 && (
          <TextField select label="Panel" value={panel ?? ""} onChange={(e) => setPanel(Number(e.target.value))}>
            {house.panels.map((p) => (
              <MenuItem key={p.id} value={p.id}>
                {p.name}
              </MenuItem>
            ))}
          </TextField>
        )}
        <SideFace />
      </Box>
      <Box
        component="main"
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
          value={current?.tab === true ? current.path : false}
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
          <Outlet />
        </Stack>
      </Box>
    </Box>
  );
}
