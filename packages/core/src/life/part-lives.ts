import { fitWeibull, kaplanMeier, type Lifetime, type Survival, type WeibullFit } from '../statistics/index.js';
import { isOfKit, type LifePartKey } from './parts.js';
import { twoDigits } from './reliability.js';

/** A part that was put in anew, km since the kit was fitted. */
export interface Replacement {
  readonly km: number;
  readonly part: LifePartKey;
  /** Worn or failed, so that its life had ended; else it was taken off sound. */
  readonly isEndOfLife: boolean;
}
export interface PartLives {
  readonly part: LifePartKey;
  readonly ended: number;
  readonly running: number;
  readonly survival: Survival;
  readonly weibull: WeibullFit | null;
  readonly words: string;
}

/**
 * Lives of one part over all conversions: from fitting, or from the last replacement, to the next one; what still runs, or was taken off sound,
 * is cut off there. A part that the bike had before the kit came (chain, tyres, pads …) counts from its first replacement: how old it was then nobody
 * knows. Undefined where none that was watched from new has ended.
 */
export function partLives(
  conversions: readonly { readonly km: number; readonly replacements: readonly Replacement[] }[],
  part: LifePartKey,
): PartLives | undefined {
  const lifetimes = conversions.flatMap(({ km, replacements }) => lifetimesOf(km, replacements, part));
  const ended = lifetimes.filter(({ isFailed }) => isFailed).length;
  if (ended === 0) return undefined;
  const survival = kaplanMeier(lifetimes);
  const fit = fitWeibull(lifetimes);
  const weibull = fit.ok ? fit.value : null;
  const running = lifetimes.length - ended;
  return { part, ended, running, survival, weibull, words: livesWords(ended, running, survival, weibull) };
}

function lifetimesOf(km: number, replacements: readonly Replacement[], part: LifePartKey): Lifetime[] {
  const own = replacements.filter((one) => one.part === part && one.km <= km).sort((a, b) => a.km - b.km);
  let from = isOfKit(part) ? 0 : own[0]?.km;
  const lifetimes: Lifetime[] = [];
  if (from === undefined) return [];
  for (const { km: at, isEndOfLife } of own) {
    if (at > from) lifetimes.push({ life: at - from, isFailed: isEndOfLife });
    from = at;
  }
  if (km > from) lifetimes.push({ life: km - from, isFailed: false });
  return lifetimes;
}

function livesWords(ended: number, running: number, { median }: Survival, weibull: WeibullFit | null): string {
  const counted = `${ended} ended, ${running} still running.`;
  const half =
    median === null ? ' More than half outlast what was watched.' : ` Half are gone by ${Math.round(median)} km.`;
  if (!weibull) return `${counted}${half}`;
  const [low, high] = weibull.shapeInterval;
  const kind =
    low > 1
      ? ' They wear out: the older, the likelier to go.'
      : high < 1
        ? ' They go early or last.'
        : ' Whether they wear out or go by chance cannot be told yet.';
  const [from, to] = weibull.tenthGoneInterval.map((km) => (km >= 10 ? String(Math.round(km)) : twoDigits(km)));
  return `${counted}${half}${kind} One in ten is gone by ${Math.round(weibull.tenthGone)} km (${from!} to ${to!}).`;
}

const ENOUGH_ENDED = 3;
/** Between which kilometres the middle half of a part's lives ends, for costs; undefined with fewer than three that ended. Units: km. */
export function lastingKm({ ended, weibull }: PartLives): readonly [number, number] | undefined {
  if (ended < ENOUGH_ENDED || !weibull) return undefined;
  const quantile = (gone: number): number => weibull.scale * (-Math.log(1 - gone)) ** (1 / weibull.shape);
  return [quantile(0.25), quantile(0.75)];
}
