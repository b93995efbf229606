import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import useMediaQuery from "@mui/material/useMediaQuery";
import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { createBrowserRouter } from "react-router";
import { RouterProvider } from "react-router/dom";
import { Problem } from "../api/client";
import { routes } from "./routes";
import { firstStance, keepStance, type Stance, StanceContext } from "./stance";
import { useStored } from "./stored";
import { makeTheme } from "./theme";

const router = createBrowserRouter(routes);

/** A device that is not let in any more gives the code again, whatever it asked for. */
function onError(error: Error) {
  if (error instanceof Problem && error.status === 401) {
    void router.navigate("/join", { replace: true });
  }
}

const queries = new QueryClient({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
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
navigator.serviceWorker?.addEventListener(
  "controllerchange",
  () => void queries.invalidateQueries({ refetchType: "all" }),
);

const asDark = (value: unknown) => (typeof value === "boolean" ? value : undefined);

export function App() {
  const [stance, standAt] = useState<Stance>(firstStance);
  const setStance = (next: Stance) => {
    keepStance(next);
    standAt(next);
  };
  const systemDark = useMediaQuery("(prefers-color-scheme: dark)");
  const [deskDark, setDeskDark] = useStored("wayfinder.dark", systemDark, asDark);
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
