/** A key that makes a change count once, however often it is sent. */
export function newKey(): string {
  // `crypto.randomUUID` is not there on a phone that came by plain HTTP.
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  return Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
}
