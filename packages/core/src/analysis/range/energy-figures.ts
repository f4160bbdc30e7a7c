import { say } from '../../units/index.js';
import type { CleanLog } from '../../logs/index.js';
import { JOULES_PER_WATT_HOUR } from '../../units/index.js';
import { readCounter } from './counters.js';
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
import { beyondSensor, withHidden } from './sensor-at-end.js';
import { withoutStuck } from './stuck-sensor.js';
import { ACROSS_GAPS, LOAD_STEPS, stepsBetweenSamples, type RideEnergy } from './measure-energy.js';
import { gapJudge } from './gap-share.js';
import { integrateOverRide } from './ride-integrals.js';
import { standingMean } from './standing-mean.js';

const DEFAULT_IDLE_A = 0.15;
/** A counter and an integral of good instruments agree within this. */
const COUNTER_OFF = 0.05;

/** A ride with more of its time in gaps is largely an estimate. */
const MOSTLY_GAPS_SHARE = 0.2;

export function warnOfGaps({ gaps, outWh }: RideEnergy, { timeS }: CleanLog, warn: Warn): void {
  if (gaps.count > 0)
    warn(
      'gap-estimated',
      `${gaps.count} gap${gaps.count > 1 ? 's' : ''} of ${num(gaps.seconds)} s in all: ${withUncertainty(gaps.wh, gaps.uncertaintyWh)} Wh of the energy is estimated${gaps.undecidedS > 0.5 ? ', between standing and riding where nothing tells which' : ''}.`,
    );
  if (
    gaps.undecidedS > MOSTLY_GAPS_SHARE * (timeS.at(-1)! - timeS[0]!) ||
    Math.abs(gaps.wh) > MOSTLY_GAPS_SHARE * outWh
  )
    warn('mostly-gaps', 'More than a fifth of the ride lies in gaps: its energy is largely an estimate.');
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
      ...(inputs[0] === 'energyCounter'
        ? { formula: 'rises of the energy counter', substituted: `${num(outWh)} Wh` }
        : {
            formula: '∫ V·I dt + energy regenerated',
            substituted: `${num(netWh)} + ${num(regeneratedWh)} = ${num(outWh)} Wh`,
          }),
      inputs,
    }),
    ...(energy.regeneratedContributions
      ? [
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
        ]
      : []),
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
export function chargeFigure(asLogged: CleanLog, instrument: InstrumentErrors): Figure | undefined {
  const { log, beyond } = withHidden(asLogged);
  const { timeS, channels, report } = log;
  if (!channels.current) return channels.chargeCounter && countedCharge(channels.chargeCounter, instrument);
  const current = withoutStuck(timeS, channels.current, report, 'current');
  const charge = integrateOverRide(timeS, current, report.gapLimitS, {
    judge: gapJudge({ timeS, channels }),
    ...standingMean(timeS, current, channels, DEFAULT_IDLE_A),
  });
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
      ...beyondSensor(beyond, usedAh),
      ...(charge.gaps.length > 0
        ? [{ source: ACROSS_GAPS, standardUncertainty: charge.uncertaintyAcrossGaps / 3600 }]
        : []),
    ],
    formula: '∫ I dt',
    substituted: `${num(usedAh)} Ah`,
    inputs: ['current'],
  });
}

/** `chargeUsed` by a running counter. */
function countedCharge(column: Float64Array, instrument: InstrumentErrors): Figure | undefined {
  const read = readCounter(column);
  if (!read || !(read.net > 0)) return undefined;
  const usedAh = read.net / 3600;
  return makeFigure({
    key: 'chargeUsed',
    label: 'Charge used',
    value: usedAh,
    unit: 'Ah',
    n: read.samples,
    contributions: [
      currentGain(instrument, usedAh),
      { source: 'steps of the counter', standardUncertainty: read.resolution / 3600 / Math.sqrt(6) },
    ],
    formula: 'rises less falls of the charge counter',
    substituted: `${num(usedAh)} Ah`,
    inputs: ['chargeCounter'],
  });
}

/** A sensor at its end that the voltage shows to have hidden something. */
export function warnOfClip({ beyondSensorShare }: RideEnergy, warn: Warn): void {
  if (beyondSensorShare > 0)
    warn(
      'current-beyond-sensor',
      `The current stays again and again at the highest that its sensor shows: ${num(100 * Number(beyondSensorShare.toPrecision(2)))} % of the charge is added, by how far the voltage sags there, or where that does not tell, by the tail of the strong loads. A sensor with a wider range would measure it.`,
    );
}

/** A counter and the integral of the same ride, where they are farther apart than both together may be off. */
export function warnOfCounter(energy: RideEnergy, { channels }: CleanLog, warn: Warn): void {
  const read = channels.energyCounter && readCounter(channels.energyCounter);
  if (!read || energy.inputs[0] === 'energyCounter') return;
  const countedWh = (Math.abs(read.falls) > 3 * read.resolution ? read.net : read.rises) / JOULES_PER_WATT_HOUR;
  const off = Math.min(Math.abs(countedWh - energy.netWh), Math.abs(countedWh - energy.outWh));
  if (off > COUNTER_OFF * energy.outWh + (4 * read.resolution) / JOULES_PER_WATT_HOUR)
    warn(
      'counter-disagrees',
      `The log’s own energy counter says ${num(countedWh)} Wh, volts times amps over time give ${num(energy.netWh)} Wh. One of them is set wrong, or rows are missing.`,
    );
}
