import { strToU8, zipSync } from "fflate";
import { expect, test } from "vitest";
import { unpacked } from "../src/houses/unpacked";

/** What is zipped lies in memory of its own, which its type does not say. */
function packed(files: Record<string, string>) {
  const bytes = Object.entries(files).map(([name, text]) => [name, strToU8(text)] as const);
  return zipSync(Object.fromEntries(bytes)) as Uint8Array<ArrayBuffer>;
}

const zip = (files: Record<string, string>) => new File([packed(files)], "s.ZIP");

test("a folder comes as a zip, without what is no file of a survey", async () => {
  const files = await unpacked(zip({ "quill/panels.csv": "panel\nMain\n", "quill/photo.jpg": "x" }));
  expect(files).toEqual([{ name: "quill/panels.csv", text: "panel\nMain\n" }]);
});

test("a file that is no zip stays as it is", async () => {
  expect(await unpacked(new File(["tag"], "points.csv"))).toEqual([{ name: "points.csv", text: "tag" }]);
});

test("what cannot be read, and what has nothing of a survey in it, is told by name", async () => {
  await expect(unpacked(new File(["no zip"], "house.zip"))).rejects.toThrow("house.zip is no zip that can be read");
  await expect(unpacked(zip({ "photo.jpg": "x" }))).rejects.toThrow("has no file of a survey in it");
});

test("a file that says to be larger than any of a house is left packed", async () => {
  await expect(unpacked(zip({ "points.csv": "0".repeat((4 << 20) + 1) }))).rejects.toThrow("has no file of a survey");
});
