import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { createBrowserRouter, Navigate } from "react-router";
import { RouterProvider } from "react-router/dom";
import { DeadPage } from "./answers/DeadPage";
import { ResetPage } from "./answers/ResetPage";
import { ShutdownPage } from "./answers/ShutdownPage";
import { Problem } from "./api/client";
import { DirectoryPage } from "./pages/DirectoryPage";
import { HistoryPage } from "./pages/HistoryPage";
import { HousePage } from "./pages/HousePage";
import { HousesPage } from "./pages/HousesPage";
import { JoinPage } from "./pages/JoinPage";
import { LogPage } from "./pages/LogPage";
import { PlanPage } from "./pages/PlanPage";
import { SurveyPage } from "./pages/SurveyPage";
import { TracePage } from "./pages/TracePage";
import { firstStance, keepStance, type Stance, StanceContext } from "./stance";
import { useStored } from "./stored";
import { makeTheme } from "./theme";

const queries = new QueryClient({
  defaultOptions: {
    queries: {
      retry: (count, error) => !(error instanceof Problem && error.status > 0) && count < 3,
      // Out of reach, the service worker still has what was read last.
      networkMode: "offlineFirst",
    },
    // Told at once that it did not go out, rather than sent whenever the connection is back: handles may have moved since.
    mutations: { networkMode: "always" },
  },
});

// What was read before the service worker took over is read once more, so that it keeps it.
navigator.serviceWorker?.addEventListener("controllerchange", () => void queries.invalidateQueries());

const router = createBrowserRouter([
  { path: "/", element: <HousesPage /> },
  { path: "/join", element: <JoinPage /> },
  {
    path: "/houses/:house",
    element: <HousePage />,
    children: [
      { index: true, element: <Navigate to="trace" replace /> },
      { path: "survey", element: <SurveyPage /> },
      { path: "plan", element: <PlanPage /> },
      { path: "trace", element: <TracePage /> },
      { path: "directory", element: <DirectoryPage /> },
      { path: "off", element: <ShutdownPage /> },
      { path: "dead", element: <DeadPage /> },
      { path: "reset/:breaker", element: <ResetPage /> },
      { path: "log", element: <LogPage /> },
      { path: "history", element: <HistoryPage /> },
    ],
  },
  { path: "*", element: <Navigate to="/" replace /> },
]);

const asDark = (value: unknown) => (typeof value === "boolean" ? value : undefined);

export function App() {
  const [stance, standAt] = useState<Stance>(firstStance);
  const setStance = (next: Stance) => {
    keepStance(next);
    standAt(next);
  };
  const [deskDark, setDeskDark] = useStored("wayfinder.dark", false, asDark);
  const [panelDark, setPanelDark] = useStored("wayfinder.dark.panel", true, asDark);
  // A basement is dark: the panel stance starts dark whatever the desk likes.
  const [dark, setDark] = stance === "panel" ? [panelDark, setPanelDark] : [deskDark, setDeskDark];
  const theme = useMemo(() => makeTheme(dark ? "dark" : "light", stance !== "desk"), [dark, stance]);
  return (
    <QueryClientProvider client={queries}>
      <StanceContext value={{ stance, setStance, dark, setDark }}>
        <ThemeProvider theme={theme}>
          <CssBaseline />
          <RouterProvider router={router} />
        </ThemeProvider>
      </StanceContext>
    </QueryClientProvider>
  );
}
