import {
  faultCurve,
  LIFE_PART_KEYS,
  partLives,
  reliability,
  saidOfKits,
  type GroupBy,
  type LifePartKey,
  type PartLives,
} from '@ebrix/core/life';
import type { ReliabilityDto } from '@ebrix/contract';
import type { FittedKit } from './life.service.js';

/** A kit of which the caller stores nothing has no subject. */
export type CountedKit = Omit<FittedKit, 'subject'> & { readonly subject: FittedKit['subject'] | null };

/** Faults and lives of parts over all kits that were fitted, as the pages draw them. */
export function reliabilityOf(kits: readonly CountedKit[], by: GroupBy, part?: LifePartKey): ReliabilityDto {
  // Kilometres of a bike of which nobody writes down what fails would make its kit look sound.
  const counted = kits.filter(({ km, isKept }) => km > 0 && isKept);
  const worked = reliability(counted, by, part);
  const names = [...new Set(counted.map(({ groups }) => groups[by]))].sort();
  const lives = LIFE_PART_KEYS.flatMap((one) => partLives(counted, one) ?? []);
  return {
    all: worked?.all ?? null,
    groups: worked?.groups ?? [],
    comparisons: worked?.comparisons ?? [],
    trend: worked?.trend ?? null,
    parts: worked?.parts ?? [],
    curves: names.map((name) => ({
      label: name || 'not known',
      points: faultCurve(
        counted.filter(({ groups }) => groups[by] === name),
        part,
      ),
    })),
    lives: lives.map(toLives),
    said: saidOfKits(
      kits.flatMap(({ id, groups, answers }) =>
        answers.map(({ stage, answers: said }) => ({ kit: groups.kit, bike: id, stage, answers: said })),
      ),
    ),
    conversions: kits.map(({ subject, name, groups, km, faults, isKept }) => ({
      subject,
      name,
      groups,
      km,
      isKept,
      faults: faults.filter((fault) => part === undefined || fault.part === part).length,
    })),
  };
}

function toLives({ part, ended, running, words, survival, weibull }: PartLives): ReliabilityDto['lives'][number] {
  const open = ([low, high]: readonly [number, number]): [number, number | null] => [
    low,
    Number.isFinite(high) ? high : null,
  ];
  return {
    part,
    ended,
    running,
    words,
    median: survival.median,
    points: survival.points,
    weibull: weibull && {
      ...weibull,
      shapeInterval: open(weibull.shapeInterval),
      scaleInterval: open(weibull.scaleInterval),
      tenthGoneInterval: open(weibull.tenthGoneInterval),
    },
  };
}
