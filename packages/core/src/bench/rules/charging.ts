import { isEstimate } from '../estimate.js';
import { chargeCost, chargeTime, packEnergy } from '../pack-energy.js';
import { isAtMost, verdict, want, withKnown, type Rule } from '../rule.js';
import { amount, say } from '../../units/index.js';

export const CHARGE_TIME: Rule = {
  id: 'charge-time',
  title: 'Charge time and cost',
  group: 'electrical',
  severity: 'note',
  basis:
    'Capacity ÷ charge current, the end taking longer because the current falls; energy from the socket × tariff. Fails when the seller’s time is shorter than the shortest to be expected.',
  applies: ({ charger, packs }) => charger !== null && packs.length > 0,
  assess: (setup) => {
    const { capacityAh } = packEnergy(setup.packs);
    const time = chargeTime(setup);
    const cost = chargeCost(setup);
    return withKnown(
      {
        capacity: want('pack', 'capacityAh', 'capacity of every pack', capacityAh),
        current: want('charger', 'outputA', 'output current of the charger', setup.charger!.outputA),
        time: want('charger', 'outputA', 'a charge time', isEstimate(time) ? time : null),
      },
      ({ capacity, current, time: hours }) => {
        const claimed = setup.kit.claims?.chargeTimeH ?? setup.packs[0]!.claims?.chargeTimeH ?? null;
        const money =
          'amount' in cost
            ? say`; ${amount(cost.energyWh, 'Wh', 3)} from the socket for ${cost.amount.toFixed(2)} ${cost.currency}`
            : say`; cost needs ${cost.missing.join(', ')}`;
        return verdict(
          claimed === null || isAtMost(hours.lower, claimed),
          [
            ...say`${amount(capacity, 'Ah', 3)} at ${amount(current, 'A', 3)}, slower at the end: ${amount(hours.value, 'h', 2)} (${amount(hours.lower, 'h', 2)} to ${amount(hours.upper, 'h', 2)})`,
            ...(claimed === null ? [] : say`, claimed ${amount(claimed, 'h', 2)}`),
            ...money,
          ],
          say`Plan for ${amount(hours.value, 'h', 2)}, not for the seller’s figure; a stronger charger only within what the pack may be charged with.`,
        );
      },
    );
  },
};
