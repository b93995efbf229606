import type { ComponentType } from "react";
import { Navigate, type RouteObject } from "react-router";
import { BrokenPage } from "./BrokenPage";

/** A page of a house. Paths, tabs, the bar of a phone and titles all come from this one list. */
interface Page {
  /** Behind the house's number; what is behind a slash belongs to the page itself. */
  path: string;
  /** What it is called. */
  label: string;
  /** It stands among the tabs at the desk, in the order of the work. */
  tab: boolean;
  /** A phone shows it in every stance, and calls it so in its bar where it has a place there. */
  hand?: { bar?: string };
  /** Fetched when it is first shown. */
  load: () => Promise<ComponentType>;
}

export const pages: readonly Page[] = [
  { path: "survey", label: "Survey", tab: true, load: async () => (await import("../survey/SurveyPage")).SurveyPage },
  { path: "plan", label: "Plan", tab: true, load: async () => (await import("../plan/PlanPage")).PlanPage },
  { path: "trace", label: "Trace", tab: true, load: async () => (await import("../trace/TracePage")).TracePage },
  {
    path: "loads",
    label: "Loads",
    tab: true,
    hand: { bar: "Loads" },
    load: async () => (await import("../loads/LoadsPage")).LoadsPage,
  },
  {
    path: "measure",
    label: "Measure",
    tab: false,
    hand: {},
    load: async () => (await import("../loads/MeasurePage")).MeasurePage,
  },
  {
    path: "room",
    label: "Room for more?",
    tab: false,
    hand: {},
    load: async () => (await import("../loads/RoomPage")).RoomPage,
  },
  {
    path: "energy",
    label: "Energy",
    tab: false,
    hand: {},
    load: async () => (await import("../loads/EnergyPage")).EnergyPage,
  },
  {
    path: "suspect/:breaker",
    label: "Is it the breaker?",
    tab: false,
    hand: {},
    load: async () => (await import("../loads/SuspectPage")).SuspectPage,
  },
  {
    path: "directory",
    label: "Directory",
    tab: true,
    hand: {},
    load: async () => (await import("../directory/DirectoryPage")).DirectoryPage,
  },
  {
    path: "work",
    label: "Work",
    tab: true,
    hand: { bar: "Work" },
    load: async () => (await import("../work/WorkPage")).WorkPage,
  },
  {
    path: "plan-work/:kind",
    label: "Plan work",
    tab: false,
    hand: {},
    load: async () => (await import("../work/PlanWorkPage")).PlanWorkPage,
  },
  {
    path: "job/:job",
    label: "Job",
    tab: false,
    hand: {},
    load: async () => (await import("../work/JobPage")).JobPage,
  },
  {
    path: "off",
    label: "Switch off for work",
    tab: false,
    hand: {},
    load: async () => (await import("../answers/ShutdownPage")).ShutdownPage,
  },
  {
    path: "dead",
    label: "Something is dead",
    tab: false,
    hand: {},
    load: async () => (await import("../answers/DeadPage")).DeadPage,
  },
  {
    path: "reset/:breaker",
    label: "Reset a breaker",
    tab: false,
    hand: {},
    load: async () => (await import("../answers/ResetPage")).ResetPage,
  },
  {
    path: "log",
    label: "Log",
    tab: true,
    hand: { bar: "Log" },
    load: async () => (await import("../log/LogPage")).LogPage,
  },
  { path: "history", label: "Changes", tab: true, load: async () => (await import("../log/HistoryPage")).HistoryPage },
];

/** Fetches all pages beforehand: out of reach none can be fetched. */
export function fetchPages() {
  for (const page of pages) {
    // A page that does not come now is asked for again when it is shown.
    page.load().catch(() => undefined);
  }
}

/** Where a house opens. */
export const FIRST = "trace";

/** The page of an address: by the word after the house's number. */
export function pageAt(pathname: string): Page | undefined {
  const word = pathname.split("/")[3] ?? FIRST;
  return pages.find((p) => p.path.split("/")[0] === word);
}

export const routes: RouteObject[] = [
  {
    errorElement: <BrokenPage />,
    // Nothing is shown for the moment that the first page takes to come.
    hydrateFallbackElement: <div />,
    children: [
      { path: "/", lazy: async () => ({ Component: (await import("../houses/HousesPage")).HousesPage }) },
      { path: "/join", lazy: async () => ({ Component: (await import("../houses/JoinPage")).JoinPage }) },
      {
        path: "/houses/:house",
        lazy: async () => ({ Component: (await import("./HousePage")).HousePage }),
        children: [
          { index: true, element: <Navigate to={FIRST} replace /> },
          {
            // The frame stays, and with it the way to the tour. Not on the page itself: what could not be fetched has nothing
            // to show a fault in.
            errorElement: <BrokenPage inside />,
            children: pages.map(({ path, load }) => ({ path, lazy: async () => ({ Component: await load() }) })),
          },
        ],
      },
      { path: "*", element: <Navigate to="/" replace /> },
    ],
  },
];
