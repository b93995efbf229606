import { Alert } from "@mui/material";
import { useHouseView } from "../house";
import { type Stance, useStance } from "../stance";
import { timeOfDay } from "../words";

/** What to do meanwhile: an order that was read long ago may be another by now. */
const MEANWHILE: Record<Stance, string> = {
  rooms: "Go on with the tour; answers are kept here.",
  panel: "Leave the handles as they are: what is shown may be old.",
  desk: "What is shown may be old, and cannot be changed now.",
};

/** Says that this device itself is out of reach. */
export function OutOfReach() {
  const { presence } = useHouseView();
  const { stance } = useStance();
  if (!presence.cut) {
    return null;
  }
  return (
    <Alert severity={stance === "rooms" ? "info" : "warning"} role="status" className="no-print">
      Out of reach{presence.heard !== undefined && ` since ${timeOfDay(presence.heard)}`}. {MEANWHILE[stance]}
    </Alert>
  );
}
