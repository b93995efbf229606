import { expect, test } from "vitest";

/** The files of the page, by path, with their text. */
const texts = import.meta.glob<string>("../src/**/*.{ts,tsx}", { query: "?raw", import: "default", eager: true });

/** What a file imports from beside it, at once or when it is needed. */
function imported(file: string, text: string): string[] {
  const paths = [...text.matchAll(/(?:from\s+|import\()"(\.[^"]*)"/g)].map((found) => found[1] ?? "");
  return paths.flatMap((path) => {
    const to = new URL(path, `file:///web/tests/${file}`).pathname.replace("/web/", "../");
    return [".ts", ".tsx"].map((end) => to + end).filter((candidate) => candidate in texts);
  });
}

// Arrows run one way among the files of the page, too.
test("no files import one another in a circle", () => {
  const uses = new Map(Object.entries(texts).map(([file, text]) => [file, imported(file, text)]));
  const reaches = (from: string) => {
    const seen = new Set<string>();
    const next = [...(uses.get(from) ?? [])];
    for (let at = next.pop(); at !== undefined; at = next.pop()) {
      if (!seen.has(at)) {
        seen.add(at);
        next.push(...(uses.get(at) ?? []));
      }
    }
    return seen;
  };
  expect([...uses.values()].flat().length).toBeGreaterThan(300);
  expect([...uses.keys()].filter((file) => reaches(file).has(file))).toEqual([]);
});
