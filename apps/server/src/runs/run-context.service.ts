import { Injectable } from '@nestjs/common';
import { assessCourse, knownProfile, partOfTypedClimb, pathOfCourse, timedSection } from '@ebrix/core/courses';
import type { ManualReadings, TestContext } from '@ebrix/core/analysis';
import { learnFrom, learnGauge, usableEnergy } from '@ebrix/core/battery';
import { fullVoltageV, helpEndsKmh, totalMass } from '@ebrix/core/bench';
import { USUAL_LIMITS } from '@ebrix/core/ride';
import type { Course, LearnedReadings, Part, RevisionParts, RunAssignment } from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { notFound } from '../common/domain-error.js';
import { withoutNulls } from '../common/row.js';
import { CourseRepository } from '../courses/course.repository.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { toFacts, type StoredFacts } from '../setups/revision-facts.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { LearnedReadingsRepository } from './learned-readings.repository.js';

/** What is known about a run beside its log: parts as they were, rider, logger, weather. */
@Injectable()
export class RunContextService {
  constructor(
    private readonly setups: SetupRepository,
    private readonly parts: PartsRepository,
    private readonly outings: OutingRepository,
    private readonly courses: CourseRepository,
    private readonly learnedReadings: LearnedReadingsRepository,
  ) {}

  async contextOf(assignment: RunAssignment): Promise<TestContext> {
    const { setupRevisionId, outingId, riderId, loggerId, totalMassKg, emptied, gauge, ruleOfThumbWhPerKm } =
      assignment;
    const [revisions, [outing], rider, logger, [course]] = await Promise.all([
      this.setups.findFacts([setupRevisionId]),
      this.outings.list(outingId),
      riderId === null ? undefined : this.parts.find('riders', riderId),
      loggerId === null ? undefined : this.parts.find('loggers', loggerId),
      this.courses.list(assignment.courseId),
    ]);
    const revision = revisions.get(setupRevisionId);
    if (!revision) throw notFound('The chosen setup');
    if (!outing) throw notFound('The chosen outing');
    const pack = packKnowledge(revision.parts);
    const learned = await this.learned(assignment, pack, revision.parts.charger?.efficiency ?? null);
    const mass = totalMassKg ?? massWith(revision, rider, assignment.riding.payloadKg);
    const { bike } = revision.parts;
    return {
      ...withoutNulls({
        airTemperatureC: outing.airTemperatureC,
        airPressurePa: outing.airPressureHpa === null ? null : outing.airPressureHpa * 100,
        relativeHumidity: outing.relativeHumidity,
        windMps: outing.windMps,
        totalMassKg: mass,
        cdaM2: bike.dragAreaM2,
        crr: bike.rollingCoefficient,
      }),
      // Where it came from is known by the compass, the course's own direction is not.
      windIsUnsided: true,
      pack,
      ...(learned && { learned }),
      // A ride stopped early is the ordinary case: its distance counts as "more than" in the verdict, not as a warning here.
      ...(emptied && { emptied }),
      ...(assignment.isPartWay && { isPartWay: true }),
      ...(gauge && {
        gauge: { startShare: gauge.start / gauge.bars, endShare: gauge.end / gauge.bars, stepShare: 1 / gauge.bars },
      }),
      ...(ruleOfThumbWhPerKm !== null && { ruleOfThumbWhPerKm }),
      ...(assignment.wheelFactor && { wheelFactor: assignment.wheelFactor }),
      ...(logger && { instrument: instrumentOf(logger) }),
      ...(logger?.cadenceDelayS != null && { sensorDelayS: logger.cadenceDelayS }),
      ...(course && courseKnowledge(course, assignment.direction)),
      ...(assignment.riding.laps !== null && { laps: assignment.riding.laps }),
      ...(assignment.manualReadings && { manualReadings: assignment.manualReadings as ManualReadings }),
      ...(assignment.logSpan && { logSpan: assignment.logSpan }),
      ...(assignment.riding.way === null && { proposesRiding: true }),
      ...withoutNulls({
        assistLimitKmh: helpEndsKmh(toFacts(revision)),
        fullVoltageV: revision.parts.packs[0] ? fullVoltageV(revision.parts.packs[0]) : null,
        temperatureLimitC: USUAL_LIMITS.motorC,
      }),
      charging: withoutNulls({
        currentA: revision.parts.charger?.outputA ?? null,
        efficiency: revision.parts.charger?.efficiency ?? null,
        pricePerKWh: revision.fit.electricityPerKWh,
        currency: revision.fit.currency,
      }),
    };
  }

  /** For its newest revision. Fails: `not-found`. */
  async learnedOfSetup(setupId: string): Promise<LearnedReadings> {
    const [setup] = await this.setups.list(setupId);
    const revision = setup?.revisions[0];
    const facts = revision && (await this.setups.findFacts([revision.id])).get(revision.id);
    if (!revision || !facts) throw notFound('This setup');
    const bars = await this.learnedReadings.barsOf(revision.id);
    const usableWh = usableEnergy(packKnowledge(facts.parts))?.energyWh;
    const shares = await this.learnedReadings.chargeEfficiencies(revision.id);
    return {
      bars,
      gauge:
        bars === null || usableWh === undefined
          ? []
          : learnGauge(await this.learnedReadings.gaugeReadings(revision.id), { stepShare: 1 / bars, usableWh }),
      chargeEfficiency:
        shares.length === 0 ? null : learnFrom(chargerPrior(facts.parts.charger?.efficiency ?? null), shares),
    };
  }

  /** What this pack's gauge and charger were seen to mean beside a logger, where the run has a reading of them. */
  private async learned(
    { setupRevisionId, gauge, manualReadings }: RunAssignment,
    pack: NonNullable<TestContext['pack']>,
    statedEfficiency: number | null,
  ): Promise<TestContext['learned'] | undefined> {
    const usableWh = usableEnergy(pack)?.energyWh;
    const levels =
      gauge && usableWh !== undefined
        ? learnGauge(await this.learnedReadings.gaugeReadings(setupRevisionId), { stepShare: 1 / gauge.bars, usableWh })
        : [];
    const shares =
      manualReadings?.wallEnergyWh === undefined ? [] : await this.learnedReadings.chargeEfficiencies(setupRevisionId);
    if (levels.length === 0 && shares.length === 0) return undefined;
    return {
      ...(levels.length > 0 && { gauge: levels }),
      ...(shares.length > 0 && { chargeEfficiency: learnFrom(chargerPrior(statedEfficiency), shares) }),
    };
  }
}

/** An ordinary charger, or as its papers say; one charge differs from the next by a little. */
const ORDINARY_EFFICIENCY = { mean: 0.86, limit: 0.06, statedLimit: 0.03, scatter: 0.015 };
export function chargerPrior(stated: number | null): Parameters<typeof learnFrom>[0] {
  const { mean, limit, statedLimit, scatter } = ORDINARY_EFFICIENCY;
  return { mean: stated ?? mean, placeDeviation: (stated === null ? limit : statedLimit) / Math.sqrt(3), scatter };
}

/** Bike with all that is fitted, who rode it and what was carried, where that was written down; null while a part's mass is not known. */
function massWith(stored: StoredFacts, rider: Part<'riders'> | undefined, payloadKg: number | null): number | null {
  const facts = toFacts(stored);
  const { missing, totalKg } = totalMass({
    ...facts,
    fit: { ...facts.fit, riderMassKg: rider?.massKg ?? null, payloadKg },
  });
  return missing.length > 0 ? null : totalKg;
}

/** Gates and climb of the course in the direction ridden; nothing where its length is not known. */
function courseKnowledge(course: Course, direction: 1 | -1): Pick<TestContext, 'course'> {
  const { lengthM, kind, gates, track } = course;
  if (lengthM === null) return {};
  const timed = timedSection(gates, lengthM, direction);
  const [fromM, toM] =
    direction === 1 ? [timed.startM, timed.finishM] : [lengthM - timed.finishM, lengthM - timed.startM];
  const partM = toM - fromM;
  const typed = track?.profile ? undefined : partOfTypedClimb({ ...course, lengthM }, partM);
  const profile = typed ? undefined : knownProfile(course);
  const mean = profile && assessCourse(profile, { direction, fromM, toM }).meanGrade;
  return {
    course: {
      lengthM,
      ...timed,
      isLoop: kind === 'loop',
      lapGates: gates.filter((gate) => gate.kind === 'lap').length,
      ...(track && !timed.isWhole && { path: pathOfCourse({ ...track, lengthM }, direction) }),
      ...(mean && { gainM: mean.grade * partM, gainUncertaintyM: mean.uncertainty * partM }),
      ...(typed && { gainM: direction * typed.gainM, gainUncertaintyM: typed.uncertaintyM }),
    },
  };
}

/** A sum of which one part is unknown is unknown. */
function addUp(masses: readonly (number | null)[]): number | null {
  return masses.reduce((sum: number | null, mass) => (sum === null || mass === null ? null : sum + mass), 0);
}

/** Packs in parallel: charges and energies add, the voltage is that of one. */
function packKnowledge({ packs }: RevisionParts): NonNullable<TestContext['pack']> {
  const [first] = packs;
  if (!first) return {};
  const uncertainties = packs.map((pack) => pack.measuredEnergyUncertaintyWh);
  return withoutNulls({
    chemistry: first.chemistry,
    nominalVoltageV: first.nominalVoltageV,
    capacityAh: addUp(packs.map((pack) => pack.capacityAh)),
    usableShare: first.usableShare,
    measuredEnergyWh: addUp(packs.map((pack) => pack.measuredEnergyWh)),
    measuredEnergyUncertaintyWh: uncertainties.includes(null) ? null : Math.hypot(...uncertainties.map((u) => u!)),
  });
}

function instrumentOf({
  voltageGain,
  currentGain,
  currentOffsetA,
  distanceGain,
  altitudeM,
}: Part<'loggers'>): NonNullable<TestContext['instrument']> {
  return withoutNulls({ voltageGain, currentGain, currentOffsetA, distanceGain, altitudeM });
}
