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
import { useEffect, useState } from "react";
import { Link, Navigate, Outlet, useLocation, useParams } from "react-router";
import { Problem } from "../api/client";
import { useBeliefs, useFace, useHouse, useLive } from "../api/reads";
import { type Chosen, HouseContext, useHouseView } from "../house";
import { BreakerSheet } from "../parts/BreakerSheet";
import { FindBox } from "../parts/FindBox";
import { KeySheet } from "../parts/KeySheet";
import { Mark } from "../parts/Mark";
import { PhoneButton } from "../parts/PhoneButton";
import { PointDrawer } from "../parts/PointDrawer";
import { ProblemNote } from "../parts/ProblemNote";
import { SideFace } from "../parts/SideFace";
import { type Stance, useStance } from "../stance";
import { OutOfReach } from "../trace/OutOfReach";
import { PanelStance } from "../trace/PanelStance";
import { usePresence } from "../trace/presence";
import { RoomsStance } from "../trace/RoomsStance";

const pages = [
  { path: "survey", label: "Survey" },
  { path: "plan", label: "Plan" },
  { path: "trace", label: "Trace" },
  { path: "directory", label: "Directory" },
  { path: "off", label: "Switch off for work" },
  { path: "dead", label: "Something is dead" },
  { path: "log", label: "Log" },
  { path: "history", label: "Changes" },
];

/** Pages that are answers: a phone shows them in every stance. */
const answers = ["off", "dead", "reset", "log"];

/** The page of a path: the word after the house's number. */
function pageOf(pathname: string): string {
  return pathname.split("/")[3] ?? "trace";
}

/** A house, in the stance of whoever looks at it. */
export function HousePage() {
  const id = Number(useParams().house);
  const house = useHouse(id);
  const beliefs = useBeliefs(id);
  const [panel, setPanel] = useState<number>();
  const [chosen, choose] = useState<Chosen>({});
  const { stance } = useStance();
  useLive(id);
  const presence = usePresence(id, stance);
  const shown = house.data?.panels.find((p) => p.id === panel) ?? firstPanel(house.data?.panels);
  const face = useFace(id, shown?.id);
  if (house.error instanceof Problem && house.error.status === 401) {
    return <Navigate to="/join" replace />;
  }
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
    beliefs: beliefs.data,
    panel: shown?.id,
    setPanel,
    face: face.data,
    chosen,
    choose,
    presence,
  };
  return (
    <HouseContext value={view}>
      {stance === "desk" ? (
        <>
          <Header />
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

/** In the hand: the tracing of the stance, or an answer that was asked for; below, the way to the others. */
function Hand() {
  const { stance } = useStance();
  const page = pageOf(useLocation().pathname);
  return (
    <Box sx={{ height: "100dvh", display: "flex", flexDirection: "column", "@media print": { height: "auto" } }}>
      <Header />
      <OutOfReach />
      <Box sx={{ flexGrow: 1, overflow: "auto" }}>
        {answers.includes(page) ? (
          <Container component="main" sx={{ py: 2 }}>
            <Outlet />
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
        {[
          { path: "trace", label: "Trace" },
          { path: "off", label: "Switch off" },
          { path: "dead", label: "Dead?" },
          { path: "log", label: "Log" },
        ].map((p) => (
          <Button
            key={p.path}
            component={Link}
            to={p.path}
            aria-current={page === p.path ? "page" : undefined}
            sx={{
              flex: 1,
              minHeight: 56,
              borderRadius: 0,
              borderTop: 3,
              borderColor: page === p.path ? "primary.main" : "transparent",
            }}
          >
            {p.label}
          </Button>
        ))}
      </Paper>
    </Box>
  );
}

function firstPanel<T extends { fed_by?: number | null }>(panels: T[] | undefined): T | undefined {
  return panels?.find((p) => p.fed_by === null || p.fed_by === undefined) ?? panels?.[0];
}

function Header() {
  const { house, beliefs } = useHouseView();
  const { stance, setStance, dark, setDark } = useStance();
  const progress = beliefs?.progress;
  const small = stance !== "desk";
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

function Desk() {
  const { house, panel, setPanel } = useHouseView();
  const location = useLocation();
  const current = pages.find((p) => p.path === pageOf(location.pathname))?.path ?? false;
  useEffect(() => {
    const page = pages.find((p) => p.path === current);
    document.title = `${page?.label ?? "House"}: ${house.about.name}`;
  }, [current, house.about.name]);
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
        sx={{ flexGrow: 1, minWidth: 0, overflow: "auto", borderLeft: { md: 1 }, borderColor: { md: "divider" } }}
      >
        <Tabs
          value={current}
          variant="scrollable"
          scrollButtons="auto"
          aria-label="The work, in order"
          className="no-print"
          sx={{ borderBottom: 1, borderColor: "divider", px: 1, "& .MuiTab-root": { px: 1.5, minWidth: 0 } }}
        >
          {pages.map((p) => (
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
