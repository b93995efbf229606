import { createContext, useContext, useEffect, useRef } from "react";
import type { House } from "../api/client";
import { useBeliefs, useFace, useStandIns } from "../api/reads";

/** What is chosen on screen: a breaker filters the page, a space is where one types, a point shows its evidence. */
export interface Chosen {
  breaker?: number;
  space?: number;
  point?: number;
  /** The breaker whose sheet is open. */
  sheet?: number;
}

/** A page asks for something that is tapped on the panel. */
export interface Asking {
  /** What is to be tapped: `Tap the breaker to replace`. */
  what: string;
  /** It may be left: nothing waits for it. */
  optional?: boolean;
  /** Breakers that are answers already. */
  chosen: ReadonlySet<number>;
  onBreaker: (breaker: number) => void;
  onSpace?: (space: number) => void;
}

export interface HouseView {
  id: number;
  house: House;
  /** The panel whose face is shown. */
  panel: number | undefined;
  setPanel: (panel: number) => void;
  chosen: Chosen;
  choose: (chosen: Chosen) => void;
  /** What a page asks for; taps on the panel answer it. */
  asking: Asking | undefined;
  ask: (asking: Asking | undefined) => void;
}

export const HouseContext = createContext<HouseView | undefined>(undefined);

export function useHouseView(): HouseView {
  const view = useContext(HouseContext);
  if (view === undefined) {
    throw new Error("useHouseView needs a HouseContext around it");
  }
  return view;
}

/** The demo's tools and instruments answer by themselves, from the truth behind the house. */
export function useHasStandIns(): boolean {
  return useStandIns(useHouseView().id).data?.there ?? false;
}

/** As long as something is asked for, taps on the panel answer it. `key` changes with what is asked and what is answered. */
export function useAsking(key: string | undefined, asking: Asking | undefined) {
  const { ask } = useHouseView();
  const latest = useRef(asking);
  useEffect(() => {
    latest.current = asking;
  });
  useEffect(() => {
    const now = latest.current;
    if (key === undefined || now === undefined) {
      return;
    }
    ask({
      what: now.what,
      optional: now.optional ?? false,
      chosen: now.chosen,
      onBreaker: (breaker) => latest.current?.onBreaker(breaker),
      ...(now.onSpace === undefined ? {} : { onSpace: (space: number) => latest.current?.onSpace?.(space) }),
    });
    return () => ask(undefined);
  }, [key, ask]);
}

/** The breaker that a page is about is the one chosen on the panel, and its panel the one shown, until the page is left. */
export function useAbout(breaker: number) {
  const { house, setPanel, choose } = useHouseView();
  const panel = house.breakers.find((b) => b.id === breaker)?.panel;
  useEffect(() => {
    if (panel === undefined) {
      return;
    }
    setPanel(panel);
    choose({ breaker });
    return () => choose({});
  }, [breaker, panel, setPanel, choose]);
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
