import { expect, test } from "vitest";
import { secondTries } from "../src/api/again";
import { newId } from "../src/api/edits";

const note = (entry: number) => ({ type: "add-note", entry, time: new Date().toISOString() });
const remove = (point: number) => ({ type: "remove-point", point });

test("a second try after a lost answer is the same request, and counts once", () => {
  const tries = secondTries<unknown>("test");
  const first = tries.sending(note(newId()));
  tries.lost(first.body, first.key);
  const again = tries.sending(note(newId()));
  expect(again.body).toBe(first.body);
  expect(again.key).toBe(first.key);
  tries.answered(again.body);
  expect(tries.sending(note(newId())).key).not.toBe(first.key);
});

test("the same done to another thing is another request", () => {
  const tries = secondTries<unknown>("test");
  const [one, other] = [newId(), newId()];
  for (const made of [note(one), note(other)]) {
    tries.answered(tries.sending(made).body);
  }
  const lost = tries.sending(remove(one));
  tries.lost(lost.body, lost.key);
  // Also of what stood there before this page was opened.
  for (const point of [other, Date.now() * 4096]) {
    const sent = tries.sending(remove(point));
    expect(sent.body).toEqual(remove(point));
    expect(sent.key).not.toBe(lost.key);
  }
  expect(tries.sending(remove(one)).key).toBe(lost.key);
});

test("after a while the same wish is a new one", () => {
  let now = 0;
  const tries = secondTries<unknown>("test", () => now);
  const lost = tries.sending(remove(5));
  tries.lost(lost.body, lost.key);
  now = 11 * 60_000;
  expect(tries.sending(remove(5)).key).not.toBe(lost.key);
});

test("a page that is loaded anew knows what was lost, and what was answered since", () => {
  const kept = new Map<string, string>();
  const storage = {
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, value: string) => void kept.set(name, value),
  };
  const loaded = () => secondTries<unknown>("test", Date.now, storage);
  const before = loaded();
  const lost = before.sending(note(newId()));
  before.lost(lost.body, lost.key);
  const after = loaded();
  const again = after.sending(note(newId()));
  expect([again.body, again.key]).toEqual([lost.body, lost.key]);
  after.answered(again.body);
  expect(after.sending(note(newId())).key).not.toBe(lost.key);
  expect(loaded().sending(note(newId())).key).not.toBe(lost.key);
});
