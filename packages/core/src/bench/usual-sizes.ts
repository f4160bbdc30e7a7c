/** Sizes in which things are sold, for those who read a number off the part instead of measuring it. */

/** American wire gauge to copper cross-section in mm²: diameter 0.127 mm · 92^((36 − n)/39), by the gauge's definition. */
export function gaugeMm2(gauge: number): number {
  const diameterMm = 0.127 * 92 ** ((36 - gauge) / 39);
  return (Math.PI * diameterMm ** 2) / 4;
}
/** Gauges in which battery wires come. */
export const WIRE_GAUGES = [8, 10, 12, 13, 14, 16, 18] as const;

export interface Blocks {
  readonly seriesCells: number;
  readonly nominalVoltageV: number;
  readonly capacityAh: number | null;
  readonly massKg: number | null;
}
/** Lead-acid blocks wired one behind the other: volts and mass add up, the capacity is that of one. Cells of 2 V. */
export function blocksInSeries(
  count: number,
  block: { readonly voltageV: number; readonly capacityAh: number | null; readonly massKg: number | null },
): Blocks {
  return {
    seriesCells: Math.round(block.voltageV / 2) * count,
    nominalVoltageV: block.voltageV * count,
    capacityAh: block.capacityAh,
    massKg: block.massKg === null ? null : block.massKg * count,
  };
}
