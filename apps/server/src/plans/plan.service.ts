import { Injectable } from '@nestjs/common';
import { helpEndsKmh, isConverted, packEnergy, totalMass } from '@ebrix/core/bench';
import { knownProfile, timedSection } from '@ebrix/core/courses';
import {
  chargingOf,
  estimateFromOwnRides,
  estimateUnassisted,
  repeatabilityOf,
  type RideEstimate,
} from '@ebrix/core/planning';
import { airDensityKgPerM3 } from '@ebrix/core/physics';
import { EFFORTS, modelFromFacts, rideCourseOf, type RideCourse } from '@ebrix/core/ride-model';
import { summarizeSample } from '@ebrix/core/statistics';
import type { Course, OpenSlot, Plan, PlanBasis, PlanSave, PlanTest, Trial } from '@ebrix/contract';
import { changedMeanwhile } from '../bench/parts.service.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { PagePool } from '../compute/compute-pool.js';
import type { EstimateRequest } from '../compute/task-types.js';
import { CourseRepository } from '../courses/course.repository.js';
import { CalibrationService } from '../forecast/calibration.service.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { RunRepository } from '../runs/run.repository.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { TrialService } from '../trials/trial.service.js';
import { PlanRepository } from './plan.repository.js';

@Injectable()
export class PlanService {
  constructor(
    private readonly plans: PlanRepository,
    private readonly trials: TrialService,
    private readonly setups: SetupRepository,
    private readonly courses: CourseRepository,
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly pool: PagePool,
    private readonly calibrations: CalibrationService,
  ) {}

  async get(trialId: string): Promise<Plan | null> {
    await this.trials.get(trialId);
    return (await this.plans.find(trialId)) ?? null;
  }

  openSlots(): Promise<OpenSlot[]> {
    return this.plans.openSlots();
  }

  /** Fails: `reason-needed` once riding has begun; `wrong-state` when a ridden run would go or change. */
  async save(trialId: string, { version, input, slots, why }: PlanSave): Promise<Plan> {
    const trial = await this.trials.get(trialId);
    for (const { revisionId, letter, test } of slots) {
      if (armOf(trial, revisionId, letter) < 0)
        throw new DomainError('invalid-request', 'A planned run is of a setup that is no longer in this trial.');
      if (test >= input.tests.length)
        throw new DomainError('invalid-request', 'A planned run is of a test that is no longer in the plan.');
    }
    const before = await this.plans.find(trialId);
    const begun = (before?.slots ?? []).filter(({ state }) => state === 'underway' || state === 'ridden');
    if (begun.length > 0 && why === null)
      throw new DomainError(
        'reason-needed',
        'Riding has started: say in a few words why the plan changes. It is kept with the plan.',
      );
    for (const old of begun) {
      const now = slots.find(({ id }) => id === old.id);
      const isOtherArm = now && armOf(trial, now.revisionId, now.letter) !== armOf(trial, old.revisionId, old.letter);
      if (!now || isOtherArm || now.test !== old.test)
        throw new DomainError(
          'wrong-state',
          'A run that was ridden cannot be removed from the plan or given to another setup.',
        );
    }
    const places = new Map<number, number>();
    const placed = slots.map((slot) => {
      const position = (places.get(slot.outing) ?? 0) + 1;
      places.set(slot.outing, position);
      return { ...slot, position, arm: armOf(trial, slot.revisionId, slot.letter) };
    });
    const saved = await this.plans.save(trialId, version, input, placed, {
      what: describeChange(before, input, placed.length),
      why: why ?? '',
    });
    const current = await this.plans.find(trialId);
    if (!current) throw notFound('This plan');
    if (!saved) throw changedMeanwhile(current);
    return current;
  }

  /** Scatter of the deciding figure, and time, energy and warmth of every ride: own runs where there are some, else the model. */
  async basis(trialId: string, tests: readonly PlanTest[], airTemperatureC: number): Promise<PlanBasis> {
    const trial = await this.trials.get(trialId);
    const [facts, courses, all] = await Promise.all([
      this.setups.findFacts(trial.setups.map(({ revisionId }) => revisionId)),
      this.courses.list(),
      this.runs.listOfRevisions(
        trial.setups.map(({ revisionId }) => revisionId),
        null,
      ),
    ]);
    const courseOf = (test: PlanTest): Course => {
      const course = courses.find(({ id }) => id === test.courseId);
      if (!course) throw notFound('A chosen course');
      return course;
    };
    const requests: EstimateRequest[] = [];
    const details: { assumed: readonly string[]; distanceM: number; estimate?: RideEstimate }[] = [];
    for (const { revisionId, riding } of trial.setups)
      for (const test of tests) {
        const setup = toFacts(facts.get(revisionId)!);
        const course = rideOf(courseOf(test));
        const distanceM = course.lengthM * test.laps;
        if (!isConverted(setup)) {
          details.push({
            assumed: ['speed without a motor'],
            distanceM,
            estimate: estimateUnassisted(distanceM, airTemperatureC),
          });
          continue;
        }
        const { model, assumed } = modelFromFacts(setup, {
          effort: riding.way ?? trial.heldRiding.way ?? test.effort,
          level: riding.level || trial.heldRiding.level || test.level || null,
          targetSpeedKmh: null,
        });
        requests.push({
          model,
          course,
          laps: test.laps,
          conditions: {
            airDensity: airDensityKgPerM3(airTemperatureC),
            airTemperatureC,
            windMps: 0,
            startStateOfCharge: 1,
            startMotorC: airTemperatureC,
          },
        });
        details.push({ assumed, distanceM });
      }
    const calibrated = await this.calibrated(trial, tests, courseOf, facts, airTemperatureC);
    const modelled = (await this.pool.run('estimateRides', requests)).values();
    const estimates = details.map(({ estimate }) => estimate ?? modelled.next().value!);
    const counted = all.filter(({ exclusion, isSimulated }) => exclusion === null && !isSimulated);
    const own = await this.ownRuns(trial.decidingFigure);
    const energies = await this.figures.of(
      counted.map(({ id }) => id),
      'energyOut',
    );
    const setups = trial.setups.map(({ revisionId, letter, riding }, s): PlanBasis['setups'][number] => {
      const setup = toFacts(facts.get(revisionId)!);
      const { usable } = packEnergy(setup.packs);
      const charging = chargingOf(setup.charger);
      return {
        letter,
        revisionId,
        bikeKey: setup.bike.name,
        packKey: setup.packs.map(({ name }) => name).join(' + '),
        usableWh: 'value' in usable ? usable.value : null,
        chargeW: charging.powerW,
        chargeEfficiency: charging.efficiency,
        electricityPerKWh: setup.fit.electricityPerKWh,
        currency: setup.fit.currency,
        rides: tests.map((test, k) => {
          const at = s * tests.length + k;
          const model = estimates[at]!;
          const way = riding.way ?? trial.heldRiding.way ?? test.effort;
          const ridden = counted.filter(
            (run) =>
              run.setup.revisionId === revisionId &&
              run.course.id === test.courseId &&
              run.testKind === test.testKind &&
              (run.riding.way === null || run.riding.way === way),
          );
          const energy = ridden.flatMap(({ id }) => energies.get(id)?.value ?? []);
          const base = {
            distanceM: details[at]!.distanceM,
            coolDownS: model.coolDownS,
            hottestC: model.hottestC,
            endsEmpty: model.endedBy === 'cut-off',
          };
          const ownRides =
            test.laps === 1
              ? estimateFromOwnRides(
                  energy,
                  ridden.map(({ durationS }) => durationS),
                )
              : undefined;
          const learned = calibrated.get(at);
          const byRides = learned
            ? {
                ...base,
                coolDownS: learned.coolDownS,
                hottestC: learned.hottestC,
                endsEmpty: learned.endedBy === 'cut-off',
              }
            : base;
          if (ownRides) return { ...byRides, ...ownRides, source: 'own-runs', assumed: [] };
          if (learned)
            return {
              ...byRides,
              durationS: learned.durationS,
              energyWh: learned.energyWh,
              energyUncertaintyWh: learned.energyUncertaintyWh,
              source: 'calibrated',
              runs: learned.rides,
              assumed: [],
            };
          return {
            ...base,
            durationS: model.durationS,
            energyWh: model.energyWh,
            energyUncertaintyWh: model.energyUncertaintyWh,
            source: 'model',
            runs: 0,
            assumed: [...details[at]!.assumed],
          };
        }),
      };
    });
    return {
      repeatability: { ...own.repeatability, usual: { ...own.repeatability.usual } },
      typicalValue: own.typicalValue,
      setups,
    };
  }

  /** Rides by setups that their own rides taught, by place in the list of setups and tests. What is not learned in time is left to the model. */
  private async calibrated(
    trial: Trial,
    tests: readonly PlanTest[],
    courseOf: (test: PlanTest) => Course,
    facts: Awaited<ReturnType<SetupRepository['findFacts']>>,
    airTemperatureC: number,
  ): Promise<Map<number, RideEstimate & { readonly rides: number }>> {
    const found = new Map<number, RideEstimate & { readonly rides: number }>();
    const learned = await Promise.all(trial.setups.map(({ setupId }) => this.calibrations.inTime(setupId)));
    for (const [s, { revisionId, riding }] of trial.setups.entries()) {
      const bike = learned[s];
      const rides = bike?.rides.filter(({ isUsed }) => isUsed).length ?? 0;
      const setup = toFacts(facts.get(revisionId)!);
      if (!bike || rides < LEAST_RIDES || !isConverted(setup)) continue;
      const mass = totalMass(setup);
      if (mass.totalKg === null || mass.missing.length > 0) continue;
      for (const [k, test] of tests.entries()) {
        const { profile } = rideOf(courseOf(test));
        const ends = helpEndsKmh(setup);
        const level = Number(riding.level || trial.heldRiding.level || test.level || NaN);
        const seen = bike.calibration.command.levels;
        // Help at a level that no log shows is nothing that was taught.
        if (seen.length > 0 && Number.isInteger(level) && !seen.some((one) => one.level === level)) continue;
        const estimate = await this.pool.run('estimateCalibrated', {
          calibration: bike.calibration,
          trust: bike.trust,
          scenario: {
            profile: onAndOn(profile, test.laps),
            totalMassKg: mass.totalKg,
            airTemperatureC,
            windMps: 0,
            startShare: 1,
            riding: {
              riderPowerW: EFFORTS[riding.way ?? trial.heldRiding.way ?? test.effort].riderW,
              targetSpeedKmh: (ends ?? USUAL_ENDS_KMH) - BELOW_END_KMH,
              ...(seen.length > 0 && Number.isInteger(level) && { level }),
            },
          },
        });
        if (estimate.ok && estimate.value.energyWh > 0) found.set(s * tests.length + k, { ...estimate.value, rides });
      }
    }
    return found;
  }

  /** Earlier runs of the same figure, by course, kind and way of riding: only what is alike is pooled. */
  private async ownRuns(
    figure: string,
  ): Promise<{ repeatability: ReturnType<typeof repeatabilityOf>; typicalValue: number | null }> {
    const groups = await this.figures.groupsOf(figure);
    const values = groups.flat().map(({ value }) => value);
    return {
      repeatability: repeatabilityOf(figure, groups),
      typicalValue: values.length > 0 ? summarizeSample(values).mean : null,
    };
  }
}

/** Place of the arm that a planned run is of: by its letter, else the first with its setup; −1 where there is none. */
function armOf(trial: Trial, revisionId: string, letter: string | undefined): number {
  return trial.setups.findIndex(
    (setup) => setup.revisionId === revisionId && (letter === undefined || setup.letter === letter),
  );
}

/** One ride teaches little that the next does not upset. */
const LEAST_RIDES = 2;
const USUAL_ENDS_KMH = 25;
const BELOW_END_KMH = 1.5;

/** A course ridden several times, one lap behind the other. */
function onAndOn(profile: RideCourse['profile'], laps: number): RideCourse['profile'] {
  const { distanceM: lapM, altitudeM } = profile.at(-1)!;
  const rise = altitudeM - profile[0]!.altitudeM;
  return Array.from({ length: laps }, (_, lap) =>
    profile
      .slice(lap === 0 ? 0 : 1)
      .map((point) => ({ distanceM: point.distanceM + lap * lapM, altitudeM: point.altitudeM + lap * rise })),
  ).flat();
}

const UNKNOWN_LENGTH_M = 5000;

export function rideOf(course: Course, direction: 1 | -1 = 1): RideCourse {
  const lengthM = course.lengthM ?? UNKNOWN_LENGTH_M;
  const timed = timedSection(course.gates, lengthM, direction);
  // Gates that cut a loop do not shorten the way round.
  const isWhole = timed.isWhole || course.kind === 'loop';
  return rideCourseOf(
    { lengthM, profile: knownProfile(course) ?? null },
    direction,
    0,
    isWhole ? lengthM : direction === 1 ? timed.finishM : lengthM,
  );
}

function describeChange(before: Plan | undefined, input: Plan['input'], runs: number): string {
  const now = `${runs} runs in ${input.outings} ${input.outings === 1 ? 'outing' : 'outings'}`;
  if (!before) return `Planned: ${now}.`;
  if (before.slots.length === runs && before.input.outings === input.outings)
    return `Changed: order or rules, still ${now}.`;
  return `Changed: ${now} instead of ${before.slots.length} in ${before.input.outings}.`;
}
