import type { ComponentType } from "react";
import { Navigate, type RouteObject } from "react-router";
import { BrokenPage } from "./BrokenPage";
import { HiddenTitle } from "./HiddenTitle";
import { NoSuchPage } from "./NoSuchPage";
import { FIRST, type Page, pages } from "./pages";

/** A page with its heading. */
async function titled({ load, bare, label }: Page): Promise<ComponentType> {
  const Shown = await load();
  if (bare !== true) {
    return Shown;
  }
  return () => (
    <>
      <HiddenTitle label={label} />
      <Shown />
    </>
  );
}

export const routes: RouteObject[] = [
  {
    errorElement: <BrokenPage />,
    // Nothing is shown for the moment that the first page takes to come.
    hydrateFallbackElement: <div />,
    children: [
      { path: "/", lazy: async () => ({ Component: (await import("../houses/HousesPage")).HousesPage }) },
      { path: "/join", lazy: async () => ({ Component: (await import("../houses/JoinPage")).JoinPage }) },
      { path: "/phone", lazy: async () => ({ Component: (await import("../houses/PhonePage")).PhonePage }) },
      {
        path: "/houses/:house",
        lazy: async () => ({ Component: (await import("./HousePage")).HousePage }),
        children: [
          { index: true, element: <Navigate to={FIRST} replace /> },
          {
            // The frame stays, and with it the way to the tour. Not on the page itself: what could not be fetched has nothing
            // to show a fault in.
            errorElement: <BrokenPage inside />,
            children: [
              ...pages.map((page) => ({ path: page.path, lazy: async () => ({ Component: await titled(page) }) })),
              { path: "*", element: <NoSuchPage /> },
            ],
          },
        ],
      },
      { path: "*", element: <NoSuchPage /> },
    ],
  },
];
