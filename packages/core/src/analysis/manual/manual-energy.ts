import { chargeAtRest, CHEMISTRIES, usableEnergy, type LearnedLevel } from '../../battery/index.js';
import { derivationNumber as num, fromLimit, fromResolution, makeFigure, type Figure, type Warn } from '../figure.js';
import { voltsShowFull } from '../began-full.js';
import type { TestContext } from '../test-context.js';
import type { ManualReadings } from './manual-readings.js';

/** Energy into the pack per energy from the socket, for an ordinary charger with a lithium pack. */
const CHARGE_EFFICIENCY = 0.86;
const CHARGE_EFFICIENCY_LIMIT = 0.06;
/** Of an efficiency that the tester stated. */
const STATED_EFFICIENCY_LIMIT = 0.03;
/** A typical voltage curve against this very cell, as a share of the charge: cells of one chemistry lie 5 % apart in the middle. */
const CURVE_LIMIT = 0.07;
/** Bars are not quarters: a bar may stand for this much more or less than its share. */
const BAR_LIMIT = 0.1;
const DEFAULT_VOLTAGE_STEP_V = 0.1;
/** Less than any meter shows: nothing was measured. */
const MIN_ENERGY_WH = 0.1;
const MIN_SHARE = 0.001;
const DEFAULT_WALL_STEP_WH = 10;

/**
 * Energy a ride took, by socket meter, by gauge bars and by rest voltages: each where its readings are there, each
 * with the uncertainty its source deserves. The first of the list is the one with the smallest.
 */
export function manualEnergy(
  manualReadings: ManualReadings,
  context: TestContext,
  warn: Warn,
  distanceKm?: number,
): Figure[] {
  const figures: Figure[] = [];
  const { pack, gauge } = context;
  const usable =
    pack &&
    usableEnergy({ ...pack, ...(context.airTemperatureC !== undefined && { temperatureC: context.airTemperatureC }) });
  const put = (parts: Energy): void => {
    figures.push(makeFigure({ key: 'energyOut', label: 'Energy out of the battery', unit: 'Wh', n: 1, ...parts }));
  };
  if (manualReadings.wallEnergyWh !== undefined && manualReadings.wallEnergyWh > MIN_ENERGY_WH) {
    const { share, source, ...doubt } = chargeEfficiencyOf(context);
    const value = share * manualReadings.wallEnergyWh;
    put({
      value,
      formula: 'energy from the socket × share that reaches the pack',
      substituted: `${num(manualReadings.wallEnergyWh)} Wh × ${num(share)} = ${num(value)} Wh`,
      inputs: ['socket meter', source],
      contributions: [
        {
          source: `efficiency of charging (${source})`,
          standardUncertainty: doubt.standardUncertainty * manualReadings.wallEnergyWh,
          ...(doubt.degreesOfFreedom !== undefined && { degreesOfFreedom: doubt.degreesOfFreedom }),
          isSystematic: true,
        },
        {
          source: 'reading of the socket meter',
          standardUncertainty: share * fromResolution(manualReadings.wallStepWh ?? DEFAULT_WALL_STEP_WH),
        },
      ],
    });
  }
  const seen = usable && byLearnedGauge(context, usable.energyWh);
  if (seen) put(seen);
  else if (gauge) {
    const used = gauge.startShare - gauge.endShare;
    if (!usable)
      warn('no-capacity', "The pack's capacity and voltage are not known: bars cannot be turned into energy.");
    else if (used <= MIN_SHARE)
      warn('gauge-too-coarse', 'The gauge did not move: it gives no energy figure, only that little was used.');
    else {
      const value = used * usable.energyWh;
      put({
        value,
        formula: 'share used by the gauge × usable energy',
        substituted: `${num(used)} × ${num(usable.energyWh)} Wh = ${num(value)} Wh`,
        inputs: ['gauge', usable.source],
        contributions: [
          {
            source: 'steps of the gauge',
            standardUncertainty: usable.energyWh * Math.SQRT2 * fromResolution(gauge.stepShare),
          },
          {
            source: 'bars of unequal size',
            standardUncertainty: usable.energyWh * fromLimit(BAR_LIMIT),
            isSystematic: true,
          },
          {
            source: `usable energy (${usable.source})`,
            standardUncertainty: used * usable.standardUncertaintyWh,
            isSystematic: true,
          },
        ],
      });
    }
  }
  const between =
    distanceKm === undefined || !usable
      ? undefined
      : byLearnedEdges(manualReadings, context, distanceKm, usable.energyWh);
  if (between) put(between);
  const spent = between ? undefined : barsByDistance(manualReadings, context);
  if (spent && usable && distanceKm !== undefined) {
    const { share, km } = spent;
    const value = ((share * usable.energyWh) / km) * distanceKm;
    put({
      value,
      formula: 'share of the bars that went out ÷ kilometres between them × distance × usable energy',
      substituted: `${num(share)} ÷ ${num(km)} × ${num(distanceKm)} × ${num(usable.energyWh)} Wh = ${num(value)} Wh`,
      inputs: ['gauge', usable.source],
      contributions: [
        {
          source: 'bars of unequal size',
          standardUncertainty: (value * fromLimit(BAR_LIMIT)) / share,
          isSystematic: true,
        },
        {
          source: 'seen late that a bar went out',
          standardUncertainty: (value * Math.SQRT2 * fromLimit(SEEN_LATE_KM)) / km,
        },
        // The rest of the ride may have taken more or less per kilometre than the part between the bars.
        {
          source: 'the rest of the ride',
          standardUncertainty: fromLimit(0.3 * value * Math.max(0, 1 - km / distanceKm)),
        },
        {
          source: `usable energy (${usable.source})`,
          standardUncertainty: (value / usable.energyWh) * usable.standardUncertaintyWh,
          isSystematic: true,
        },
      ],
    });
  }
  const { restVoltageStartV: startV, restVoltageEndV: endV } = manualReadings;
  if (startV !== undefined && endV !== undefined) {
    const cells =
      pack?.nominalVoltageV &&
      Math.round(pack.nominalVoltageV / CHEMISTRIES[pack.chemistry ?? 'li-ion-nmc'].nominalCellV);
    if (!usable || !cells)
      warn('no-capacity', "The pack's capacity and voltage are not known: rest voltages cannot be turned into energy.");
    else {
      const chemistry = pack?.chemistry ?? 'li-ion-nmc';
      const share = (volts: number): number => chargeAtRest(chemistry, volts / cells);
      const used = share(startV) - share(endV);
      const step = fromResolution(manualReadings.voltageStepV ?? DEFAULT_VOLTAGE_STEP_V);
      // How much a misread tenth of a volt moves the charge, where the curve lies.
      const slope = (volts: number): number => (share(volts + 0.2) - share(volts - 0.2)) / 0.4;
      if (used <= MIN_SHARE)
        warn(
          'voltage-did-not-fall',
          'The rest voltage did not fall: it gives no energy figure. Was the pack at rest for half an hour?',
        );
      else {
        const value = used * usable.energyWh;
        put({
          value,
          formula: 'share used by the rest voltages (typical curve) × usable energy',
          substituted: `(${num(share(startV))} − ${num(share(endV))}) × ${num(usable.energyWh)} Wh = ${num(value)} Wh`,
          inputs: ['rest voltages', usable.source],
          contributions: [
            {
              source: 'typical voltage curve',
              standardUncertainty: usable.energyWh * fromLimit(CURVE_LIMIT),
              isSystematic: true,
            },
            {
              source: 'reading of the voltmeter',
              standardUncertainty: usable.energyWh * step * Math.hypot(slope(startV), slope(endV)),
            },
            {
              source: `usable energy (${usable.source})`,
              standardUncertainty: used * usable.standardUncertaintyWh,
              isSystematic: true,
            },
          ],
        });
      }
    }
  }
  return figures.sort((a, b) => a.standardUncertainty - b.standardUncertainty);
}

type Energy = Pick<Parameters<typeof makeFigure>[0], 'contributions' | 'formula' | 'inputs' | 'substituted' | 'value'>;

/** What the tester said of the charger, or what was seen of it beside a logger, else an ordinary one. */
function chargeEfficiencyOf({ learned, charging }: TestContext): {
  share: number;
  source: string;
  standardUncertainty: number;
  degreesOfFreedom?: number;
} {
  const seen = learned?.chargeEfficiency;
  if (seen && seen.n > 0)
    return {
      share: seen.mean,
      source: `${seen.n} ${seen.n === 1 ? 'charge' : 'charges'} beside a logger`,
      standardUncertainty: seen.standardDeviation,
      degreesOfFreedom: seen.degreesOfFreedom,
    };
  if (charging?.efficiency !== undefined)
    return {
      share: charging.efficiency,
      source: 'as stated for the charger',
      standardUncertainty: fromLimit(STATED_EFFICIENCY_LIMIT),
    };
  return {
    share: CHARGE_EFFICIENCY,
    source: 'an ordinary charger',
    standardUncertainty: fromLimit(CHARGE_EFFICIENCY_LIMIT),
  };
}

/** A reading that this gauge was seen to show beside a logger; undefined while one of the two was not. */
function learnedLevel({ learned }: TestContext, shown: number, isEdge: boolean): LearnedLevel | undefined {
  return learned?.gauge?.find((level) => level.isEdge === isEdge && Math.abs(level.shown - shown) < 1e-3);
}

/** Bars before and after, as this pack's own gauge was seen to mean them. */
function byLearnedGauge(context: TestContext, usableWh: number): Energy | undefined {
  const { gauge } = context;
  if (!gauge || gauge.startShare - gauge.endShare <= MIN_SHARE) return undefined;
  const end = learnedLevel(context, gauge.endShare, false);
  const beganFull = gauge.startShare >= 1 && !context.isPartWay;
  const start = beganFull ? undefined : learnedLevel(context, gauge.startShare, false);
  if (!end || !(beganFull || start)) return undefined;
  const before = start ?? fromFull(context, usableWh);
  const value = end.mean - before.mean;
  if (value <= MIN_ENERGY_WH) return undefined;
  const ends = [end, ...(start ? [start] : [])];
  return {
    value,
    formula: 'energy that this gauge was seen to mean, after − before',
    substituted: `${num(end.mean)} Wh − ${num(before.mean)} Wh = ${num(value)} Wh`,
    inputs: ['gauge', 'metered rides'],
    contributions: [
      ...ends.map((level) => ({
        source: `what ${num(100 * level.shown)} % of the bars mean (${level.n} seen)`,
        standardUncertainty: level.standardDeviation,
        degreesOfFreedom: level.degreesOfFreedom,
        isSystematic: true,
      })),
      ...(start ? [] : [fromFull(context, usableWh).contribution]),
    ],
  };
}

/**
 * What was used before a ride that began with all bars lit: nothing, as far as rest volts show a full pack; else the first bar
 * may be gone in part, and mostly is not.
 */
function fromFull(
  context: TestContext,
  usableWh: number,
): { mean: number; contribution: Energy['contributions'][number] } {
  const step = context.gauge?.stepShare ?? 1;
  const isShown = voltsShowFull(context, null);
  return {
    mean: isShown ? 0 : FIRST_BAR_GONE * step * usableWh,
    contribution: {
      source: isShown ? 'how full the rest volts show it' : 'how full it was: all bars were lit',
      standardUncertainty: usableWh * (isShown ? fromLimit(FULL_LIMIT) : FIRST_BAR_DOUBT * step),
    },
  };
}

/** Where bars went out, as this pack's own gauge was seen to put them out. */
function byLearnedEdges(
  { barsOut = [] }: ManualReadings,
  context: TestContext,
  distanceKm: number,
  usableWh: number,
): Energy | undefined {
  const { gauge } = context;
  if (!gauge) return undefined;
  const seen = barsOut.flatMap(({ km, left }) => {
    const level = learnedLevel(context, left * gauge.stepShare, true);
    return level ? [{ km, level }] : [];
  });
  seen.sort((a, b) => a.km - b.km);
  const last = seen.at(-1);
  const beganFull = gauge.startShare >= 1 && !context.isPartWay;
  const first = beganFull ? { km: 0, level: undefined } : seen[0];
  if (!last || !first || last === first) return undefined;
  const km = last.km - first.km;
  const before = first.level ?? fromFull(context, usableWh);
  const wh = last.level.mean - before.mean;
  if (km <= SEEN_LATE_KM || wh <= MIN_ENERGY_WH) return undefined;
  const value = (wh / km) * distanceKm;
  const scale = distanceKm / km;
  return {
    value,
    formula: 'energy until the last bar went out, as this gauge was seen to mean it, ÷ its kilometres × distance',
    substituted: `${num(wh)} Wh ÷ ${num(km)} km × ${num(distanceKm)} km = ${num(value)} Wh`,
    inputs: ['gauge', 'metered rides'],
    contributions: [
      ...[last.level, first.level].flatMap((level) =>
        level
          ? [
              {
                source: `where this bar goes out (${level.n} seen)`,
                standardUncertainty: scale * level.standardDeviation,
                degreesOfFreedom: level.degreesOfFreedom,
                isSystematic: true,
              },
            ]
          : [],
      ),
      ...(first.level ? [] : [scaledBy(scale, fromFull(context, usableWh).contribution)]),
      {
        source: 'seen late that a bar went out',
        standardUncertainty: (value * fromLimit(SEEN_LATE_KM)) / km,
      },
      {
        source: 'the rest of the ride',
        standardUncertainty: fromLimit(0.3 * value * Math.max(0, 1 - km / distanceKm)),
      },
    ],
  };
}

function scaledBy(scale: number, one: Energy['contributions'][number]): Energy['contributions'][number] {
  return { ...one, standardUncertainty: scale * one.standardUncertainty };
}

/** Of a first bar that is lit: what is gone of it on average over rides, and the doubt, as shares of a bar. */
const FIRST_BAR_GONE = 0.2;
const FIRST_BAR_DOUBT = 0.35;
/** A pack whose rest volts show it full may lack so much of its charge. */
const FULL_LIMIT = 0.07;
/** A rider looks at the gauge now and then. */
const SEEN_LATE_KM = 0.3;

/** Between the first and the last bar that was seen to go out, nothing is lost to the steps of the gauge. */
function barsByDistance(
  { barsOut = [] }: ManualReadings,
  { gauge }: TestContext,
): { share: number; km: number } | undefined {
  const sorted = [...barsOut].sort((a, b) => a.km - b.km);
  const [first, last] = [sorted[0], sorted.at(-1)];
  if (!gauge || !first || !last || last.left >= first.left || last.km - first.km <= SEEN_LATE_KM) return undefined;
  return { share: (first.left - last.left) * gauge.stepShare, km: last.km - first.km };
}
