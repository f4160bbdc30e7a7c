import { CoreError } from './core-error.js';

type Named = Readonly<Record<string, number>>;

export function requirePositive(named: Named): void {
  for (const [name, value] of Object.entries(named))
    // `!(value > 0)`, not `value <= 0`: NaN is refused too.
    if (!(value > 0)) throw new CoreError('not-positive', `${name} must be > 0, got ${value}`);
}

export function requireFinite(named: Named): void {
  for (const [name, value] of Object.entries(named))
    if (!Number.isFinite(value)) throw new CoreError('not-finite', `${name} must be finite, got ${value}`);
}

export function requireInOpenInterval(named: Named, lower: number, upper: number): void {
  for (const [name, value] of Object.entries(named))
    if (!(value > lower && value < upper))
      throw new CoreError('out-of-range', `${name} must lie between ${lower} and ${upper}, got ${value}`);
}

export function requireSameLength(named: Readonly<Record<string, ArrayLike<unknown>>>): void {
  const entries = Object.entries(named);
  const first = entries[0];
  if (!first) return;
  for (const [name, values] of entries)
    if (values.length !== first[1].length)
      throw new CoreError('length-mismatch', `${name} has ${values.length} values, ${first[0]} has ${first[1].length}`);
}

export function requireAtLeast(count: number, minimum: number, what: string): void {
  if (count < minimum) throw new CoreError('too-short', `${what}: at least ${minimum} needed, got ${count}`);
}
