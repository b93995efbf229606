import { createContext, useContext } from "react";
import type { Beliefs, Face, House } from "./api/client";
import type { Presence } from "./trace/presence";

/** What is chosen on screen: a breaker filters the page, a space is where one types, a point shows its evidence. */
export interface Chosen {
  breaker?: number;
  space?: number;
  point?: number;
  /** The breaker whose sheet is open. */
  sheet?: number;
}

export interface HouseView {
  id: number;
  house: House;
  beliefs: Beliefs | undefined;
  /** The panel whose face is shown. */
  panel: number | undefined;
  setPanel: (panel: number) => void;
  face: Face | undefined;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  presence: Presence;
}

export const HouseContext = createContext<HouseView | undefined>(undefined);

export function useHouseView(): HouseView {
  const view = useContext(HouseContext);
  if (view === undefined) {
    throw new Error("useHouseView needs a HouseContext around it");
  }
  return view;
}
