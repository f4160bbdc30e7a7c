import { usableEnergy } from '../../battery/index.js';
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
} from '../figure.js';
import { DEFAULT_INSTRUMENT, type InstrumentErrors } from '../instrument.js';
import type { TestContext } from '../test-context.js';
import { CLIMB_HYSTERESIS_M, climbedM, smoothProfile } from './climbing.js';
import { correctToReference } from './reference-correction.js';
import { electricalPower, integrateOverRide, regeneratedEnergy, rideDistance } from './ride-integrals.js';

/** Below this the bike stands: walking pace is 1 m/s. */
const STANDING_MPS = 0.5;
const DEFAULT_RESERVE = 0.2;
/** Relative half-width of a rule of thumb. */
const THUMB_LIMIT = 0.3;

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
 * Method: docs/methods.md, "range" 1.0; uncertainty after JCGM 100:2008.
 */
export function analyseRange(log: CleanLog, context: TestContext = {}): RangeAnalysis {
  const instrument: InstrumentErrors = { ...DEFAULT_INSTRUMENT, ...context.instrument };
  const figures: Figure[] = [];
  const warnings: FigureWarning[] = [...logWarnings(log)];
  const warn = (code: string, message: string): void => void warnings.push({ code, message });
  const { timeS, channels } = log;
  const span = { fromS: timeS[0]!, toS: timeS.at(-1)! };

  const distance = rideDistance(log);
  if (!distance || !(distance.distanceM > 0)) {
    warn(
      'no-distance',
      'The log has no distance, no speed and no positions, or they show no movement: nothing can be given per km.',
    );
  }
  const distanceKm = (distance?.distanceM ?? 0) / 1000;
  const distanceParts: Contribution[] = distance
    ? [
        distance.source === 'positions'
          ? { source: 'position noise', standardUncertainty: fromLimit(0.01 * distanceKm), isSystematic: true }
          : {
              source: 'wheel circumference',
              standardUncertainty: fromLimit(instrument.distanceGain * distanceKm),
              isSystematic: true,
            },
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

  if (log.hasClock) addMotion(log, figures, distance, distanceKm, distanceParts, instrument, warn);
  else warn('no-clock', 'The track has no times: distance and climbing can be given, but no speed, time or energy.');

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

type Warn = (code: string, message: string) => void;

function addMotion(
  { timeS, channels, report }: CleanLog,
  figures: Figure[],
  distance: ReturnType<typeof rideDistance>,
  distanceKm: number,
  distanceParts: readonly Contribution[],
  instrument: InstrumentErrors,
  warn: Warn,
): void {
  if (!distance || !(distanceKm > 0)) return;
  const { speed } = channels;
  let movingS = 0;
  let last = -1;
  let crossings = 0;
  let wasMoving = false;
  for (let k = 1; k < timeS.length; k++) {
    if (speed && Number.isNaN(speed[k]!)) continue;
    const from = last < 0 ? k - 1 : last;
    const step = timeS[k]! - timeS[from]!;
    const speedHere = speed
      ? (speed[k]! + (Number.isNaN(speed[from]!) ? speed[k]! : speed[from]!)) / 2
      : (distance.cumulativeM[k]! - distance.cumulativeM[from]!) / step;
    const isMoving =
      step > report.gapLimitS
        ? distance.cumulativeM[k]! - distance.cumulativeM[from]! > STANDING_MPS * step
        : speedHere > STANDING_MPS;
    if (isMoving) movingS += step;
    if (isMoving !== wasMoving) crossings++;
    wasMoving = isMoving;
    last = k;
  }
  if (!(movingS > 0)) return warn('not-moving', 'The bike never moved in this log.');
  const timeParts: Contribution[] = [
    {
      source: 'stops and starts seen a sample late',
      standardUncertainty: (report.medianStepS / Math.sqrt(6)) * Math.sqrt(crossings),
    },
    { source: 'clock', standardUncertainty: fromLimit(instrument.clockGain * movingS), isSystematic: true },
  ];
  figures.push(
    makeFigure({
      key: 'movingTime',
      label: 'Moving time',
      value: movingS,
      unit: 's',
      contributions: timeParts,
      n: timeS.length,
      formula: 'time with a speed above 1.8 km/h',
      substituted: `${num(movingS)} s`,
      inputs: [speed ? 'speed' : distance.source],
    }),
  );
  const speedKmh = (distanceKm / movingS) * 3600;
  figures.push(
    makeFigure({
      key: 'meanMovingSpeed',
      label: 'Mean moving speed',
      value: speedKmh,
      unit: 'km/h',
      n: timeS.length,
      contributions: [
        ...distanceParts.map((c) => ({ ...c, standardUncertainty: (c.standardUncertainty * speedKmh) / distanceKm })),
        ...timeParts.map((c) => ({ ...c, standardUncertainty: (c.standardUncertainty * speedKmh) / movingS })),
      ],
      formula: 'distance ÷ moving time',
      substituted: `${num(distanceKm)} km ÷ ${num(movingS)} s = ${num(speedKmh)} km/h`,
      inputs: ['distance', 'movingTime'],
    }),
  );
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
  const energyParts = (energyWh: number, withGap: boolean): Contribution[] => [
    ...(power.hasCurrent
      ? [
          {
            source: 'current sensor gain',
            standardUncertainty: fromLimit(instrument.currentGain * Math.abs(energyWh)),
            isSystematic: true,
          },
          {
            source: 'voltage sensor gain',
            standardUncertainty: fromLimit(instrument.voltageGain * Math.abs(energyWh)),
            isSystematic: true,
          },
        ]
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
            source: 'current sensor offset',
            standardUncertainty: fromLimit((instrument.currentOffsetA * volts) / JOULES_PER_WATT_HOUR),
            isSystematic: true,
          },
        ]
      : []),
    ...(withGap && edgeWh > 0
      ? [{ source: 'braking begins and ends between samples', standardUncertainty: edgeWh }]
      : []),
    ...(withGap && net.gaps.length > 0
      ? [{ source: 'estimate across gaps', standardUncertainty: gapUncertaintyWh }]
      : []),
  ];
  const gapS = net.gaps.reduce((sum, gap) => sum + gap.endS - gap.startS, 0);
  if (net.gaps.length > 0)
    warn(
      'gap-estimated',
      `${net.gaps.length} gap${net.gaps.length > 1 ? 's' : ''} of ${num(gapS)} s in all: ${withUncertainty(net.acrossGaps / JOULES_PER_WATT_HOUR, gapUncertaintyWh)} Wh of the energy is estimated from the half minutes either side.`,
    );
  const rideS = timeS.at(-1)! - timeS[0]!;
  if (gapS > 0.2 * rideS)
    warn('mostly-gaps', 'Gaps make up more than a fifth of the ride: its energy is mostly a guess.');
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
        { source: 'braking begins and ends between samples', standardUncertainty: edgeWh },
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
  addRange(netConsumption, distanceKm, log, context, figures, warn);
  const corrected = correctToReference(netConsumption, log, distanceKm, parts.gainM, context);
  if (corrected) {
    figures.push(corrected.figure);
    corrected.warnings.forEach(({ code, message }) => warn(code, message));
  }
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
        {
          source: 'current sensor gain',
          standardUncertainty: fromLimit(instrument.currentGain * Math.abs(usedAh)),
          isSystematic: true,
        },
        {
          source: 'current sensor offset',
          standardUncertainty: fromLimit((instrument.currentOffsetA * (timeS.at(-1)! - timeS[0]!)) / 3600),
          isSystematic: true,
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

function addRange(
  net: Figure,
  distanceKm: number,
  { channels }: CleanLog,
  context: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const reserve = context.reserveShare ?? DEFAULT_RESERVE;
  const temperatureC = mean(channels.batteryTemperature) ?? mean(channels.airTemperature) ?? context.airTemperatureC;
  const usable = usableEnergy({ ...context.pack, ...(temperatureC !== undefined && { temperatureC }) });
  if (usable && net.value > 0) {
    const range = usable.energyWh / net.value;
    const contributions = (factor: number): Contribution[] => [
      {
        source: `usable energy (${usable.source})`,
        standardUncertainty: (factor * usable.standardUncertaintyWh) / net.value,
        isSystematic: true,
      },
      ...net.derivation.contributions.map(({ source, standardUncertainty }) => ({
        source,
        standardUncertainty: (factor * standardUncertainty * range) / net.value,
        isSystematic: true,
      })),
    ];
    for (const [key, label, factor, formula] of [
      ['rangeToCutoff', 'Range to cut-off', 1, 'usable energy ÷ net consumption'],
      [
        'rangeWithReserve',
        `Range, ${Math.round(reserve * 100)} % kept back`,
        1 - reserve,
        '(1 − reserve) × usable energy ÷ net consumption',
      ],
    ] as const)
      figures.push(
        makeFigure({
          key,
          label,
          value: factor * range,
          unit: 'km',
          contributions: contributions(factor),
          n: net.n,
          formula,
          substituted: `${factor === 1 ? '' : `${num(factor)} × `}${num(usable.energyWh)} Wh ÷ ${num(net.value)} Wh/km = ${num(factor * range)} km`,
          inputs: ['netConsumption', usable.source],
        }),
      );
    const thumb = context.ruleOfThumbWhPerKm;
    if (thumb !== undefined && thumb > 0) {
      const byThumb = usable.energyWh / thumb;
      figures.push(
        makeFigure({
          key: 'rangeRuleOfThumb',
          label: 'Range by rule of thumb',
          value: byThumb,
          unit: 'km',
          n: 1,
          contributions: [
            { source: 'rule of thumb', standardUncertainty: fromLimit(THUMB_LIMIT * byThumb) },
            { source: `usable energy (${usable.source})`, standardUncertainty: usable.standardUncertaintyWh / thumb },
          ],
          formula: 'usable energy ÷ usual consumption',
          substituted: `${num(usable.energyWh)} Wh ÷ ${num(thumb)} Wh/km = ${num(byThumb)} km`,
          inputs: ['rule of thumb', usable.source],
        }),
      );
    }
  } else if (!usable)
    warn('no-capacity', "The pack's capacity and voltage are not known: the range by metered energy cannot be given.");
  else
    warn(
      'no-net-consumption',
      'The ride used no energy on balance (downhill, or regeneration): no range follows from it.',
    );

  if (context.emptied === true)
    figures.push(
      makeFigure({
        key: 'rangeRiddenToEmpty',
        label: 'Range, ridden to empty',
        value: distanceKm,
        unit: 'km',
        n: 1,
        contributions: (figures.find(({ key }) => key === 'distance')?.derivation.contributions ?? []).map(
          ({ source, standardUncertainty }) => ({ source, standardUncertainty, isSystematic: true }),
        ),
        formula: 'distance at cut-off',
        substituted: `${num(distanceKm)} km`,
        inputs: ['distance'],
      }),
    );
  else if (context.emptied === false)
    warn(
      'stopped-early',
      `Stopped before the pack was empty: as a ride to empty it only says "more than ${num(distanceKm)} km".`,
    );

  addGaugeRange(distanceKm, channels.stateOfCharge, context, figures, warn);
}

function addGaugeRange(
  distanceKm: number,
  stateOfCharge: Float64Array | undefined,
  { gauge }: TestContext,
  figures: Figure[],
  warn: Warn,
): void {
  const logged = stateOfCharge?.filter((value) => !Number.isNaN(value));
  const start = gauge?.startShare ?? logged?.[0];
  const end = gauge?.endShare ?? logged?.at(-1);
  if (start === undefined || end === undefined) return;
  const step = gauge?.stepShare ?? 0.01;
  const used = start - end;
  if (used < 2 * step) {
    warn(
      'gauge-too-coarse',
      `The gauge moved by ${num(used * 100)} % in steps of ${num(step * 100)} %: too little to give a range by it.`,
    );
    return;
  }
  const range = distanceKm / used;
  figures.push(
    makeFigure({
      key: 'rangeByGauge',
      label: 'Range by the gauge',
      value: range,
      unit: 'km',
      n: 2,
      contributions: [
        { source: 'steps of the gauge', standardUncertainty: (range * Math.sqrt(2) * (step / Math.sqrt(12))) / used },
        { source: 'bars of unequal size', standardUncertainty: fromLimit(0.1 * range), isSystematic: true },
      ],
      formula: 'distance ÷ share used by the gauge',
      substituted: `${num(distanceKm)} km ÷ ${num(used)} = ${num(range)} km`,
      inputs: ['distance', 'gauge'],
    }),
  );
}

function mean(values: Float64Array | undefined): number | undefined {
  let sum = 0;
  let count = 0;
  values?.forEach((value) => {
    if (Number.isNaN(value)) return;
    sum += value;
    count++;
  });
  return count > 0 ? sum / count : undefined;
}

/** What the cleaning found that a careful tester would want to hear of. */
function logWarnings({ report, hasClock }: CleanLog): FigureWarning[] {
  const warnings: FigureWarning[] = [];
  const add = (code: string, message: string): void => void warnings.push({ code, message });
  if (hasClock && report.droppedTimes > report.samplesRead / 5)
    add(
      'time-disordered',
      `${report.droppedTimes} of ${report.samplesRead} samples had no usable time (missing, backwards or standing still) and were left out.`,
    );
  for (const { channel, startS, endS } of report.stuck.slice(0, 5))
    add(
      'sensor-stuck',
      `The ${channel} sensor showed one value from ${num(startS)} to ${num(endS)} s while the rest moved.`,
    );
  if (report.speedComparison?.isSuspect)
    add(
      'wheel-size-suspect',
      `Wheel and position disagree: the wheel shows ${num(report.speedComparison.ratio)} times the distance. Wheel circumference set wrong? Divide it by ${num(report.speedComparison.ratio)}.`,
    );
  for (const { channel, count, firstLine } of report.unreadable)
    if (count > report.samplesRead / 10)
      add('many-unreadable', `${count} values of ${channel} are not numbers, the first in line ${firstLine}.`);
  return warnings;
}
