import type { UnitSystem } from '../units/index.js';

/** How a verdict speaks of a figure. */
export interface FigureWords {
  /** "uses … energy per km": the verb and what follows "more" or "less". */
  readonly verb: string;
  readonly noun: string;
  readonly better: 'less' | 'more';
}

const WORDS: Readonly<Record<string, FigureWords>> = {
  netConsumption: { verb: 'uses', noun: 'energy per {distance}', better: 'less' },
  netConsumptionAtReference: { verb: 'uses', noun: 'energy per {distance} on reference footing', better: 'less' },
  grossConsumption: { verb: 'draws', noun: 'energy per {distance}', better: 'less' },
  rangeToCutoff: { verb: 'has', noun: 'range', better: 'more' },
  rangeWithReserve: { verb: 'has', noun: 'range', better: 'more' },
  meanMovingSpeed: { verb: 'has', noun: 'mean speed', better: 'more' },
  climbTime: { verb: 'needs', noun: 'time for the climb', better: 'less' },
  verticalSpeed: { verb: 'has', noun: 'vertical speed', better: 'more' },
  energyPer100m: { verb: 'uses', noun: 'energy for the same climb', better: 'less' },
  twoWayTopSpeed: { verb: 'has', noun: 'top speed', better: 'more' },
  motorTemperatureRise: { verb: 'has', noun: 'rise of the motor temperature', better: 'less' },
};

/** Figures a trial can be decided by so far. */
export const DECIDING_FIGURES = Object.keys(WORDS);

export function figureWords(
  key: string,
  label: string,
  better: 'less' | 'more',
  system: UnitSystem = 'metric',
): FigureWords {
  const known = WORDS[key];
  // A column's own name is left as it is written: "Wh per km" must not become "wh per km".
  if (!known) return { verb: 'has', noun: label, better };
  return { ...known, noun: known.noun.replace('{distance}', system === 'imperial' ? 'mile' : 'km') };
}
