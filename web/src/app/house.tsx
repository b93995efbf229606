import { createContext, useContext } from "react";
import type { House } from "../api/client";
import { useBeliefs, useFace } from "../api/reads";

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
  /** The panel whose face is shown. */
  panel: number | undefined;
  setPanel: (panel: number) => void;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
}

/** The demo's tools and instruments answer by themselves, from the truth behind the house. */
export function hasStandIns(house: House): boolean {
  return house.about.name === "Thistledown School";
}

export const HouseContext = createContext<HouseView | undefined>(undefined);

export function useHouseView(): HouseView {
  const view = useContext(HouseContext);
  if (view === undefined) {
    throw new Error("useHouseView needs a HouseContext around it");
  }
  return view;
}

/** What feeds every point. It is read as long as somebody shows it. */
export function useMap() {
  return useBeliefs(useHouseView().id).data;
}

/** The face of the panel that is shown. */
export function useShownFace() {
  const { id, panel } = useHouseView();
  return useFace(id, panel).data;
}
