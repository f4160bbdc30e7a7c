import { CHARGE_TIME_LIMIT, chargeSlowness } from '../../battery/index.js';
import type { CleanLog } from '../../logs/index.js';
import { derivationNumber as num, fromLimit, makeFigure } from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import { analyseRange } from '../range/analyse-range.js';
import type { TestContext } from '../test-context.js';

/** What a socket loses into heat where the charger's efficiency is not known, and how well that is known. */
const USUAL_EFFICIENCY = 0.86;
const EFFICIENCY_LIMIT = 0.06;

/**
 * Energy and charge of a battery test: `energyOut` Wh, `chargeUsed` Ah; from full to cut-off (`context.emptied`) also
 * `usableEnergy` Wh and `capacity` Ah; with what is known of the charger `chargeTime` h and `costPerCharge`, `costPer100km`.
 *
 * Method: charge time = constant-current part at the charger's current + a taper 2.5 times as slow for its share (± 15 %).
 * Costs are in the tariff's currency, written in the label; their unit is 1.
 */
export function energyAndCharge(log: CleanLog, context: TestContext, warn: Warn): Figure[] {
  const ride = analyseRange(log, context).figures;
  const of = (key: string): Figure | undefined => ride.find((figure) => figure.key === key);
  const [energy, charge, net] = [of('energyOut'), of('chargeUsed'), of('netConsumption')];
  const figures = ride.filter(({ key }) => ['chargeUsed', 'energyOut'].includes(key));
  if (context.emptied !== true) {
    if (energy)
      warn(
        'not-emptied',
        'The pack was not ridden from full to its cut-off: energy and charge are what was drawn, not what it holds.',
      );
    return figures;
  }
  if (energy) figures.push(again(energy, 'usableEnergy', 'Usable energy, from full to cut-off'));
  if (charge) figures.push(again(charge, 'capacity', 'Capacity, from full to cut-off'));
  const seconds = log.timeS.at(-1)! - log.timeS[0]!;
  if (charge && log.hasClock && seconds > 0)
    figures.push(
      makeFigure({
        key: 'meanDischargeCurrent',
        label: 'Mean current of the discharge',
        value: (3600 * charge.value) / seconds,
        unit: 'A',
        n: charge.n,
        contributions: scaled(charge, 3600 / seconds),
        formula: 'charge ÷ time',
        substituted: `${num(charge.value)} Ah ÷ ${num(seconds)} s`,
        inputs: ['capacity', 'time'],
      }),
    );
  const { currentA, efficiency, pricePerKWh, currency = '' } = context.charging ?? {};
  const chemistry = context.pack?.chemistry;
  if (charge && chemistry && currentA !== undefined && currentA > 0) {
    const factor = chargeSlowness(chemistry) / currentA;
    figures.push(
      makeFigure({
        key: 'chargeTime',
        label: 'Time to charge',
        value: charge.value * factor,
        unit: 'h',
        n: 1,
        contributions: [
          ...scaled(charge, factor),
          {
            source: 'share and slowness of the taper',
            standardUncertainty: fromLimit(CHARGE_TIME_LIMIT * charge.value * factor),
          },
        ],
        formula: 'charge ÷ charger current × slowness of the taper',
        substituted: `${num(charge.value)} Ah ÷ ${num(currentA)} A × ${num(chargeSlowness(chemistry))}`,
        inputs: ['capacity', 'charger'],
      }),
    );
  }
  if (energy && pricePerKWh !== undefined) {
    const yieldOf = efficiency ?? USUAL_EFFICIENCY;
    const doubt = efficiency === undefined ? EFFICIENCY_LIMIT : 0.02;
    const cost = (key: string, label: string, source: Figure, whFactor: number): Figure => {
      const factor = (whFactor * pricePerKWh) / 1000 / yieldOf;
      return makeFigure({
        key,
        label: `${label}${currency ? `, ${currency}` : ''}`,
        value: source.value * factor,
        unit: '1',
        n: 1,
        contributions: [
          ...scaled(source, factor),
          {
            source: 'efficiency of the charger',
            standardUncertainty: fromLimit((doubt / yieldOf) * source.value * factor),
          },
        ],
        formula: 'energy ÷ charger efficiency × price',
        substituted: `${num(source.value)} ${source.unit} ÷ ${num(yieldOf)} × ${num(pricePerKWh)} per kWh`,
        inputs: [source.key, 'charger', 'tariff'],
      });
    };
    figures.push(cost('costPerCharge', 'Cost per charge', energy, 1));
    if (net && net.value > 0) figures.push(cost('costPer100km', 'Cost per 100 km', net, 100));
  }
  return figures;
}

function again(figure: Figure, key: string, label: string): Figure {
  return { ...figure, key, label };
}

function scaled(figure: Figure, factor: number): Contribution[] {
  return figure.derivation.contributions.map(({ share: _share, ...part }) => ({
    ...part,
    standardUncertainty: Math.abs(factor) * part.standardUncertainty,
  }));
}
