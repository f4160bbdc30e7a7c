import { ridingText, type Riding } from '../compare/index.js';
import { solveSymmetric, symmetricEigen } from '../numeric/index.js';
import { repeatabilityOf } from '../planning/index.js';
import { fitRandomIntercept } from '../statistics/index.js';
import type { TestKind } from '../analysis/index.js';
import type { Standing } from './weigh-up.js';

/** One run of a setup with the figure that is asked for. */
export interface StandingRun {
  /** Index of the setup. */
  readonly setup: number;
  readonly kind: TestKind;
  readonly course: string;
  readonly outing: string;
  readonly riding: Riding;
  readonly value: number;
  readonly standardUncertainty: number;
  /** Of it, what the same logger does to every run. */
  readonly systematic: number;
  readonly loggerId: string | null;
}
/** How setups stand in one figure, and what that rests on. */
export interface FigureStandings {
  /** By setup; undefined where it was not ridden like the others. */
  readonly standings: readonly (Standing | undefined)[];
  readonly kind: TestKind;
  readonly course: string;
  /** How all of them were ridden, in words; empty where nothing was written down. */
  readonly riding: string;
  readonly runs: readonly number[];
  /** Too few runs for a scatter of their own: the usual one of the figure, relative. */
  readonly usualScatter: number | null;
  /** Some setups never shared an outing, not even by way of others: what a day does stands between them. */
  readonly isDayBetween: boolean;
}

/** Outings that the usual spread between days counts for, beside those that were ridden. */
const USUAL_DAYS = 2;
/** Degrees of freedom that a usual scatter is worth. */
const USUAL_DEGREES_OF_FREEDOM = 4;

/**
 * How setups stand in a figure by the runs that can be set against each other: of one kind of test, on one course, ridden alike. Of several such groups the one
 * with the most setups counts, then the one with the most runs.
 *
 * What a day does moves all runs of an outing together: setups that shared their outings are told apart by their runs, those that had days of their own
 * only as far as days are alike. Generalised least squares on logarithms, value = setup × outing × run: scatter of runs within outings
 * (`repeatabilityOf`, else usual), between outings by REML together with two outings' worth of the figure's usual spread, since few outings say
 * little of it. Instruments come on top, one shift for all runs with the same logger. The joint uncertainty is given as `sources`.
 *
 * `figure`: its key; `course`: only runs there. Units: those of the figure. Undefined without runs.
 */
export function figureStandings(
  figure: string,
  runs: readonly StandingRun[],
  setups: number,
  course?: string,
): FigureStandings | undefined {
  const groups = new Map<string, StandingRun[]>();
  for (const run of runs) {
    // On logarithms: what is nothing or less says nothing of a share.
    if (!(run.value > 0) || (course !== undefined && run.course !== course)) continue;
    const key = `${run.kind}\n${run.course}\n${ridingText(run.riding)}`;
    groups.set(key, [...(groups.get(key) ?? []), run]);
  }
  const [chosen] = [...groups.values()].sort((a, b) => breadth(b) - breadth(a) || b.length - a.length);
  if (!chosen) return undefined;
  const present = [...new Set(chosen.map(({ setup }) => setup))].sort((a, b) => a - b);
  const places = chosen.map(({ setup }) => present.indexOf(setup));
  const outings = [...new Set(chosen.map(({ outing }) => outing))];
  const scatter = repeatabilityOf(figure, [
    chosen.map(({ setup, outing, value }) => ({ setup: String(setup), outing, value })),
  ]);
  const isUsual = scatter.source === 'usual';
  const random = meanOf(
    chosen,
    ({ standardUncertainty: u, systematic: s, value }) => Math.sqrt(Math.max(0, u ** 2 - s ** 2)) / value,
  );
  // What one run does not know of itself is in the scatter already, unless that was not seen.
  const ofRuns = Math.max(scatter.relativeSd, random);
  const ofDays = spreadOfDays(chosen, places, present.length, outings, scatter.usual.middle);
  const { estimates, loadings } = generalisedMeans(chosen, places, present.length, outings, ofRuns, ofDays);
  const standingOf = (p: number): Standing => {
    const own = chosen.filter((_, k) => places[k] === p);
    const value = Math.exp(estimates[p]!);
    const sources: Record<string, number> = Object.fromEntries(
      loadings[p]!.map((loading, k) => [`runs ${k}`, value * loading]),
    );
    for (const { loggerId, systematic, value: seen } of own) {
      const source = `logger ${loggerId ?? `of ${p}`}`;
      sources[source] = (sources[source] ?? 0) + (value * systematic) / seen / own.length;
    }
    const ofInstrument = Object.entries(sources).filter(([source]) => source.startsWith('logger'));
    return {
      value,
      standardUncertainty: Math.hypot(...Object.values(sources)),
      sharedUncertainty: Math.hypot(...ofInstrument.map(([, loading]) => loading)),
      degreesOfFreedom: isUsual ? USUAL_DEGREES_OF_FREEDOM : scatter.degreesOfFreedom,
      n: own.length,
      sources,
    };
  };
  return {
    standings: Array.from({ length: setups }, (_, s) =>
      present.includes(s) ? standingOf(present.indexOf(s)) : undefined,
    ),
    kind: chosen[0]!.kind,
    course: chosen[0]!.course,
    riding: ridingText(chosen[0]!.riding),
    runs: Array.from({ length: setups }, (_, s) => chosen.filter(({ setup }) => setup === s).length),
    usualScatter: isUsual ? scatter.relativeSd : null,
    isDayBetween: !isLinked(chosen, places, present.length, outings),
  };
}

const breadth = (runs: readonly StandingRun[]): number => new Set(runs.map(({ setup }) => setup)).size;

function meanOf(runs: readonly StandingRun[], read: (run: StandingRun) => number): number {
  return runs.reduce((sum, run) => sum + read(run), 0) / runs.length;
}

/** Standard deviation between outings, relative: as ridden, drawn towards what is usual the more, the fewer outings there were. */
function spreadOfDays(
  runs: readonly StandingRun[],
  places: readonly number[],
  setups: number,
  outings: readonly string[],
  usual: number,
): number {
  const seen = Math.max(0, outings.length - setups);
  const fit =
    seen > 0 &&
    fitRandomIntercept(
      places.map((place) => Array.from({ length: setups }, (_, p) => (p === place ? 1 : 0))),
      runs.map(({ value }) => Math.log(value)),
      runs.map(({ outing }) => outings.indexOf(outing)),
    );
  const variance = fit && fit.ok ? fit.value.groupVariance : 0;
  const days = fit && fit.ok ? seen : 0;
  return Math.sqrt((days * variance + USUAL_DAYS * usual ** 2) / (days + USUAL_DAYS));
}

/** Logarithms of the setups' values, and the square root of their covariance, by given spreads of runs and of days. */
function generalisedMeans(
  runs: readonly StandingRun[],
  places: readonly number[],
  setups: number,
  outings: readonly string[],
  ofRuns: number,
  ofDays: number,
): { estimates: Float64Array; loadings: number[][] } {
  const information = new Float64Array(setups * setups);
  const right = new Float64Array(setups);
  for (const outing of outings) {
    const own = runs.flatMap((run, k) => (run.outing === outing ? [k] : []));
    const count = (p: number): number => own.filter((k) => places[k] === p).length;
    // Inverse of σ²·I + τ²·J.
    const shared = ofDays ** 2 / (ofRuns ** 2 + own.length * ofDays ** 2);
    const sum = own.reduce((all, k) => all + Math.log(runs[k]!.value), 0);
    for (let a = 0; a < setups; a++) {
      const ownSum = own.reduce((all, k) => all + (places[k] === a ? Math.log(runs[k]!.value) : 0), 0);
      right[a]! += (ownSum - shared * count(a) * sum) / ofRuns ** 2;
      for (let b = 0; b < setups; b++)
        information[a * setups + b]! += ((a === b ? count(a) : 0) - shared * count(a) * count(b)) / ofRuns ** 2;
    }
  }
  const { values, vectors } = symmetricEigen(information, setups);
  return {
    estimates: solveSymmetric(information, right)!,
    loadings: Array.from({ length: setups }, (_, p) =>
      Array.from({ length: setups }, (_, k) => vectors[p * setups + k]! / Math.sqrt(values[k]!)),
    ),
  };
}

/** Whether outings that several setups shared lead from every setup to every other. */
function isLinked(
  runs: readonly StandingRun[],
  places: readonly number[],
  setups: number,
  outings: readonly string[],
): boolean {
  const reached = new Set([0]);
  for (let round = 0; round < setups; round++)
    for (const outing of outings) {
      const there = runs.flatMap((run, k) => (run.outing === outing ? [places[k]!] : []));
      if (there.some((place) => reached.has(place))) for (const place of there) reached.add(place);
    }
  return reached.size === setups;
}
