const KEY = "wayfinder.who";

/** Who makes changes on this device. */
export function author(): string {
  return localStorage.getItem(KEY) ?? (matchMedia("(pointer: coarse)").matches ? "Phone" : "Desk");
}

export function setAuthor(name: string) {
  const trimmed = name.trim();
  if (trimmed === "") {
    localStorage.removeItem(KEY);
  } else {
    localStorage.setItem(KEY, trimmed);
  }
}
