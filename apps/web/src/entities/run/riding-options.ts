import { TEST_KINDS, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { EFFORTS } from '@ebrix/core/ride-model';

export const KIND_OPTIONS = TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }));
export const WAY_OPTIONS = (Object.keys(EFFORTS) as (keyof typeof EFFORTS)[]).map((value) => ({
  value,
  label: EFFORTS[value].label,
}));
