import type { FaceBreaker } from "../api/client";
import { textWidth } from "../parts/size";
import { deviceWord } from "../parts/words";

/** What stands on a breaker's body, and what is read out of it. */

export interface OnBody {
  lines: string[];
  /** They are but an old label. */
  old: boolean;
}

/** What it feeds in the fullest words that have room in so many lines. Type stays as large as it is: what is still too long is cut. */
export function onBody(breaker: FaceBreaker, size: number, room: number, lines: number): OnBody {
  const old = breaker.words.length === 0;
  const oldForms = breaker.label === "" ? [] : [`old label “${breaker.label}”`, `“${breaker.label}”`];
  const forms = old ? oldForms : breaker.words;
  for (const form of forms) {
    const broken = inLines(form, size, room);
    if (broken.length <= lines && broken.every((line) => textWidth(line, size) <= room)) {
      return { lines: broken, old };
    }
  }
  const broken = inLines(forms.at(-1) ?? "", size, room);
  const rest = broken.slice(lines - 1).join(" ");
  const all = [...broken.slice(0, lines - 1), rest].filter((line) => line !== "");
  return { lines: all.map((line) => cutTo(line, size, room)), old };
}

/** Words one after the other, as many on a line as have room. */
function inLines(text: string, size: number, room: number): string[] {
  const lines: string[] = [];
  for (const word of text.split(" ").filter((part) => part !== "")) {
    const longer = `${lines.at(-1) ?? ""} ${word}`.trimStart();
    if (lines.length > 0 && textWidth(longer, size) <= room) {
      lines[lines.length - 1] = longer;
    } else {
      lines.push(word);
    }
  }
  return lines;
}

/** What is cut still says that it is not proven. */
function cutTo(text: string, size: number, room: number): string {
  const end = text.includes("?") ? "…?" : "…";
  let cut = text;
  for (let kept = text.length - 1; kept > 0 && textWidth(cut, size) > room + 1; kept -= 1) {
    cut = text.slice(0, kept).trimEnd() + end;
  }
  return cut;
}

/** All that the drawing tells of a breaker, for who does not see it. */
export function describe(breaker: FaceBreaker, found: string | undefined): string {
  return [
    `Breaker ${breaker.at}`,
    `${breaker.amps} amperes`,
    deviceWord[breaker.device],
    `handle ${breaker.handle}`,
    breaker.held == null ? "" : `held: ${breaker.held}`,
    breaker.surely === "" ? "nothing proven" : `proven: ${breaker.surely}`,
    breaker.probably === "" ? "" : `likely: ${breaker.probably}`,
    breaker.words.length === 0 && breaker.label !== "" ? `old label: ${breaker.label}` : "",
    `leg ${breaker.legs.join(" and ")}`,
    breaker.cable === "" ? "" : `cable ${breaker.cable}`,
    found === undefined ? "" : `found here: ${found}`,
    breaker.marks.length > 0 ? `does not fit: ${breaker.marks.join("; ")}` : "",
  ]
    .filter((part) => part !== "")
    .join(", ");
}
