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

/** A phone starts in the rooms, everything larger at the desk. */
export function usualStance(): Stance {
  return matchMedia("(max-width: 700px)").matches ? "rooms" : "desk";
}
