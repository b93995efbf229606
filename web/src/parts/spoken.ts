const ones = "zero one two three four five six seven eight nine".split(" ");
const teens = "ten eleven twelve thirteen fourteen fifteen sixteen seventeen eighteen nineteen".split(" ");
const tens = "twenty thirty forty fifty sixty seventy eighty ninety".split(" ");
/** What people say around a number that is not part of it. */
const around = /^(a|amps?|amperes?|w|watts?|v|volts?|and)$/;

function wordValue(word: string): number | undefined {
  const [one, teen, ten] = [ones.indexOf(word), teens.indexOf(word), tens.indexOf(word)];
  return one >= 0 ? one : teen >= 0 ? 10 + teen : ten >= 0 ? 20 + 10 * ten : undefined;
}

/** What was typed or dictated as a number: `12.4`, `12,4 A`, `twelve point four amps`; nothing where it is none. */
export function asNumber(text: string): number | null {
  const words = text
    .toLowerCase()
    .replace(/(\d),(\d)/g, "$1.$2")
    .replace(/(\d)([a-z])/g, "$1 $2")
    .split(/[\s-]+(?!\d)|\s+/)
    .filter((word) => word !== "" && !around.test(word));
  if (words.length === 0) {
    return null;
  }
  let whole = 0;
  // What may still follow is smaller than this: "twenty" leaves room for "five", "five" for nothing.
  let room = Number.POSITIVE_INFINITY;
  let decimals: string | undefined;
  for (const word of words) {
    const said = wordValue(word);
    const value = said ?? (/^-?[\d.]+$/.test(word) ? Number(word) : undefined);
    if (word === "point" && decimals === undefined) {
      decimals = "";
    } else if (word === "hundred" && decimals === undefined) {
      whole = 100 * Math.max(whole, 1);
      room = 100;
    } else if (value === undefined || Number.isNaN(value)) {
      return null;
    } else if (decimals !== undefined) {
      decimals += String(value);
    } else if (value >= room) {
      return null;
    } else {
      whole += value;
      room = said !== undefined && said >= 20 ? 10 : 0;
    }
  }
  return decimals === undefined ? whole : Number(`${whole}.${decimals}`);
}
