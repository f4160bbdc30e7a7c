/** What can be read off a part as it wears: from new to the end of it. */
export interface WearMeasure {
  readonly what: string;
  /** A reading as a sentence; # stands for it. */
  readonly says: string;
  readonly unit: '%' | 'mm';
  readonly new: number;
  /** Where it has to go. */
  readonly limit: number;
  /** Standard uncertainty of one reading by the usual gauge. */
  readonly readingUncertainty: number;
}
export interface LifePart {
  readonly label: string;
  /** The bike had it before the kit came: how worn it was then nobody knows, until it is replaced. */
  readonly isOfBike?: true;
  readonly wear?: WearMeasure;
}

/** Parts that entries are about, in the order in which they are looked for. */
export const LIFE_PARTS = {
  spokes: { label: 'Spokes' },
  rim: { label: 'Rim' },
  tyre: {
    isOfBike: true,
    label: 'Tyre',
    wear: { what: 'tread left', says: '# of tread left', unit: 'mm', new: 3, limit: 0.8, readingUncertainty: 0.2 },
  },
  tube: { isOfBike: true, label: 'Tube' },
  chain: {
    isOfBike: true,
    label: 'Chain',
    wear: { what: 'longer by', says: 'longer by #', unit: '%', new: 0, limit: 0.75, readingUncertainty: 0.05 },
  },
  sprockets: { isOfBike: true, label: 'Sprockets and chainring' },
  'brake-pads': {
    isOfBike: true,
    label: 'Brake pads',
    wear: { what: 'lining left', says: '# of lining left', unit: 'mm', new: 4, limit: 1, readingUncertainty: 0.15 },
  },
  brake: { isOfBike: true, label: 'Brake' },
  'axle-nuts': { label: 'Axle nuts and torque arm' },
  motor: { label: 'Motor' },
  gears: { label: 'Gears in the motor' },
  controller: { label: 'Controller' },
  display: { label: 'Display' },
  'pedal-sensor': { label: 'Pedal sensor' },
  throttle: { label: 'Throttle' },
  'brake-sensor': { label: 'Brake cut-off' },
  wiring: { label: 'Wiring and connectors' },
  pack: {
    label: 'Battery pack',
    wear: {
      what: 'gave, of its label',
      says: 'gave # of its label',
      unit: '%',
      new: 100,
      limit: 70,
      readingUncertainty: 2,
    },
  },
  charger: { label: 'Charger' },
  bearings: { isOfBike: true, label: 'Bearings' },
  frame: { isOfBike: true, label: 'Frame and fork' },
  other: { label: 'Something else' },
} as const satisfies Record<string, LifePart>;
export type LifePartKey = keyof typeof LIFE_PARTS;
export const LIFE_PART_KEYS = Object.keys(LIFE_PARTS) as LifePartKey[];

/** New with the kit; else the bike had it before. */
export function isOfKit(part: LifePartKey): boolean {
  return (LIFE_PARTS[part] as LifePart).isOfBike !== true;
}

export function wearOf(part: LifePartKey): WearMeasure | undefined {
  return (LIFE_PARTS[part] as LifePart).wear;
}

/** What a fault did to the ride, the worst first. */
export const FAULT_EFFECTS = {
  danger: 'Danger',
  stopped: 'Stopped the ride',
  limped: 'Limped home',
  nuisance: 'Nuisance',
} as const;
export type FaultEffect = keyof typeof FAULT_EFFECTS;
