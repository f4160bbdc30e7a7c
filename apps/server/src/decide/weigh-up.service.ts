import { Injectable } from '@nestjs/common';
import type { z } from 'zod';
import {
  criterionWords,
  factStandings,
  figureStandings,
  isFigureCriterion,
  usualWorth,
  type Candidate,
  type CriterionKey,
  type FigureStandings,
  type Standing,
  type StandingRun,
  type Use,
} from '@ebrix/core/decision';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { DECIDING_FIGURES } from '@ebrix/core/compare';
import { summariseRatings } from '@ebrix/core/experience';
import { faultRate, type FaultRate } from '@ebrix/core/life';
import {
  LETTERS,
  type Course,
  type quickWeighUpSchema,
  type Weighed,
  type WeighUp,
  type WeighUpRequest,
} from '@ebrix/contract';
import { notFound } from '../common/domain-error.js';
import { PagePool } from '../compute/compute-pool.js';
import { CourseRepository } from '../courses/course.repository.js';
import { RatingRepository } from '../experience/rating.repository.js';
import { FittingRecordRepository } from '../fitting/fitting-record.repository.js';
import { FittingService } from '../fitting/fitting.service.js';
import { CalibrationService } from '../forecast/calibration.service.js';
import { LifeService, type FittedKit } from '../logbook/life.service.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupService } from '../setups/setup.service.js';
import { TrialRunRepository, type TrialRun } from '../trials/trial-run.repository.js';
import { CostService } from './cost.service.js';

interface Compared {
  readonly revisionId: string;
  readonly setupId: string;
  readonly name: string;
}
/** What a forecast says of a course that was not ridden, by the figure that a ride would give. */
const FORETOLD: Partial<Record<CriterionKey, string>> = {
  rangeWithReserve: 'rangeWithReserve',
  rangeToCutoff: 'rangeToCutoff',
  netConsumption: 'netConsumption',
  meanMovingSpeed: 'meanSpeed',
  minSpeed: 'minSpeed',
};
/** Width of a 95 % interval in standard deviations. */
const NORMAL_95 = 3.92;

/** What a thermometer at the roadside is good for, in K. */
const THERMOMETER_K = 1;

/** The figure that a climb is judged by for the steepest one ridden. */
const GRADE = 'meanGrade';

/** Gathers how setups stand in everything that may count, and has them weighed. */
@Injectable()
export class WeighUpService {
  constructor(
    private readonly setups: SetupService,
    private readonly runs: TrialRunRepository,
    private readonly figures: RunFigureRepository,
    private readonly courses: CourseRepository,
    private readonly ratings: RatingRepository,
    private readonly fittings: FittingService,
    private readonly records: FittingRecordRepository,
    private readonly costs: CostService,
    private readonly pool: PagePool,
    private readonly calibrations: CalibrationService,
    private readonly lives: LifeService,
  ) {}

  async weighUp({ use, revisionIds }: WeighUpRequest): Promise<WeighUp> {
    const compared = await this.setupsOf(revisionIds);
    const courses = await this.courses.list();
    const courseNames = new Map(courses.map(({ id, name }) => [id, name]));
    const counted = (await this.runs.runsOf(revisionIds)).filter(
      ({ isExcluded, isSimulated, isMostlyEstimated }) => !isExcluded && !isSimulated && !isMostlyEstimated,
    );
    const { currency, of: facts } = await this.factsOf(compared);
    const standings = compared.map((_, s): Record<string, Standing> => ({ ...definedOf(facts[s]!) }));
    const basis = new Map<string, string>();
    const put = (key: string, found: FigureStandings | undefined): void => {
      found?.standings.forEach((standing, s) => {
        if (standing) standings[s]![key] = standing;
      });
      if (found) basis.set(key, basisText(found, courseNames));
    };
    const wanted = [...use.criteria, ...use.mustHaves].map(({ key }) => key);
    const runsOf = new Map<CriterionKey, StandingRun[]>();
    for (const key of new Set(wanted))
      if (isFigureCriterion(key)) {
        const { kinds } = DECIDING_FIGURES[key];
        const own = await this.standingRuns(
          compared,
          counted.filter(({ testKind }) => kinds.some((kind) => kind === testKind)),
          key,
        );
        runsOf.set(key, own);
        put(key, figureStandings(key, own, compared.length));
      } else if (key === 'steepestClimbed') await this.putSteepest(compared, counted, standings);
      else if (key === 'coldestRidden' || key === 'warmestRidden') putWeather(key, compared, counted, standings);
    const mustHaves: { key: string; label: string; unit: string; atLeast: number | null; atMost: number | null }[] = [];
    for (const { key, courseId, atLeast, atMost } of use.mustHaves) {
      const onCourse = courseId !== null && isFigureCriterion(key);
      const ownKey = onCourse ? `${key}@${courseId}` : key;
      if (onCourse) put(ownKey, figureStandings(key, runsOf.get(key) ?? [], compared.length, courseId));
      const { label, unit } = criterionWords(key);
      const place = onCourse ? ` on ${courseNames.get(courseId) ?? 'a course that is gone'}` : '';
      const foretold = onCourse
        ? await this.foretell(
            key,
            ownKey,
            courses.find(({ id }) => id === courseId),
            compared,
            standings,
          )
        : [];
      const said = foretold.length > 0 ? ` (foretold for ${foretold.join(', ')}: not ridden there)` : '';
      mustHaves.push({ key: ownKey, label: `${label}${place}${said}`, unit, atLeast, atMost });
    }
    const criteria = use.criteria.map(({ key, weight, worth }) => {
      const { label, unit, better } = criterionWords(key);
      const usual = usualWorth(
        key,
        standings.map((one) => one[key]),
      );
      return {
        key,
        label,
        unit,
        better,
        weight,
        worth: [...(worth ?? usual.points)],
        isUsualWorth: worth === null,
        basis: basis.get(key) ?? '',
      };
    });
    const weighed = await this.pool.run('weighUp', {
      use: {
        criteria: criteria.map(({ key, label, weight, worth }) => ({ key, label, weight, worth: { points: worth } })),
        mustHaves: mustHaves.map(({ key, label, atLeast, atMost }) => ({
          key,
          label,
          ...(atLeast !== null && { atLeast }),
          ...(atMost !== null && { atMost }),
        })),
      },
      candidates: compared.map(({ name }, s): Candidate => ({ name, standings: standings[s]! })),
    });
    return {
      setups: compared.map((setup, s) => ({ ...setup, letter: LETTERS[s]!, standings: standings[s]! })),
      criteria,
      mustHaves,
      weighed,
      currency,
    };
  }

  async quick({ criteria, mustHaves, candidates, seed }: z.output<typeof quickWeighUpSchema>): Promise<Weighed> {
    const use: Use = {
      criteria: criteria.map(({ key, label = key, weight, worth }) => ({
        key,
        label,
        weight,
        worth: { points: worth },
      })),
      mustHaves: mustHaves.map(({ key, label = key, atLeast, atMost }) => ({
        key,
        label,
        ...(atLeast !== undefined && { atLeast }),
        ...(atMost !== undefined && { atMost }),
      })),
    };
    return this.pool.run('weighUp', {
      use,
      candidates: candidates.map(({ name, standings }) => ({ name, standings: definedOf(standings) })),
      seed,
    });
  }

  /** In the order they were asked for; revisions of one setup are told apart by their number. */
  private async setupsOf(revisionIds: readonly string[]): Promise<Compared[]> {
    const revisions = (await this.setups.list()).flatMap(({ id, name, revisions: own }) =>
      own.map(({ id: revisionId, number }) => ({ revisionId, setupId: id, name, number })),
    );
    const found = revisionIds.map((id) => {
      const revision = revisions.find(({ revisionId }) => revisionId === id);
      if (!revision) throw notFound('A setup of this comparison');
      return revision;
    });
    return found.map(({ number, ...one }) => ({
      ...one,
      name: found.filter(({ name }) => name === one.name).length > 1 ? `${one.name} (revision ${number})` : one.name,
    }));
  }

  private async factsOf(
    compared: readonly Compared[],
  ): Promise<{ currency: string; of: ReturnType<typeof factStandings>[] }> {
    const summaries = await this.fittings.summaries();
    const kits = (await this.lives.fittedKits()).filter(({ km }) => km > 0);
    const costs = await this.costs.ofSetups(compared.map(({ setupId }) => setupId));
    const of = await Promise.all(
      compared.map(async ({ revisionId, setupId }, s) => {
        const detail = await this.setups.get(setupId);
        const revision = detail.revisions.find(({ id }) => id === revisionId)!;
        const ratings = (await this.ratings.ofSetup(setupId)).filter((one) => one.revisionId === revisionId);
        const record = await this.records.get(setupId);
        const elapsedS = summaries.find((one) => one.setupId === setupId)?.elapsedS ?? 0;
        const { sums, running } = costs[s]!;
        const hours = elapsedS > 0 ? elapsedS / 3600 : (record?.record.guessedHours ?? null);
        return factStandings({
          facts: toFacts(revision),
          marks: revision.marks,
          cost: sums.unpriced.length + sums.unrated.length === 0 && sums.conversion > 0 ? sums.conversion : null,
          runningCosts: running,
          fittingHours: hours,
          difficulty: record?.record.ratedDifficulty ?? record?.record.guessedDifficulty ?? null,
          felt: summariseRatings(ratings),
          faults: faultsOfKit(kits, revision.parts.kit?.name),
        });
      }),
    );
    return { currency: (await this.costs.book()).book.home, of };
  }

  private async standingRuns(
    compared: readonly Compared[],
    runs: readonly TrialRun[],
    key: string,
  ): Promise<StandingRun[]> {
    const values = await this.figures.of(
      runs.map(({ id }) => id),
      key,
    );
    return runs.flatMap((run): StandingRun[] => {
      const figure = values.get(run.id);
      if (!figure) return [];
      const { value, standardUncertainty, systematic } = figure;
      return [
        {
          setup: compared.findIndex(({ revisionId }) => revisionId === run.revisionId),
          kind: run.testKind,
          course: run.courseId,
          outing: run.outing.id,
          riding: run.riding,
          value,
          standardUncertainty,
          systematic,
          loggerId: run.loggerId,
        },
      ];
    });
  }

  /** Who was not ridden on a course is foretold there from the rides it has; gives back the letters of those. */
  private async foretell(
    key: CriterionKey,
    ownKey: string,
    course: Course | undefined,
    compared: readonly Compared[],
    standings: Record<string, Standing>[],
  ): Promise<string[]> {
    const figureKey = FORETOLD[key];
    if (figureKey === undefined || !course || course.lengthM === null) return [];
    const letters: string[] = [];
    for (const [s, { setupId }] of compared.entries()) {
      if (standings[s]![ownKey]) continue;
      const figure = (await this.calibrations.onCourse(setupId, course))?.find((one) => one.key === figureKey);
      if (!figure) continue;
      const [low, high] = figure.interval95;
      standings[s]![ownKey] = { value: figure.value, standardUncertainty: (high - low) / NORMAL_95 };
      letters.push(LETTERS[s]!);
    }
    return letters;
  }

  /** The steepest climb that each setup has ridden: what it did, not what it might do. */
  private async putSteepest(
    compared: readonly Compared[],
    runs: readonly TrialRun[],
    standings: Record<string, Standing>[],
  ): Promise<void> {
    const climbs = await this.standingRuns(
      compared,
      runs.filter(({ testKind }) => testKind === 'hill-climb'),
      GRADE,
    );
    for (const { setup, value, standardUncertainty } of climbs.toSorted((a, b) => a.value - b.value))
      standings[setup]!['steepestClimbed'] = { value, standardUncertainty };
  }
}

/** The coldest or warmest air that each setup was ridden in: what it stood, not what it might. Rides without a temperature say nothing. */
function putWeather(
  key: 'coldestRidden' | 'warmestRidden',
  compared: readonly Compared[],
  runs: readonly TrialRun[],
  standings: Record<string, Standing>[],
): void {
  compared.forEach(({ revisionId }, s) => {
    const airs = runs.flatMap((run) =>
      run.revisionId === revisionId && run.conditions.airTemperature !== undefined
        ? [run.conditions.airTemperature]
        : [],
    );
    if (airs.length > 0)
      standings[s]![key] = {
        value: key === 'coldestRidden' ? Math.min(...airs) : Math.max(...airs),
        standardUncertainty: THERMOMETER_K,
      };
  });
}

/** Of all that the same kit was fitted to; null where no entry was ever made of one: nobody counts then. */
function faultsOfKit(kits: readonly FittedKit[], name: string | undefined): FaultRate | null {
  const own = kits.filter(({ groups, isKept }) => isKept && groups.kit === name);
  return name === undefined || own.length === 0 ? null : faultRate(name, own);
}

function basisText(found: FigureStandings, names: ReadonlyMap<string, string>): string {
  const { kind, course, riding, runs, usualScatter, isDayBetween } = found;
  const parts = [
    `${TEST_KINDS[kind].label} on ${names.get(course) ?? 'a course that is gone'}`,
    ...(riding === '' ? [] : [riding]),
    `${runs.map((count, s) => `${LETTERS[s]!} ${count}`).join(', ')} runs`,
    ...(usualScatter === null
      ? []
      : [`too few for a scatter of their own: ± ${Math.round(100 * usualScatter)} % taken`]),
    ...(isDayBetween ? ['not all were out on shared days: what a day does is in the doubt'] : []),
  ];
  return parts.join('; ');
}

/** What is undefined is left out, as the core has it. */
function definedOf(standings: Readonly<Record<string, object | undefined>>): Record<string, Standing> {
  return Object.fromEntries(
    Object.entries(standings).flatMap(([key, standing]) =>
      standing === undefined
        ? []
        : [
            [
              key,
              Object.fromEntries(
                Object.entries(standing).filter(([, value]) => value !== undefined),
              ) as unknown as Standing,
            ],
          ],
    ),
  );
}
