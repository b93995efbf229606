import type { Panel } from "../api/client";
import { useGlance } from "../api/reads";
import { useHouseView } from "../app/house";

/** Whether the card on a panel's door still says what is so, told alike wherever it matters. */
export function useCardState(panel: Panel): { stale: boolean; said: string } {
  const { id } = useHouseView();
  const stale = useGlance(id).data?.stale_cards.includes(panel.name) ?? false;
  const said =
    panel.printed == null
      ? "No card is noted as printed yet."
      : stale
        ? "The card on the door is out of date: print it anew."
        : "The card on the door says what the map says.";
  return { stale, said };
}
