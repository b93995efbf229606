/** What the drawn panel is looked at for. */
export const lenses = ["feeds", "load", "leg", "findings", "held"] as const;
export type Lens = (typeof lenses)[number];

export const lensWord: Record<Lens, string> = {
  feeds: "Feeds",
  load: "Load",
  leg: "Legs",
  findings: "Findings",
  held: "Held",
};
