import type { CleanLog } from '../../logs/index.js';
import { JOULES_PER_WATT_HOUR } from '../../units/index.js';
import { currentGain, systematic, voltageGain } from '../contributions.js';
import { fromLimit, type Contribution } from '../figure.js';
import type { InstrumentErrors } from '../instrument.js';
import { beyondSensor, withHidden } from './sensor-at-end.js';
import { withoutStuck } from './stuck-sensor.js';
import { regeneratedEnergy } from './regeneration.js';
import { readCounter } from './counters.js';
import { gapJudge } from './gap-share.js';
import { electricalPower, integrateOverRide } from './ride-integrals.js';
import { standingMean } from './standing-mean.js';

/** Display and controller of a bike that stands. */
const DEFAULT_IDLE_W = 6;
const BRAKE_EDGES = 'braking begins and ends between samples';
export const LOAD_STEPS = 'steps of the load between samples';
export const ACROSS_GAPS = 'estimate across gaps';

/** Electrical energy of a ride, Wh, with what its uncertainty is made of. */
export interface RideEnergy {
  readonly netWh: number;
  readonly regeneratedWh: number;
  /** Net and regenerated together. */
  readonly outWh: number;
  readonly samples: number;
  readonly inputs: readonly string[];
  /** Share of the charge that the current sensor did not show and the voltage's sag did. */
  readonly beyondSensorShare: number;
  readonly gaps: {
    readonly count: number;
    /** Of which it is not known whether they were ridden. */
    readonly undecidedS: number;
    readonly seconds: number;
    readonly wh: number;
    readonly uncertaintyWh: number;
  };
  /** Of an energy over the whole ride, net or out. */
  contributionsOf(energyWh: number): Contribution[];
  /** Of the energy regenerated; undefined where a counter does not tell it apart. */
  readonly regeneratedContributions: readonly Contribution[] | undefined;
}

/** Undefined where voltage and current, or power, were never logged at the same moments; `missing` then says what lacks. */
export function measureEnergy(
  asLogged: CleanLog,
  instrument: InstrumentErrors,
): { readonly energy: RideEnergy } | { readonly missing: string } {
  const { log, beyond } = withHidden(asLogged);
  const { timeS, channels, report } = log;
  const power = electricalPower(channels);
  if (!power) {
    const counted = channels.energyCounter && countedEnergy(channels.energyCounter, instrument);
    if (counted) return { energy: counted };
    const missing = channels.voltage
      ? 'no current'
      : channels.current
        ? 'no voltage'
        : 'neither voltage and current nor power';
    return { missing: `The log has ${missing}: energy and consumption cannot be given.` };
  }
  const { hasCurrent } = power;
  const powerW = withoutStuck(timeS, power.powerW, report, hasCurrent ? 'current' : 'power');
  const judge = gapJudge({ timeS, channels });
  const idle = standingMean(timeS, powerW, channels, DEFAULT_IDLE_W);
  const net = integrateOverRide(timeS, powerW, report.gapLimitS, { judge, ...idle });
  if (net.samples < 2)
    return { missing: 'Voltage and current are never logged at the same moment: energy cannot be given.' };
  const regeneration = regeneratedEnergy(timeS, powerW, channels, report.gapLimitS);
  const netWh = (net.measured + net.acrossGaps + regeneration.netCorrectionJ) / JOULES_PER_WATT_HOUR;
  const regeneratedWh = regeneration.energyJ / JOULES_PER_WATT_HOUR;
  const edgeWh = regeneration.edgeUncertaintyJ / JOULES_PER_WATT_HOUR;
  const voltSeconds = channels.voltage ? integrateOverRide(timeS, channels.voltage, report.gapLimitS).measured : 0;
  const uncertaintyWh = net.uncertaintyAcrossGaps / JOULES_PER_WATT_HOUR;
  const stepsWh = stepsBetweenSamples(timeS, powerW, report.gapLimitS) / JOULES_PER_WATT_HOUR;
  const gains = (energyWh: number): Contribution[] =>
    hasCurrent
      ? [currentGain(instrument, Math.abs(energyWh)), voltageGain(instrument, Math.abs(energyWh))]
      : [
          systematic(
            'power meter gain',
            fromLimit((instrument.currentGain + instrument.voltageGain) * Math.abs(energyWh)),
          ),
        ];
  const offset = (standardUncertainty: number): Contribution[] =>
    hasCurrent ? [systematic('current offset', standardUncertainty)] : [];
  return {
    energy: {
      netWh,
      regeneratedWh,
      outWh: netWh + regeneratedWh,
      samples: net.samples,
      inputs: hasCurrent ? ['voltage', 'current'] : ['power'],
      beyondSensorShare: beyond?.addedShare ?? 0,
      gaps: {
        count: net.gaps.length,
        undecidedS: net.undecidedS,
        seconds: net.gaps.reduce((sum, gap) => sum + gap.endS - gap.startS, 0),
        wh: net.acrossGaps / JOULES_PER_WATT_HOUR,
        uncertaintyWh,
      },
      contributionsOf: (energyWh) => [
        ...gains(energyWh),
        ...offset(fromLimit((instrument.currentOffsetA * voltSeconds) / JOULES_PER_WATT_HOUR)),
        ...(edgeWh > 0 ? [{ source: BRAKE_EDGES, standardUncertainty: edgeWh }] : []),
        { source: LOAD_STEPS, standardUncertainty: stepsWh },
        ...(net.gaps.length > 0 ? [{ source: ACROSS_GAPS, standardUncertainty: uncertaintyWh }] : []),
        ...beyondSensor(beyond, energyWh),
      ],
      regeneratedContributions: [
        ...gains(regeneratedWh),
        ...offset(fromLimit(instrument.currentOffsetA) * regeneration.voltHours),
        { source: BRAKE_EDGES, standardUncertainty: edgeWh },
        { source: 'noise of the readings', standardUncertainty: regeneration.noiseUncertaintyJ / JOULES_PER_WATT_HOUR },
        // None seen is not none: so much could lie within noise and offset of the sensor.
        ...(regeneratedWh === 0
          ? [
              systematic(
                'what noise and offset about zero hide',
                fromLimit(
                  regeneration.hiddenJ / JOULES_PER_WATT_HOUR +
                    (hasCurrent ? instrument.currentOffsetA * regeneration.idleVoltHours : 0),
                ),
              ),
            ]
          : []),
      ],
    },
  };
}

/** Energy by a running counter, for logs that have nothing else; what it counts back was fed back. */
function countedEnergy(column: Float64Array, instrument: InstrumentErrors): RideEnergy | undefined {
  const read = readCounter(column);
  if (!read || !(read.net > 0)) return undefined;
  const resolutionWh = read.resolution / JOULES_PER_WATT_HOUR;
  const fedBackWh = read.falls / JOULES_PER_WATT_HOUR;
  // A step down or two is a counter that rounds.
  const isNetCounter = fedBackWh > 3 * resolutionWh;
  const parts = (energyWh: number): Contribution[] => [
    systematic('counter gain', fromLimit((instrument.currentGain + instrument.voltageGain) * Math.abs(energyWh))),
    { source: 'steps of the counter', standardUncertainty: resolutionWh / Math.sqrt(6) },
    ...(read.resets > 0
      ? [systematic('counted between the last reading and a reset', fromLimit(read.resets * 3 * resolutionWh))]
      : []),
  ];
  return {
    netWh: read.net / JOULES_PER_WATT_HOUR,
    regeneratedWh: isNetCounter ? fedBackWh : 0,
    outWh: isNetCounter ? read.rises / JOULES_PER_WATT_HOUR : read.net / JOULES_PER_WATT_HOUR,
    samples: read.samples,
    inputs: ['energyCounter'],
    beyondSensorShare: 0,
    gaps: { count: 0, seconds: 0, undecidedS: 0, wh: 0, uncertaintyWh: 0 },
    contributionsOf: parts,
    regeneratedContributions: isNetCounter ? parts(fedBackWh) : undefined,
  };
}

/** Standard uncertainty of an integral by trapezoid from not knowing where between two samples a step lies: Δ·dt/√12 each. */
export function stepsBetweenSamples(timeS: Float64Array, values: Float64Array, gapLimitS: number): number {
  let variance = 0;
  for (let k = 1; k < values.length; k++) {
    const step = timeS[k]! - timeS[k - 1]!;
    const change = (values[k]! - values[k - 1]!) * step;
    if (step <= gapLimitS && !Number.isNaN(change)) variance += (change * change) / 12;
  }
  return Math.sqrt(variance);
}
