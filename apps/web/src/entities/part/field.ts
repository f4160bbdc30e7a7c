import { gaugeMm2, WIRE_GAUGES } from '@ebrix/core/bench';
import { EFFORTS } from '@ebrix/core/ride-model';
import type { UnitName } from '@ebrix/core/units';

export interface Choice {
  readonly value: string;
  readonly label: string;
}
export interface PartField {
  /** Path within the part: `frame.seatTubeMm`. */
  readonly name: string;
  readonly label: string;
  readonly kind:
    | 'number'
    | 'whole'
    | 'text'
    | 'choice'
    | 'choices'
    | 'flag'
    | 'numbers'
    | 'box'
    | 'price'
    | 'notes'
    | 'blocks';
  readonly unit?: UnitName;
  readonly choices?: readonly Choice[];
  readonly help?: string;
  /** Sizes in which the thing is sold, to choose instead of measuring; the field stays to be changed. */
  readonly sizes?: readonly { readonly label: string; readonly value: number }[];
  /** Shown as a column of the list. */
  readonly isColumn?: boolean;
  /** Shown only for parts of which this is true. */
  readonly when?: (part: Readonly<Record<string, unknown>>) => boolean;
}
export interface FieldGroup {
  readonly title: string;
  /** Why these are asked for. */
  readonly use?: string;
  readonly fields: readonly PartField[];
}
export interface PartForm {
  readonly one: string;
  readonly many: string;
  readonly teach: string;
  readonly groups: readonly FieldGroup[];
}

export const NAME = (example: string): PartField => ({
  name: 'name',
  label: 'Name',
  kind: 'text',
  help: `For example ${example}`,
});
export const number = (name: string, label: string, unit?: UnitName, more: Partial<PartField> = {}): PartField => ({
  name,
  label,
  kind: 'number',
  ...(unit && { unit }),
  ...more,
});
export const choice = (
  name: string,
  label: string,
  choices: readonly Choice[],
  more: Partial<PartField> = {},
): PartField => ({
  name,
  label,
  kind: 'choice',
  choices,
  ...more,
});
export const flag = (name: string, label: string, more: Partial<PartField> = {}): PartField => ({
  name,
  label,
  kind: 'flag',
  ...more,
});
export const asLabel = (...words: string[]): Choice[] =>
  words.map((value) => ({ value, label: value[0]!.toUpperCase() + value.slice(1).replaceAll('-', ' ') }));

export const MASS = number('massKg', 'Mass', 'kg', { isColumn: true });
export const PRICE: PartField = { name: 'price', label: 'Price', kind: 'price', isColumn: true };
export const NOTES: PartField = { name: 'notes', label: 'Notes', kind: 'notes' };
export const CLAIMS: FieldGroup = {
  title: 'What the seller claims',
  use: 'Compared with what is measured; never used as a measurement.',
  fields: [
    number('claims.rangeKm', 'Claimed range', 'km'),
    number('claims.speedKmh', 'Claimed speed', 'km/h'),
    number('claims.chargeTimeH', 'Claimed charge time', 'h'),
    number('claims.massKg', 'Claimed mass', 'kg'),
    number('claims.powerW', 'Claimed power', 'W'),
    number('claims.payloadKg', 'Claimed payload', 'kg'),
    number('claims.rangeToKm', 'Claimed range, upper end', 'km', { help: 'For a claim such as "40 to 80 km".' }),
    number('claims.cycles', 'Claimed full cycles', 'level'),
    number('claims.warrantyMonths', 'Warranty, months', 'level'),
    number('claims.energyWh', 'Pack energy for that range', 'Wh'),
    choice(
      'claims.way',
      'Claimed for',
      (Object.keys(EFFORTS) as (keyof typeof EFFORTS)[]).map((value) => ({ value, label: EFFORTS[value].label })),
    ),
    number('claims.atSpeedKmh', 'Claimed at a speed of', 'km/h'),
    number('claims.riderMassKg', 'Claimed with a rider of', 'kg'),
    { name: 'claims.source', label: 'Where and when read', kind: 'text' },
  ],
};

export const MOTOR_KINDS: readonly Choice[] = [
  { value: 'front-hub', label: 'Front hub' },
  { value: 'rear-hub-geared', label: 'Rear hub, geared' },
  { value: 'rear-hub-direct', label: 'Rear hub, direct drive' },
  { value: 'mid', label: 'Mid motor' },
];
export const CHEMISTRY_NAMES: readonly Choice[] = [
  { value: 'li-ion-nmc', label: 'Lithium-ion (NMC/NCA)' },
  { value: 'li-ion-lfp', label: 'Lithium iron phosphate' },
  { value: 'lead-acid', label: 'Lead-acid' },
];
export const PLACES = asLabel('front-wheel', 'handlebar', 'frame', 'rear-wheel', 'front-rack', 'rear-rack', 'trailer');
export const MATERIALS = asLabel('steel', 'aluminium', 'carbon', 'titanium');
export const BRAKES = asLabel('disc', 'rim', 'drum', 'coaster', 'none');
export const SHELLS = asLabel('threaded', 'pressed', 'one-piece', 'other');
const millimetres = (...values: number[]) => values.map((value) => ({ value, label: `${value} mm` }));
export const WIRES = WIRE_GAUGES.map((gauge) => ({
  label: `Gauge ${gauge}`,
  value: Number(gaugeMm2(gauge).toPrecision(2)),
}));
/** Ordinary ratings of plugs by how they look; a figure stamped on the plug goes first. */
export const PLUGS = [
  { label: 'Flat blades, small housing', value: 15 },
  { label: 'Round pins, 3.5 mm', value: 25 },
  { label: 'Flat blades, large housing', value: 30 },
  { label: 'Round pins, 4 mm', value: 40 },
  { label: 'Round pins, 5.5 mm', value: 80 },
];
export const REAR_WIDTHS = millimetres(120, 126, 130, 135, 142, 148);
export const FRONT_WIDTHS = millimetres(74, 100, 110);
export const SHELL_WIDTHS = millimetres(68, 73, 83, 100, 120);
export const AXLE_DIAMETERS = millimetres(10, 12, 14, 16);
export const AXLE_FLATS = millimetres(8, 10);
export const RIMS = [
  { label: '16 inch, small wheel', value: 305 },
  { label: '20 inch, small wheel', value: 406 },
  { label: '24 inch', value: 507 },
  { label: '26 inch', value: 559 },
  { label: '27.5 inch', value: 584 },
  { label: '28 or 29 inch', value: 622 },
];
export const AXLES: readonly Choice[] = [
  { value: 'open', label: 'Open slot' },
  { value: 'thru', label: 'Closed, thru-axle' },
];
