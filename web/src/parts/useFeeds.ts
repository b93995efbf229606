import { useFaces } from "../api/reads";
import { useHouseView } from "../app/house";

/** What each breaker feeds, in the words of the card: ": Kitchen counter receptacles?"; nothing where nothing is known. */
export function useFeeds(): (breaker: number) => string {
  const { id, house } = useHouseView();
  const faces = useFaces(
    id,
    house.panels.map((p) => p.id),
  );
  const words = new Map(
    faces.flatMap(
      (face) =>
        face?.breakers.map(
          (b) => [b.breaker, b.words[0] ?? (b.label === "" ? "" : `old label “${b.label}”`)] as const,
        ) ?? [],
    ),
  );
  return (breaker) => {
    const said = words.get(breaker) ?? "";
    return said === "" ? "" : `: ${said}`;
  };
}
