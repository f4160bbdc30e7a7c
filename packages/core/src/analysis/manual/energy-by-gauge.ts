import type { LearnedLevel, UsableEnergy } from '../../battery/index.js';
import { derivationNumber as num, fromLimit, fromResolution, type Warn } from '../figure.js';
import { voltsShowFull } from '../began-full.js';
import type { TestContext } from '../test-context.js';
import { barEdges, type BarEdge } from './bar-edges.js';
import { MIN_ENERGY_WH, MIN_SHARE, type EnergyByHand } from './manual-parts.js';
import type { ManualReadings } from './manual-readings.js';

/** Bars are not quarters: a bar may stand for this much more or less than its share. */
const BAR_LIMIT = 0.1;
/** The part of a ride before or after the bars may have taken so much more or less per kilometre than that between them. */
const REST_OF_RIDE_LIMIT = 0.3;
/** Of a first bar that is lit: what is gone of it on average over rides, and the doubt, as shares of a bar. */
const FIRST_BAR_GONE = 0.2;
const FIRST_BAR_DOUBT = 0.35;
/** A pack whose rest volts show it full may lack so much of its charge. */
const FULL_LIMIT = 0.07;

/** Energy by bars before and after, Wh: as this pack's own gauge was seen to mean them, else as equal shares of the pack. */
export function energyByBars(
  context: TestContext,
  usable: UsableEnergy | undefined,
  warn: Warn,
): EnergyByHand | undefined {
  const { gauge } = context;
  const seen = usable && byLearnedBars(context, usable.energyWh);
  if (seen || !gauge) return seen;
  const used = gauge.startShare - gauge.endShare;
  if (!usable) {
    warn('no-capacity', "The pack's capacity and voltage are not known: bars cannot be turned into energy.");
    return undefined;
  }
  if (used <= MIN_SHARE) {
    warn('gauge-too-coarse', 'The gauge did not move: it gives no energy figure, only that little was used.');
    return undefined;
  }
  const value = used * usable.energyWh;
  return {
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
      labelOf(usable, used),
    ],
  };
}

/**
 * Energy by where bars went out, Wh: noted by kilometre, or between two looks at the gauge. Between the first and the last of them
 * nothing is lost to the steps of the gauge; the rest of the ride is taken to have been like it.
 */
export function energyByEdges(
  manualReadings: ManualReadings,
  context: TestContext,
  distanceKm: number | undefined,
  usable: UsableEnergy | undefined,
): EnergyByHand | undefined {
  const { gauge } = context;
  if (!gauge || !usable || distanceKm === undefined) return undefined;
  const edges = barEdges(manualReadings, gauge, distanceKm);
  return (
    byLearnedEdges(edges, context, distanceKm, usable.energyWh) ??
    byEvenEdges(edges, gauge.stepShare, distanceKm, usable)
  );
}

function labelOf(usable: UsableEnergy, share: number): EnergyByHand['contributions'][number] {
  return {
    source: `usable energy (${usable.source})`,
    standardUncertainty: share * usable.standardUncertaintyWh,
    isSystematic: true,
  };
}

function byEvenEdges(
  edges: readonly BarEdge[],
  stepShare: number,
  distanceKm: number,
  usable: UsableEnergy,
): EnergyByHand | undefined {
  const [first, last] = [edges[0], edges.at(-1)];
  if (!first || !last || last.left >= first.left) return undefined;
  const km = last.km - first.km;
  if (km <= first.limitKm + last.limitKm) return undefined;
  const share = (first.left - last.left) * stepShare;
  const value = ((share * usable.energyWh) / km) * distanceKm;
  return {
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
      placeOf(value / km, [first, last]),
      restOfRide(value, km, distanceKm),
      labelOf(usable, value / usable.energyWh),
    ],
  };
}

/** What it does that nobody saw to the metre where a bar went out. */
function placeOf(whPerKm: number, edges: readonly BarEdge[]): EnergyByHand['contributions'][number] {
  const km = Math.hypot(...edges.map(({ limitKm }) => fromLimit(limitKm)));
  return { source: 'where on the way a bar went out', standardUncertainty: whPerKm * km };
}

function restOfRide(value: number, km: number, distanceKm: number): EnergyByHand['contributions'][number] {
  return {
    source: 'the rest of the ride',
    standardUncertainty: fromLimit(REST_OF_RIDE_LIMIT * value * Math.max(0, 1 - km / distanceKm)),
  };
}

/** A reading that this gauge was seen to show beside a logger; undefined while one of the two was not. */
function learnedLevel({ learned }: TestContext, shown: number, isEdge: boolean): LearnedLevel | undefined {
  return learned?.gauge?.find((level) => level.isEdge === isEdge && Math.abs(level.shown - shown) < 1e-3);
}

/** Bars before and after, as this pack's own gauge was seen to mean them. */
export function byLearnedBars(context: TestContext, usableWh: number): EnergyByHand | undefined {
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
): { mean: number; contribution: EnergyByHand['contributions'][number] } {
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
  edges: readonly BarEdge[],
  context: TestContext,
  distanceKm: number,
  usableWh: number,
): EnergyByHand | undefined {
  const { gauge } = context;
  if (!gauge) return undefined;
  const seen = edges.flatMap((edge) => {
    const level = learnedLevel(context, edge.left * gauge.stepShare, true);
    return level ? [{ edge, level }] : [];
  });
  const last = seen.at(-1);
  const beganFull = gauge.startShare >= 1 && !context.isPartWay;
  const first = beganFull ? undefined : seen[0];
  if (!last || (!beganFull && (!first || first === last))) return undefined;
  const km = last.edge.km - (first?.edge.km ?? 0);
  const before = first?.level ?? fromFull(context, usableWh);
  const wh = last.level.mean - before.mean;
  if (km <= last.edge.limitKm + (first?.edge.limitKm ?? 0) || wh <= MIN_ENERGY_WH) return undefined;
  const scale = distanceKm / km;
  const value = wh * scale;
  const ends = first ? [last, first] : [last];
  return {
    value,
    formula: 'energy until the last bar went out, as this gauge was seen to mean it, ÷ its kilometres × distance',
    substituted: `${num(wh)} Wh ÷ ${num(km)} km × ${num(distanceKm)} km = ${num(value)} Wh`,
    inputs: ['gauge', 'metered rides'],
    contributions: [
      ...ends.map(({ level }) => ({
        source: `where this bar goes out (${level.n} seen)`,
        standardUncertainty: scale * level.standardDeviation,
        degreesOfFreedom: level.degreesOfFreedom,
        isSystematic: true,
      })),
      ...(first ? [] : [scaledBy(scale, fromFull(context, usableWh).contribution)]),
      placeOf(
        value / km,
        ends.map(({ edge }) => edge),
      ),
      restOfRide(value, km, distanceKm),
    ],
  };
}

function scaledBy(scale: number, one: EnergyByHand['contributions'][number]): EnergyByHand['contributions'][number] {
  return { ...one, standardUncertainty: scale * one.standardUncertainty };
}
