import type { Course } from '@ebrix/contract';

export const COURSE_KINDS: readonly { value: Course['kind']; label: string }[] = [
  { value: 'loop', label: 'Loop' },
  { value: 'out-and-back', label: 'Out and back' },
  { value: 'one-way', label: 'One way' },
  { value: 'flat-strip', label: 'Flat strip' },
  { value: 'climb', label: 'Climb' },
];
export const SURFACES: readonly { value: Course['surface']; label: string }[] = [
  { value: 'asphalt', label: 'Asphalt' },
  { value: 'paving', label: 'Paving' },
  { value: 'cobbles', label: 'Cobbles' },
  { value: 'gravel', label: 'Gravel' },
  { value: 'earth', label: 'Earth' },
  { value: 'mixed', label: 'Mixed' },
];
export function labelOf<T extends string>(list: readonly { value: T; label: string }[], value: T): string {
  return list.find((one) => one.value === value)?.label ?? value;
}

export const EXPOSURES = [
  { value: 'sheltered', label: 'Sheltered: houses, trees, cutting' },
  { value: 'mixed', label: 'Partly open' },
  { value: 'open', label: 'Open to the wind' },
] as const;

export const HILL_LABELS = {
  level: 'level',
  rolling: 'rolling, level overall',
  gentle: 'a gentle climb',
  moderate: 'a moderate climb',
  steep: 'a steep climb',
  'very-steep': 'a very steep climb',
} as const;
export const TIMING_GATE_LABELS = {
  start: 'Start',
  finish: 'Finish',
  lap: 'Lap',
  'temperature-stop': 'Temperature stop',
} as const;
