import type { ComponentType } from "react";

/** The places of a phone's bar, which are also where a house's pages are found. */
export const places = [
  { place: "today", label: "Today", path: "today" },
  { place: "trace", label: "Trace", path: "trace" },
  { place: "work", label: "Work", path: "work" },
  { place: "house", label: "House", path: "house" },
] as const;

/** A page of a house. Paths, tabs, the bar of a phone and titles all come from this one list. */
export interface Page {
  /** Behind the house's number; what is behind a slash belongs to the page itself. */
  path: string;
  /** What it is called. */
  label: string;
  /** The tab at the desk that it stands under: its own path where it has one, which then come in the order of the work. */
  tab: string;
  /** What that tab is called, where the page has one. */
  tabLabel?: string;
  /** The place of the phone's bar that leads to it. */
  place: (typeof places)[number]["place"];
  /** It stands beside the others of its tab, to be changed to by one press. */
  beside?: boolean;
  /** Nothing on it names it where it is seen: who listens hears its label as its heading. */
  bare?: boolean;
  /** Fetched when it is first shown. */
  load: () => Promise<ComponentType>;
}

export const pages: readonly Page[] = [
  {
    path: "today",
    label: "Today",
    tab: "today",
    tabLabel: "Today",
    place: "today",
    load: async () => (await import("../today/TodayPage")).TodayPage,
  },
  {
    path: "find",
    label: "What feeds this?",
    tab: "today",
    place: "today",
    load: async () => (await import("../answers/FindPage")).FindPage,
  },
  {
    path: "house",
    label: "The house",
    tab: "survey",
    place: "house",
    load: async () => (await import("../house/HouseHub")).HouseHub,
  },
  {
    path: "survey",
    label: "Panels and rooms",
    bare: true,
    tab: "survey",
    tabLabel: "House",
    beside: true,
    place: "house",
    load: async () => (await import("../survey/SurveyPage")).SurveyPage,
  },
  {
    path: "plan",
    label: "Plan",
    bare: true,
    tab: "survey",
    beside: true,
    place: "house",
    load: async () => (await import("../plan/PlanPage")).PlanPage,
  },
  {
    path: "trace",
    label: "Trace",
    bare: true,
    tab: "trace",
    tabLabel: "Trace",
    place: "trace",
    load: async () => (await import("../trace/TracePage")).TracePage,
  },
  {
    path: "loads",
    label: "Loads",
    tab: "loads",
    tabLabel: "Loads",
    place: "house",
    load: async () => (await import("../loads/LoadsPage")).LoadsPage,
  },
  {
    path: "measure",
    label: "Measure",
    tab: "loads",
    place: "house",
    load: async () => (await import("../loads/MeasurePage")).MeasurePage,
  },
  {
    path: "room",
    label: "Room for more?",
    tab: "loads",
    place: "house",
    load: async () => (await import("../loads/RoomPage")).RoomPage,
  },
  {
    path: "energy",
    label: "Energy",
    tab: "loads",
    place: "house",
    load: async () => (await import("../loads/EnergyPage")).EnergyPage,
  },
  {
    path: "suspect/:breaker",
    label: "Is it the breaker?",
    tab: "work",
    place: "work",
    load: async () => (await import("../loads/SuspectPage")).SuspectPage,
  },
  {
    path: "findings",
    label: "Findings",
    tab: "findings",
    tabLabel: "Findings",
    place: "house",
    load: async () => (await import("../findings/FindingsPage")).FindingsPage,
  },
  {
    path: "inspection",
    label: "Inspection",
    tab: "findings",
    place: "house",
    load: async () => (await import("../findings/InspectionPage")).InspectionPage,
  },
  {
    path: "directory",
    label: "Directory",
    bare: true,
    tab: "directory",
    tabLabel: "Directory",
    place: "house",
    load: async () => (await import("../directory/DirectoryPage")).DirectoryPage,
  },
  {
    path: "work",
    label: "Work",
    tab: "work",
    tabLabel: "Work",
    place: "work",
    load: async () => (await import("../work/WorkPage")).WorkPage,
  },
  {
    path: "plan-work/:kind",
    label: "Plan work",
    tab: "work",
    place: "work",
    load: async () => (await import("../work/PlanWorkPage")).PlanWorkPage,
  },
  {
    path: "work-order",
    label: "In which order",
    tab: "work",
    place: "work",
    load: async () => (await import("../work/OrderPage")).OrderPage,
  },
  {
    path: "as-one/:jobs",
    label: "In one shutdown",
    tab: "work",
    place: "work",
    load: async () => (await import("../work/AsOnePage")).AsOnePage,
  },
  {
    path: "job/:job",
    label: "Job",
    tab: "work",
    place: "work",
    load: async () => (await import("../work/JobPage")).JobPage,
  },
  {
    path: "off",
    label: "Switch off for work",
    tab: "work",
    place: "work",
    load: async () => (await import("../answers/ShutdownPage")).ShutdownPage,
  },
  {
    path: "dead",
    label: "Something is dead",
    tab: "work",
    place: "work",
    load: async () => (await import("../answers/DeadPage")).DeadPage,
  },
  {
    path: "tripped",
    label: "It tripped",
    tab: "work",
    place: "work",
    load: async () => (await import("../answers/TrippedPage")).TrippedPage,
  },
  {
    path: "reset/:breaker",
    label: "Reset a breaker",
    tab: "work",
    place: "work",
    load: async () => (await import("../answers/ResetPage")).ResetPage,
  },
  {
    path: "log",
    label: "What happened",
    bare: true,
    tab: "log",
    tabLabel: "Log",
    beside: true,
    place: "house",
    load: async () => (await import("../log/LogPage")).LogPage,
  },
  {
    path: "history",
    label: "What was changed",
    bare: true,
    tab: "log",
    beside: true,
    place: "house",
    load: async () => (await import("../log/HistoryPage")).HistoryPage,
  },
];

/** The tabs at the desk, in the order of the work. */
export const tabs = pages.flatMap((p) => (p.tabLabel === undefined ? [] : [{ path: p.path, label: p.tabLabel }]));

/** Pages that stand beside a page, itself among them; none where it stands alone. */
export function besidePages(page: Page | undefined): readonly Page[] {
  return page?.beside === true ? pages.filter((p) => p.beside === true && p.tab === page.tab) : [];
}

/** Fetches all pages beforehand: out of reach none can be fetched. */
export function fetchPages() {
  for (const page of pages) {
    // A page that does not come now is asked for again when it is shown.
    page.load().catch(() => undefined);
  }
}

/** Where a house opens. */
export const FIRST = "today";

/** The page of an address: by the word after the house's number. */
export function pageAt(pathname: string): Page | undefined {
  const word = pathname.split("/")[3] ?? FIRST;
  return pages.find((p) => p.path.split("/")[0] === word);
}
