/** Powers of ten that a double holds exactly. */
const POWERS = Array.from({ length: 16 }, (_, k) => 10 ** k);

/**
 * A number to so many significant digits (1 to 9), for what is drawn or sent: as reading its `toPrecision` would give, at a tenth of the
 * time. Halves are rounded away from nought by the double nearest to them; what is no finite number stays as it is.
 */
export function toDigits(value: number, digits: number): number {
  const size = Math.abs(value);
  if (size === 0) return 0;
  if (!Number.isFinite(value)) return value;
  const places = digits - 1 - Math.floor(Math.log10(size));
  // Beyond the exact powers, and so near to one that its logarithm may be rounded over it, the text decides.
  if (places < 0 || places >= POWERS.length) return Number(value.toPrecision(digits));
  const power = POWERS[places]!;
  const whole = size * power;
  const rounded = Math.round(whole);
  // A product that lies on a half may have been rounded onto it.
  if (rounded >= POWERS[digits]! || Math.abs(rounded - whole) > 0.4999) return Number(value.toPrecision(digits));
  return Math.sign(value) * (rounded / power);
}
