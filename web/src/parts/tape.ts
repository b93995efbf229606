/** A tape measure shows sixteenths of an inch. */
const FINEST = 16;

/** Inches as a tape shows them, `4 1/4`: what it does not show stays a decimal number. */
export function writeTape(inches: number): string {
  const sixteenths = inches * FINEST;
  if (Math.abs(sixteenths - Math.round(sixteenths)) > 1e-6) {
    return String(inches);
  }
  const whole = Math.floor(inches);
  let [over, under] = [Math.round(sixteenths) % FINEST, FINEST];
  while (over > 0 && over % 2 === 0) {
    [over, under] = [over / 2, under / 2];
  }
  return over === 0 ? String(whole) : whole === 0 ? `${over}/${under}` : `${whole} ${over}/${under}`;
}
