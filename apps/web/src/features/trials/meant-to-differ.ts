import { MEANT_TO_DIFFER, type TrialInput } from '@ebrix/contract';

type Factor = TrialInput['meantToDiffer'][number];
export const FACTOR_WORDS: Readonly<Record<Factor, string>> = {
  bike: 'bike',
  rider: 'rider',
  direction: 'direction',
  airTemperature: 'air temperature',
  wind: 'wind',
  load: 'load',
  startCharge: 'charge at the start',
  meanSpeed: 'mean speed',
  tyrePressure: 'tyre pressure',
};
export const MEANT_TO_DIFFER_OPTIONS = MEANT_TO_DIFFER.map((value) => ({ value, label: FACTOR_WORDS[value] }));
