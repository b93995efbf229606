/** The jobs, by what people want. */
export interface Kind {
  kind: string;
  group: string;
  title: string;
  under: string;
}

export const kinds: readonly Kind[] = [
  {
    kind: "replace",
    group: "A breaker is bad",
    title: "Replace a breaker",
    under: "after its two sides were measured; old and new side by side",
  },
  {
    kind: "rearrange",
    group: "I need a space",
    title: "Make room by moving breakers",
    under: "the fewest that have to move, proven",
  },
  { kind: "tandem", group: "I need a space", title: "A tandem for two singles", under: "where the panel lists it" },
  { kind: "combine", group: "I need a space", title: "Two light circuits on one breaker", under: "which ones may" },
  { kind: "retire", group: "I need a space", title: "Retire a circuit", under: "that nobody uses any more" },
  {
    kind: "add",
    group: "Something new to connect",
    title: "A new circuit",
    under: "load, leg, place, wire, protection, parts",
  },
  {
    kind: "dedicated",
    group: "Something new to connect",
    title: "An outlet for one large thing",
    under: "oven, welder, range, car charger, dryer",
  },
  {
    kind: "generator",
    group: "Something new to connect",
    title: "A generator’s inlet",
    under: "on an interlocked breaker",
  },
  {
    kind: "convert",
    group: "120 V to 240 V",
    title: "Convert a circuit",
    under: "or back; it must feed one outlet only",
  },
  {
    kind: "protect",
    group: "Protect people",
    title: "Ground-fault or arc-fault breaker",
    under: "in place of a plain one, or of devices at outlets",
  },
  { kind: "balance", group: "Tidy up the panel", title: "Even legs", under: "by moving the fewest breakers" },
  { kind: "makeup", group: "Tidy up the panel", title: "A new panel", under: "where every breaker goes in it" },
];

export function kindOf(kind: string | undefined): Kind | undefined {
  return kinds.find((k) => k.kind === kind);
}
