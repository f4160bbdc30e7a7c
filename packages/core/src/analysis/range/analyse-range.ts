import type { CleanLog } from '../../logs/index.js';
import { JOULES_PER_WATT_HOUR } from '../../units/index.js';
import {
  derivationNumber as num,
  fromLimit,
  makeFigure,
  withUncertainty,
  type Contribution,
  type Figure,
  type FigureWarning,
  type Warn,
} from '../figure.js';
import { DEFAULT_INSTRUMENT, type InstrumentErrors } from '../instrument.js';
import type { TestContext } from '../test-context.js';
import { CLIMB_HYSTERESIS_M, climbedM, smoothProfile } from './climbing.js';
import { logFlags } from '../quality/log-flags.js';
import { addMotionFigures } from './motion-figures.js';
import { addRiderFigures } from './rider-figures.js';
import { addRangeFigures } from './range-figures.js';
import { correctToReference } from './reference-correction.js';
import { electricalPower, integrateOverRide, regeneratedEnergy, rideDistance } from './ride-integrals.js';
import { currentGain, voltageGain, wheelCircumference } from '../contributions.js';

export interface RangeAnalysis {
  readonly figures: readonly Figure[];
  readonly warnings: readonly FigureWarning[];
}

/**
 * Range and consumption of one ride.
 *
 * Figures: `distance`, `movingTime`, `meanMovingSpeed`, `energyOut`, `energyRegenerated`, `netConsumption`,
 * `grossConsumption`, `chargeUsed`, `climbed`, `rangeToCutoff`, `rangeWithReserve` (metered), `rangeRiddenToEmpty`,
 * `rangeRuleOfThumb`, `rangeByGauge`, `netConsumptionAtReference`. What the log cannot carry is named in a warning.
 * Method: docs/methods.md, "range"; uncertainty after JCGM 100:2008.
 */
export function analyseRange(log: CleanLog, context: TestContext = {}): RangeAnalysis {
  const instrument: InstrumentErrors = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const figures: Figure[] = [];
  const warnings: FigureWarning[] = [...logFlags(log)];
  const warn = (code: string, message: string): void => void warnings.push({ code, message });
  const { timeS, channels } = log;
  const span = { fromS: timeS[0]!, toS: timeS.at(-1)! };

  const distance = rideDistance(log);
  if (!distance || !(distance.distanceM > 0)) {
    warn(
      'no-distance',
      'The log has no distance, no speed and no positions, or they show no movement: no per-km figure can be given.',
    );
  }
  const distanceKm = (distance?.distanceM ?? 0) / 1000;
  const distanceParts: Contribution[] = distance
    ? [
        distance.source === 'positions'
          ? { source: 'position noise', standardUncertainty: fromLimit(0.01 * distanceKm), isSystematic: true }
          : wheelCircumference(instrument, distanceKm),
        ...(distance.acrossGapsM > 0
          ? [{ source: 'estimate across gaps', standardUncertainty: distance.uncertaintyAcrossGapsM / 1000 }]
          : []),
      ]
    : [];
  if (distance && distanceKm > 0)
    figures.push(
      makeFigure({
        key: 'distance',
        label: 'Distance',
        value: distanceKm,
        unit: 'km',
        contributions: distanceParts,
        n: distance.samples,
        formula: {
          'wheel distance': 'last − first reading of the wheel distance',
          'speed over time': '∫ v dt',
          positions: 'Σ great-circle steps',
        }[distance.source],
        substituted: `${num(distanceKm)} km`,
        inputs: [distance.source],
        ...span,
      }),
    );

  if (log.hasClock) {
    addMotionFigures(log, figures, distance, distanceKm, distanceParts, instrument, warn);
    addRiderFigures(log, figures);
  } else warn('no-clock', 'The track has no times: distance and climbing can be given, but no speed, time or energy.');

  const profile = distance && channels.altitude ? smoothProfile(distance.cumulativeM, channels.altitude) : undefined;
  let gainM: number | undefined;
  if (profile) {
    const gain = climbedM(profile.altitudeM, CLIMB_HYSTERESIS_M);
    gainM = gain;
    const sensitivity = Math.abs(climbedM(profile.altitudeM, 1) - climbedM(profile.altitudeM, 3)) / 2;
    figures.push(
      makeFigure({
        key: 'climbed',
        label: 'Climbed',
        value: gain,
        unit: 'm',
        n: profile.distanceM.length,
        contributions: [
          { source: 'choice of hysteresis', standardUncertainty: fromLimit(sensitivity) },
          { source: 'altitude sensor', standardUncertainty: fromLimit(instrument.altitudeM), isSystematic: true },
        ],
        formula: 'sum of rises above 2 m along the altitude smoothed over 50 m',
        substituted: `${num(gain)} m`,
        inputs: ['altitude', distance!.source],
        ...span,
      }),
    );
  } else warn('no-altitude', 'The log has no altitude (or too few readings of it): climbing cannot be given.');

  if (log.hasClock)
    addEnergy({
      log,
      figures,
      warn,
      instrument,
      distanceKm,
      distanceParts,
      context,
      ...(gainM !== undefined && { gainM }),
    });
  return { figures, warnings };
}

function addEnergy(parts: {
  log: CleanLog;
  figures: Figure[];
  warn: Warn;
  instrument: InstrumentErrors;
  distanceKm: number;
  distanceParts: readonly Contribution[];
  context: TestContext;
  gainM?: number;
}): void {
  const { log, figures, warn, instrument, distanceKm, distanceParts, context } = parts;
  const { timeS, channels, report } = log;
  const power = electricalPower(channels);
  if (!power) {
    const missing = channels.voltage
      ? 'no current'
      : channels.current
        ? 'no voltage'
        : 'neither voltage and current nor power';
    warn('no-energy', `The log has ${missing}: energy and consumption cannot be given.`);
    return;
  }
  const { powerW } = power;
  const net = integrateOverRide(timeS, powerW, report.gapLimitS);
  if (net.samples < 2) {
    warn('no-energy', 'Voltage and current are never logged at the same moment: energy cannot be given.');
    return;
  }
  const regeneration = regeneratedEnergy(timeS, powerW, channels, report.gapLimitS);
  const netWh = (net.measured + net.acrossGaps + regeneration.netCorrectionJ) / JOULES_PER_WATT_HOUR;
  const regeneratedWh = regeneration.energyJ / JOULES_PER_WATT_HOUR;
  const edgeWh = regeneration.edgeUncertaintyJ / JOULES_PER_WATT_HOUR;
  const outWh = netWh + regeneratedWh;
  const volts = channels.voltage ? integrateOverRide(timeS, channels.voltage, report.gapLimitS).measured : 0;
  const gapUncertaintyWh = net.uncertaintyAcrossGaps / JOULES_PER_WATT_HOUR;
  const stepsWh = betweenSamples(timeS, powerW, report.gapLimitS) / JOULES_PER_WATT_HOUR;
  const energyParts = (energyWh: number, withGap: boolean): Contribution[] => [
    ...(power.hasCurrent
      ? [currentGain(instrument, Math.abs(energyWh)), voltageGain(instrument, Math.abs(energyWh))]
      : [
          {
            source: 'power meter gain',
            standardUncertainty: fromLimit((instrument.currentGain + instrument.voltageGain) * Math.abs(energyWh)),
            isSystematic: true,
          },
        ]),
    ...(withGap && power.hasCurrent
      ? [
          {
            source: 'current offset',
            standardUncertainty: fromLimit((instrument.currentOffsetA * volts) / JOULES_PER_WATT_HOUR),
            isSystematic: true,
          },
        ]
      : []),
    ...(withGap && edgeWh > 0
      ? [{ source: 'braking begins and ends between samples', standardUncertainty: edgeWh }]
      : []),
    ...(withGap ? [{ source: 'steps of the load between samples', standardUncertainty: stepsWh }] : []),
    ...(withGap && net.gaps.length > 0
      ? [{ source: 'estimate across gaps', standardUncertainty: gapUncertaintyWh }]
      : []),
  ];
  const gapS = net.gaps.reduce((sum, gap) => sum + gap.endS - gap.startS, 0);
  if (net.gaps.length > 0)
    warn(
      'gap-estimated',
      `${net.gaps.length} gap${net.gaps.length > 1 ? 's' : ''} of ${num(gapS)} s in all: ${withUncertainty(net.acrossGaps / JOULES_PER_WATT_HOUR, gapUncertaintyWh)} Wh of the energy is estimated from the half minute either side.`,
    );
  const rideS = timeS.at(-1)! - timeS[0]!;
  if (gapS > 0.2 * rideS)
    warn('mostly-gaps', 'Gaps make up more than a fifth of the ride: its energy is largely an estimate.');
  const inputs = power.hasCurrent ? ['voltage', 'current'] : ['power'];
  figures.push(
    makeFigure({
      key: 'energyOut',
      label: 'Energy out',
      value: outWh,
      unit: 'Wh',
      contributions: energyParts(outWh, true),
      n: net.samples,
      formula: '∫ V·I dt + energy regenerated',
      substituted: `${num(netWh)} + ${num(regeneratedWh)} = ${num(outWh)} Wh`,
      inputs,
    }),
    makeFigure({
      key: 'energyRegenerated',
      label: 'Energy regenerated',
      value: regeneratedWh,
      unit: 'Wh',
      n: net.samples,
      contributions: [
        ...energyParts(regeneratedWh, false),
        ...(power.hasCurrent
          ? [
              {
                source: 'current offset',
                standardUncertainty: fromLimit(instrument.currentOffsetA) * regeneration.voltHours,
                isSystematic: true,
              },
            ]
          : []),
        { source: 'braking begins and ends between samples', standardUncertainty: edgeWh },
        // None seen is not none: so much could lie within noise and offset of the sensor.
        ...(regeneratedWh === 0
          ? [
              {
                source: 'what noise and offset about zero hide',
                standardUncertainty: fromLimit(
                  regeneration.hiddenJ / JOULES_PER_WATT_HOUR +
                    (power.hasCurrent ? instrument.currentOffsetA * regeneration.idleVoltHours : 0),
                ),
                isSystematic: true,
              },
            ]
          : []),
      ],
      formula: '−∫ V·I dt where the current is below zero beyond its noise',
      substituted: `${num(regeneratedWh)} Wh`,
      inputs,
    }),
  );
  addCharge(log, figures, instrument);
  if (!(distanceKm > 0)) return;

  const perKm = (wh: number, withGap: boolean): Contribution[] => [
    ...energyParts(wh, withGap).map((c) => ({ ...c, standardUncertainty: c.standardUncertainty / distanceKm })),
    ...distanceParts.map((c) => ({
      ...c,
      standardUncertainty: (c.standardUncertainty * Math.abs(wh)) / distanceKm ** 2,
    })),
  ];
  const netConsumption = makeFigure({
    key: 'netConsumption',
    label: 'Net consumption',
    value: netWh / distanceKm,
    unit: 'Wh/km',
    contributions: perKm(netWh, true),
    n: net.samples,
    formula: '(energy out − energy regenerated) ÷ distance',
    substituted: `(${num(outWh)} − ${num(regeneratedWh)}) Wh ÷ ${num(distanceKm)} km = ${num(netWh / distanceKm)} Wh/km`,
    inputs: [...inputs, 'distance'],
  });
  figures.push(
    netConsumption,
    makeFigure({
      key: 'grossConsumption',
      label: 'Gross consumption',
      value: outWh / distanceKm,
      unit: 'Wh/km',
      contributions: perKm(outWh, true),
      n: net.samples,
      formula: 'energy out ÷ distance',
      substituted: `${num(outWh)} Wh ÷ ${num(distanceKm)} km = ${num(outWh / distanceKm)} Wh/km`,
      inputs: [...inputs, 'distance'],
    }),
  );
  addRangeFigures(netConsumption, distanceKm, log, context, figures, warn);
  const corrected = correctToReference(netConsumption, log, distanceKm, parts.gainM, context);
  if (corrected) {
    figures.push(corrected.figure);
    corrected.warnings.forEach(({ code, message }) => warn(code, message));
  }
}

/** Standard uncertainty of an integral by trapezoid from not knowing where between two samples a step lies: Δ·dt/√12 each. */
function betweenSamples(timeS: Float64Array, values: Float64Array, gapLimitS: number): number {
  let variance = 0;
  for (let k = 1; k < values.length; k++) {
    const step = timeS[k]! - timeS[k - 1]!;
    const change = (values[k]! - values[k - 1]!) * step;
    if (step <= gapLimitS && !Number.isNaN(change)) variance += (change * change) / 12;
  }
  return Math.sqrt(variance);
}

function addCharge({ timeS, channels, report }: CleanLog, figures: Figure[], instrument: InstrumentErrors): void {
  if (!channels.current) return;
  const charge = integrateOverRide(timeS, channels.current, report.gapLimitS);
  const usedAh = (charge.measured + charge.acrossGaps) / 3600;
  figures.push(
    makeFigure({
      key: 'chargeUsed',
      label: 'Charge used',
      value: usedAh,
      unit: 'Ah',
      n: charge.samples,
      contributions: [
        currentGain(instrument, Math.abs(usedAh)),
        {
          source: 'current offset',
          standardUncertainty: fromLimit((instrument.currentOffsetA * (timeS.at(-1)! - timeS[0]!)) / 3600),
          isSystematic: true,
        },
        {
          source: 'steps of the load between samples',
          standardUncertainty: betweenSamples(timeS, channels.current, report.gapLimitS) / 3600,
        },
        ...(charge.gaps.length > 0
          ? [{ source: 'estimate across gaps', standardUncertainty: charge.uncertaintyAcrossGaps / 3600 }]
          : []),
      ],
      formula: '∫ I dt',
      substituted: `${num(usedAh)} Ah`,
      inputs: ['current'],
    }),
  );
}
