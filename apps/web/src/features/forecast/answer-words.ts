import type { Forecast } from '@ebrix/core/forecast';
import type { UnitSystem } from '@ebrix/core/units';
import { formatLength } from '../../shared/format/format-quantity.js';
import { spanText } from './figure-text.js';

/** The answer in one breath: how long, how much, what is left; and first what would go wrong. */
export function answerWords(answer: Forecast, wayM: number, reserve: number, system: UnitSystem): string[] {
  const figure = (key: string) => answer.figures.find((one) => one.key === key);
  const [time, energy, left] = [figure('time'), figure('energyOut'), figure('chargeLeftShare')];
  const words: string[] = [];
  const { share, by } = answer.notThere;
  // Named as what a rider would see.
  const WHY = {
    'cut-off': 'the battery cuts off',
    stall: 'the bike comes to a stand',
    time: 'it takes more than twelve hours',
  };
  if (share > 0.02)
    words.push(`It does not get there in ${inHundred(share)} of 100 rides${by ? `: ${WHY[by]} on the way` : ''}.`);
  if (time && energy)
    words.push(
      `${formatLength(wayM, system)} in ${spanText(time, system)}, out of the battery ${spanText(energy, system)}` +
        (left ? `; ${spanText(left, system)} of the charge is left.` : '.'),
    );
  else if (energy) words.push(`Out of the battery until then: ${spanText(energy, system)}.`);
  if (share <= 0.98 && answer.belowReserve > 0.02 && left)
    words.push(`The reserve of ${Math.round(100 * reserve)} % is touched in ${inHundred(answer.belowReserve)} of 100.`);
  if (answer.cutBack > 0.02)
    words.push(`The motor gets so hot that help is cut back in ${inHundred(answer.cutBack)} of 100.`);
  return words;
}

export function inHundred(share: number): string {
  const whole = Math.round(100 * share);
  if (whole >= 100 && share < 1) return 'more than 99';
  return String(Math.max(1, whole));
}
