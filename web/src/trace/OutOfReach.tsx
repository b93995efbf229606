import { Alert } from "@mui/material";
import { useLocation } from "react-router";
import { useOutbox } from "../api/outbox";
import { useHouseView } from "../app/house";
import { pageAt } from "../app/pages";
import { type Stance, useStance } from "../app/stance";
import { timeOfDay } from "../parts/words";
import { isMeasuring, useCrew } from "./crew";
import { keptHere } from "./Kept";
import { usePresence } from "./presence";

/** What to do meanwhile. With two people an order read long ago may be another by now. */
function meanwhile(stance: Stance, people: number, measuring: boolean): string {
  if (measuring && stance !== "desk") {
    return "Go on with the round.";
  }
  if (stance === "rooms") {
    return "Go on with the tour.";
  }
  if (stance === "desk") {
    return "What is shown is what was known then, and cannot be changed now.";
  }
  return people === 2
    ? "Leave the handles as they are: what is shown may be old."
    : "The order is the last one read; say that handles are moved when back in reach.";
}

/** Says that this device itself is out of reach. */
export function OutOfReach() {
  const { id, house } = useHouseView();
  const presence = usePresence();
  const { stance } = useStance();
  const [crew] = useCrew(id, house);
  const page = pageAt(useLocation().pathname)?.path;
  // Elsewhere than where one traces or measures nothing goes on without a connection.
  const at = page === "trace" || page === "measure" ? stance : "desk";
  const kept = useOutbox(id).waiting.filter((w) => w.refused === undefined).length;
  if (!presence.cut) {
    return null;
  }
  return (
    <Alert severity={at === "rooms" ? "info" : "warning"} role="status" className="no-print">
      Out of reach{presence.heard !== undefined && ` since ${timeOfDay(presence.heard)}`}.{" "}
      {meanwhile(at, crew.people, isMeasuring(house))} {kept > 0 && `${keptHere(kept)}; nothing is lost.`}
    </Alert>
  );
}
