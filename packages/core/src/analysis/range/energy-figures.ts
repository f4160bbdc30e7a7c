import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { currentGain, systematic } from '../contributions.js';
import {
  derivationQuantity as qty,
  derivationNumber as num,
  fromLimit,
  makeFigure,
  withUncertainty,
} from '../figure.js';
import type { Contribution, Figure, Warn } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { ACROSS_GAPS, LOAD_STEPS, stepsBetweenSamples, type RideEnergy } from './measure-energy.js';
import { integrateOverRide } from './ride-integrals.js';

/** A ride with more of its time in gaps is largely an estimate. */
const MOSTLY_GAPS_SHARE = 0.2;

export function warnOfGaps({ gaps }: RideEnergy, { timeS }: CleanLog, warn: Warn): void {
  if (gaps.count > 0)
    warn(
      'gap-estimated',
      `${gaps.count} gap${gaps.count > 1 ? 's' : ''} of ${num(gaps.seconds)} s in all: ${withUncertainty(gaps.wh, gaps.uncertaintyWh)} Wh of the energy is estimated from the half minute either side.`,
    );
  if (gaps.seconds > MOSTLY_GAPS_SHARE * (timeS.at(-1)! - timeS[0]!))
    warn('mostly-gaps', 'Gaps make up more than a fifth of the ride: its energy is largely an estimate.');
}

/** `energyOut` and `energyRegenerated`, Wh. */
export function energyFigures(energy: RideEnergy): Figure[] {
  const { netWh, regeneratedWh, outWh, samples: n, inputs } = energy;
  return [
    makeFigure({
      key: 'energyOut',
      label: 'Energy out',
      value: outWh,
      unit: 'Wh',
      contributions: energy.contributionsOf(outWh),
      n,
      formula: '∫ V·I dt + energy regenerated',
      substituted: `${num(netWh)} + ${num(regeneratedWh)} = ${num(outWh)} Wh`,
      inputs,
    }),
    makeFigure({
      key: 'energyRegenerated',
      label: 'Energy regenerated',
      value: regeneratedWh,
      unit: 'Wh',
      n,
      contributions: energy.regeneratedContributions,
      formula: '−∫ V·I dt where the current is below zero beyond its noise',
      substituted: `${num(regeneratedWh)} Wh`,
      inputs,
    }),
  ];
}

/** `netConsumption` and `grossConsumption`, Wh/km. */
export function consumptionFigures(
  energy: RideEnergy,
  distanceKm: number,
  distanceParts: readonly Contribution[],
): [net: Figure, gross: Figure] {
  const { netWh, regeneratedWh, outWh, samples: n } = energy;
  const inputs = [...energy.inputs, 'distance'];
  const perKm = (wh: number): Contribution[] => [
    ...energy
      .contributionsOf(wh)
      .map((part) => ({ ...part, standardUncertainty: part.standardUncertainty / distanceKm })),
    ...distanceParts.map((part) => ({
      ...part,
      standardUncertainty: (part.standardUncertainty * Math.abs(wh)) / distanceKm ** 2,
    })),
  ];
  return [
    makeFigure({
      key: 'netConsumption',
      label: 'Net consumption',
      value: netWh / distanceKm,
      unit: 'Wh/km',
      contributions: perKm(netWh),
      n,
      formula: '(energy out − energy regenerated) ÷ distance',
      substituted: say`(${num(outWh)} − ${num(regeneratedWh)}) Wh ÷ ${qty(distanceKm, 'km')} = ${qty(netWh / distanceKm, 'Wh/km')}`,
      inputs,
    }),
    makeFigure({
      key: 'grossConsumption',
      label: 'Gross consumption',
      value: outWh / distanceKm,
      unit: 'Wh/km',
      contributions: perKm(outWh),
      n,
      formula: 'energy out ÷ distance',
      substituted: say`${num(outWh)} Wh ÷ ${qty(distanceKm, 'km')} = ${qty(outWh / distanceKm, 'Wh/km')}`,
      inputs,
    }),
  ];
}

/** `chargeUsed`, Ah; undefined where no current was logged. */
export function chargeFigure({ timeS, channels, report }: CleanLog, instrument: InstrumentErrors): Figure | undefined {
  if (!channels.current) return undefined;
  const charge = integrateOverRide(timeS, channels.current, report.gapLimitS);
  const usedAh = (charge.measured + charge.acrossGaps) / 3600;
  return makeFigure({
    key: 'chargeUsed',
    label: 'Charge used',
    value: usedAh,
    unit: 'Ah',
    n: charge.samples,
    contributions: [
      currentGain(instrument, Math.abs(usedAh)),
      systematic('current offset', fromLimit((instrument.currentOffsetA * (timeS.at(-1)! - timeS[0]!)) / 3600)),
      {
        source: LOAD_STEPS,
        standardUncertainty: stepsBetweenSamples(timeS, channels.current, report.gapLimitS) / 3600,
      },
      ...(charge.gaps.length > 0
        ? [{ source: ACROSS_GAPS, standardUncertainty: charge.uncertaintyAcrossGaps / 3600 }]
        : []),
    ],
    formula: '∫ I dt',
    substituted: `${num(usedAh)} Ah`,
    inputs: ['current'],
  });
}
