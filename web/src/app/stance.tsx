import { createContext, useContext } from "react";

/** Where the user stands: at the panel, in the rooms, or at the desk. */
export type Stance = "panel" | "rooms" | "desk";

export interface Standing {
  stance: Stance;
  setStance: (stance: Stance) => void;
  dark: boolean;
  setDark: (dark: boolean) => void;
}

export const StanceContext = createContext<Standing | undefined>(undefined);

export function useStance(): Standing {
  const standing = useContext(StanceContext);
  if (standing === undefined) {
    throw new Error("useStance needs a StanceContext around it");
  }
  return standing;
}

const KEY = "wayfinder.stance";

/** A screen that is held in the hand. */
export const PHONE = "(max-width: 700px), (max-height: 480px) and (pointer: coarse)";

/** Where this page stood before it was loaded anew; at first a phone in the rooms, everything larger at the desk, where no phone
 * ever stands. */
export function firstStance(): Stance {
  const kept = sessionStorage.getItem(KEY);
  const phone = matchMedia(PHONE).matches;
  if (kept === "panel" || kept === "rooms" || (kept === "desk" && !phone)) {
    return kept;
  }
  return phone ? "rooms" : "desk";
}

/** Keeps it for as long as the page is open: tomorrow the device decides again. */
export function keepStance(stance: Stance) {
  sessionStorage.setItem(KEY, stance);
}
