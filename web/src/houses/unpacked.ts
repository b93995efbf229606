/** Larger than any file of a house: what is said to be more is not unpacked. */
const LARGEST = 4 << 20;

/** A file as it is, or what is in a zip. */
export async function unpacked(file: File): Promise<{ name: string; text: string }[]> {
  if (!file.name.toLowerCase().endsWith(".zip")) {
    return [{ name: file.name, text: await file.text() }];
  }
  const { strFromU8, unzipSync } = await import("fflate");
  let inside: ReturnType<typeof unzipSync>;
  try {
    inside = unzipSync(new Uint8Array(await file.arrayBuffer()), {
      filter: ({ name, originalSize }) => /\.(csv|json)$/i.test(name) && originalSize <= LARGEST,
    });
  } catch {
    throw new Error(`${file.name} is no zip that can be read. Nothing was made.`);
  }
  const files = Object.entries(inside).map(([name, bytes]) => ({ name, text: strFromU8(bytes) }));
  if (files.length === 0) {
    throw new Error(`${file.name} has no file of a survey in it (panels.csv …). Nothing was made.`);
  }
  return files;
}
