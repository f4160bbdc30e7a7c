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
