import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { beforeEach, expect, test } from "vitest";
import { type Change, Problem } from "../src/api/client";
import { Outbox, type Post, type Waiting } from "../src/api/outbox";

const retract = (evidence: number): Change => ({ type: "retract", evidence });
const answer = (n: number): Waiting => ({ house: 1, key: `key ${n}`, base: 7, author: "Wren", change: retract(n) });
const problem = (status: number) => new Problem(status, "no", "it was refused");

/** A server that can be out of reach, and what it has got. */
function server() {
  const got: string[] = [];
  const at = { reach: true, refuse: new Set<string>() };
  const post: Post = async ({ key }) => {
    await Promise.resolve();
    if (!at.reach) {
      throw problem(0);
    }
    if (at.refuse.has(key)) {
      throw problem(409);
    }
    got.push(key);
    return got.length;
  };
  return { at, got, post };
}

/** Lets everything run that is under way. */
async function settled(box: Outbox) {
  for (let i = 0; i < 20; i++) {
    await box.send();
    await new Promise((done) => setTimeout(done, 0));
  }
}

beforeEach(() => {
  globalThis.indexedDB = new IDBFactory();
});

test("answers are sent in the order in which they were given, each once", async () => {
  const { got, post } = server();
  const box = new Outbox(post);
  await Promise.all([box.put(answer(1)), box.put(answer(2)), box.put(answer(3))]);
  await settled(box);
  expect(got).toEqual(["key 1", "key 2", "key 3"]);
  expect(box.all().waiting).toEqual([]);
  expect(box.all().sent.map((s) => [s.key, s.revision])).toEqual([
    ["key 1", 1],
    ["key 2", 2],
    ["key 3", 3],
  ]);
});

test("out of reach they are kept, over a page opened anew as well, and sent when it is back", async () => {
  const { at, got, post } = server();
  at.reach = false;
  const before = new Outbox(post);
  await before.put(answer(1));
  await before.put(answer(2));
  await settled(before);
  expect(got).toEqual([]);
  const again = new Outbox(post);
  await settled(again);
  expect(again.all().waiting.map((w) => w.key)).toEqual(["key 1", "key 2"]);
  at.reach = true;
  await settled(again);
  expect(got).toEqual(["key 1", "key 2"]);
});

test("one that is refused is shown and holds nothing up", async () => {
  const { at, got, post } = server();
  at.refuse.add("key 1");
  const box = new Outbox(post);
  await box.put(answer(1));
  await box.put(answer(2));
  await settled(box);
  expect(got).toEqual(["key 2"]);
  const [refused] = box.all().waiting;
  expect(refused?.key).toBe("key 1");
  expect(refused?.refused).toBeDefined();
  await box.drop(refused?.nth ?? 0);
  expect(box.all().waiting).toEqual([]);
});

test("an answer is never in neither: not waiting any more and not sent yet", async () => {
  const { post } = server();
  const box = new Outbox(post);
  const seen: number[] = [];
  await box.put(answer(1));
  box.subscribe(() => seen.push(box.all().waiting.length + box.all().sent.length));
  await settled(box);
  expect(new Set(seen)).toEqual(new Set([1]));
});
