import type { Contribution } from './figure.js';
import { fromLimit } from './figure.js';
import type { InstrumentErrors } from './instrument.js';

/** What an instrument's stated limit adds to a figure: the same in every run, so that averaging runs does not shrink it. */
export function systematic(source: string, standardUncertainty: number): Contribution {
  return { source, standardUncertainty, isSystematic: true };
}

/** Of a figure that grows in proportion with the voltage. */
export function voltageGain({ voltageGain: gain }: InstrumentErrors, value: number): Contribution {
  return systematic('voltage gain', fromLimit(gain * value));
}

/** Of a figure that grows in proportion with the current. */
export function currentGain({ currentGain: gain }: InstrumentErrors, value: number): Contribution {
  return systematic('current gain', fromLimit(gain * value));
}

/** Of a figure that grows in proportion with the distance or the speed of the wheel. */
export function wheelCircumference({ distanceGain }: InstrumentErrors, value: number): Contribution {
  return systematic('wheel circumference', fromLimit(distanceGain * value));
}
