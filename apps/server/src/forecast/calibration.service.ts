import { createHash } from 'node:crypto';
import { Injectable, Logger } from '@nestjs/common';
import { airDensityOf, type TestContext } from '@ebrix/core/analysis';
import { helpEndsKmh, isConverted, totalMass } from '@ebrix/core/bench';
import { CoreError } from '@ebrix/core/errors';
import {
  CALIBRATION_VERSION,
  knownFromFacts,
  factsOfTest,
  sharedByBike,
  PARAMETERS,
  type KnownOfBike,
  type LearntParameter,
  type RideFacts,
} from '@ebrix/core/forecast';
import { LogProblemError, type LogMapping } from '@ebrix/core/logs';
import { knownProfile } from '@ebrix/core/courses';
import { EFFORTS, rideCourseOf } from '@ebrix/core/ride-model';
import type { Course, ForecastAnswer, ForecastAsk, RunSummary, SetupCalibration } from '@ebrix/contract';
import { DomainError, notFound } from '../common/domain-error.js';
import { withoutNulls } from '../common/row.js';
import { JobPool, PagePool } from '../compute/compute-pool.js';
import type { RideToLearn } from '../compute/learn-rides.js';
import type { LearnedBike } from '../compute/task-types.js';
import { RunContextService } from '../runs/run-context.service.js';
import { LifeService } from '../logbook/life.service.js';
import { RunFigureRepository } from '../runs/run-figure.repository.js';
import { RunRepository } from '../runs/run.repository.js';
import { LearnedBikeRepository } from './learned-bike.repository.js';
import { RideConditionsRepository } from './ride-conditions.repository.js';
import { toFacts } from '../setups/revision-facts.js';
import { SetupRepository, type StoredSetup } from '../setups/setup.repository.js';

/** More than these add little and take long. */
const MOST_RIDES = 20;
const MOST_BYTES = 160 * 1024 * 1024;
/** Setups whose calibration is kept at hand. */
const MOST_KEPT = 40;
const PATIENCE_MS = 3000;
const LEAST_RIDES = 2;
/** With fewer than so many of its own, rides of another kit on the same bike are asked about what both share. */
const FEW_RIDES = 3;
const USUAL_RIDER_KG = 80;
const USUAL_BIKE_KG = 30;
const USUAL_RIDER_W = 80;
const BELOW_END_KMH = 2;
const WIND_ALONG = 0.7;
const CALM_MPS = 0.5;
const USUAL_SPEED_KMH = 22;

interface Learned extends LearnedBike {
  readonly rides: SetupCalibration['rides'];
  /** Name of the setup on the same bike whose rides were asked about air and road. */
  readonly sharedFrom: string | null;
}

/** Bikes as their rides show them: learned once, and anew when rides or parts change. */
@Injectable()
export class CalibrationService {
  private readonly logger = new Logger('forecast');
  private readonly kept = new Map<string, { readonly fingerprint: string; readonly learned: Promise<Learned> }>();

  constructor(
    private readonly conditions: RideConditionsRepository,
    private readonly setups: SetupRepository,
    private readonly runs: RunRepository,
    private readonly figures: RunFigureRepository,
    private readonly contexts: RunContextService,
    private readonly pages: PagePool,
    private readonly jobs: JobPool,
    private readonly lives: LifeService,
    private readonly store: LearnedBikeRepository,
  ) {}

  /** Fails: `not-found`; `cannot-compute` for a bike without a kit. */
  async ofSetup(setupId: string): Promise<SetupCalibration> {
    const { setup, revisionId, facts } = await this.newest(setupId);
    const { calibration, trust, rides, sharedFrom } = await this.learned(setupId);
    const mass = totalMass(facts);
    const [pack] = facts.packs;
    const helpEnds = helpEndsKmh(facts) ?? null;
    return {
      setup: { id: setup.id, name: setup.name, revisionId },
      calibration: calibration as unknown as Record<string, unknown>,
      trust: trust,
      parameters: calibration.parameters.map(spelled),
      rides,
      sharedFrom,
      usual: {
        totalMassKg:
          mass.missing.length === 0
            ? mass.totalKg
            : (mass.missing.every((what) => what === 'rider') ? (mass.fittedKg ?? USUAL_BIKE_KG) : USUAL_BIKE_KG) +
              (facts.fit.riderMassKg ?? USUAL_RIDER_KG) +
              (facts.fit.payloadKg ?? 0),
        massIsKnown: mass.missing.length === 0,
        targetSpeedKmh: helpEnds === null ? USUAL_SPEED_KMH : Math.round(helpEnds - BELOW_END_KMH),
        helpEndsKmh: helpEnds,
        riderPowerW: USUAL_RIDER_W,
        levels: calibration.command.levels.map(({ level, demand }) => ({ level, demand })),
        packAh: pack?.capacityAh ?? null,
        packMassKg: pack?.massKg ?? null,
        temperatureLimitC: calibration.fixed.temperatureLimitC,
      },
    };
  }

  async forecast({ setupId, scenario, seed }: ForecastAsk): Promise<ForecastAnswer> {
    const { calibration, trust } = await this.learned(setupId);
    const outcome = await this.pages.run('forecast', { calibration, trust, scenario: scenario as never, seed });
    if (!outcome.ok) throw new CoreError(outcome.code, outcome.message);
    return {
      ...outcome.value,
      parameters: calibration.parameters.map(spelled),
      trust: trust,
    };
  }

  /** Calibration of a setup: from memory, or from the database, where nothing changed since. */
  async learned(setupId: string): Promise<Learned> {
    const { setup, facts } = await this.newest(setupId);
    const runs = await this.runsOf(setup, facts);
    const sibling = runs.length < FEW_RIDES ? await this.ofSameBike(setup) : undefined;
    const known: KnownOfBike = {
      ...knownFromFacts(facts),
      ...(await this.agedPack(setupId)),
      ...(sibling && { ofSameBike: sharedByBike(sibling.learned.calibration) }),
    };
    const fingerprint = createHash('sha256')
      .update(
        JSON.stringify([
          CALIBRATION_VERSION,
          known,
          await this.conditions.changedAt(),
          runs.map(({ id, version, figures }) => [id, version, figures]),
        ]),
      )
      .digest('hex');
    const before = this.kept.get(setupId);
    if (before?.fingerprint === fingerprint) return before.learned;
    const learned = this.storedOrLearned(setupId, fingerprint, async () => ({
      ...(await this.learn(runs, known)),
      sharedFrom: sibling?.name ?? null,
    }));
    this.kept.set(setupId, { fingerprint, learned });
    // What failed is tried again; what is oldest makes room.
    learned.catch(() => {
      if (this.kept.get(setupId)?.learned === learned) this.kept.delete(setupId);
    });
    for (const oldest of this.kept.keys()) {
      if (this.kept.size <= MOST_KEPT) break;
      this.kept.delete(oldest);
    }
    return learned;
  }

  /** As it was learned before a restart or by another server, else anew. */
  private async storedOrLearned(setupId: string, fingerprint: string, learn: () => Promise<Learned>): Promise<Learned> {
    const stored = await this.store.find<Learned>(setupId, fingerprint);
    if (stored) return stored;
    const learned = await learn();
    await this.store.save(setupId, fingerprint, learned);
    return learned;
  }

  /** What the pack still gives of its label, where its readings tell that it fades. */
  private async agedPack(setupId: string): Promise<Pick<KnownOfBike, 'usableShare'>> {
    const { ageing } = await this.lives.ofSetup(setupId);
    return ageing?.verdict === 'fades' && ageing.shareNow > 0 ? { usableShare: Math.min(1, ageing.shareNow) } : {};
  }

  /** The setup on the same bike whose rides tell most, where one has enough of its own. */
  private async ofSameBike(setup: StoredSetup): Promise<{ name: string; learned: Learned } | undefined> {
    const bikeId = setup.revisions[0]?.bike.id;
    const [best] = (await this.setups.list())
      .filter(({ id, revisions }) => id !== setup.id && revisions[0]?.kit && revisions[0].bike.id === bikeId)
      .map(({ id, name, revisions }) => ({
        id,
        name,
        runs: revisions.reduce((sum, { runCount }) => sum + runCount, 0),
      }))
      .sort((a, b) => b.runs - a.runs);
    if (!best || best.runs < FEW_RIDES) return undefined;
    // It has rides of its own and asks no further.
    const { facts, setup: other } = await this.newest(best.id);
    if ((await this.runsOf(other, facts)).length < FEW_RIDES) return undefined;
    return { name: best.name, learned: await this.learned(best.id) };
  }

  /** A charge on a course, ridden as the setup usually is; undefined where fewer than two rides taught it, or it is not learned in time. */
  async onCourse(setupId: string, course: Course): Promise<ForecastAnswer['figures'] | undefined> {
    const learned = await this.inTime(setupId);
    if (!learned || course.lengthM === null || learned.rides.filter(({ isUsed }) => isUsed).length < LEAST_RIDES)
      return undefined;
    const { usual } = await this.ofSetup(setupId);
    const { profile } = rideCourseOf({ lengthM: course.lengthM, profile: knownProfile(course) ?? null });
    const { calibration, trust } = learned;
    const outcome = await this.pages.run('forecast', {
      calibration,
      trust,
      seed: 1,
      scenario: {
        profile,
        totalMassKg: usual.totalMassKg,
        windMps: 0,
        startShare: 1,
        riding: { targetSpeedKmh: usual.targetSpeedKmh, riderPowerW: usual.riderPowerW },
      },
    });
    return outcome.ok ? outcome.value.figures : undefined;
  }

  /** The same where it is at hand or learned within a moment; else undefined, and the learning goes on for the next who asks. */
  async inTime(setupId: string): Promise<Learned | undefined> {
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<undefined>((resolve) => (timer = setTimeout(resolve, PATIENCE_MS, undefined)));
    try {
      return await Promise.race([this.learned(setupId).catch((error: unknown) => this.without(setupId, error)), late]);
    } finally {
      clearTimeout(timer);
    }
  }

  /** A plan or a bound goes on without; why stands in the log, and on the Forecast page. */
  private without(setupId: string, error: unknown): undefined {
    if (!(error instanceof DomainError))
      this.logger.warn(
        `setup ${setupId} could not be learned: ${error instanceof Error ? error.message : String(error)}`,
      );
    return undefined;
  }

  private async learn(runs: readonly RunSummary[], known: KnownOfBike): Promise<Omit<Learned, 'sharedFrom'>> {
    const rides: { id: string; name: string; isUsed: boolean; why: string }[] = [];
    const toLearn: RideToLearn[] = [];
    let bytes = 0;
    for (const run of runs) {
      const name = `${run.outing.title || run.outing.date}, ${run.course.name}`;
      const ride = await this.rideOf(run, name);
      bytes += typeof ride === 'string' ? 0 : ride.bytes.byteLength;
      if (typeof ride === 'string') rides.push({ id: run.id, name, isUsed: false, why: ride });
      else if (bytes > MOST_BYTES)
        rides.push({ id: run.id, name, isUsed: false, why: 'The logs before it are as much as is read at once.' });
      else {
        rides.push({ id: run.id, name, isUsed: true, why: '' });
        toLearn.push(ride);
      }
    }
    const outcome = await this.jobs.run('calibrate', { rides: toLearn, known });
    if (!outcome.ok) throw new LogProblemError(outcome.problem);
    const { unread, ...learned } = outcome.value;
    return {
      ...learned,
      rides: rides.map((ride) => {
        const found = unread.find(({ id }) => id === ride.id);
        return found ? { ...ride, isUsed: false, why: found.why } : ride;
      }),
    };
  }

  /** A run as a calibration takes it, or why it cannot. */
  private async rideOf(run: RunSummary, name: string): Promise<RideToLearn | string> {
    if (run.riding.way === 'off') return 'The motor was off: what the rider gave nobody measured.';
    const stored = await this.runs.findForAnalysis(run.id);
    if (!stored) return 'It was deleted meanwhile.';
    const context = await this.contexts.contextOf(stored.assignment);
    if (context.totalMassKg === undefined)
      return 'Its mass is not known: weigh bike and rider, or write their masses down.';
    const { way } = stored.assignment.riding;
    const facts: RideFacts = {
      name,
      outing: run.outing.id,
      totalMassKg: context.totalMassKg,
      ...withoutNulls({ airTemperatureC: context.airTemperatureC ?? null, airDensity: airDensityOf(context) ?? null }),
      ...(way !== null && { riderPowerW: EFFORTS[way].riderW }),
      ...factsOfTest(run.testKind),
      ...(isRound(context)
        ? { gainM: 0, windMps: 0, ...withoutNulls({ windRoundMps: context.windMps ?? null }) }
        : withoutNulls({ windDoubtMps: windDoubt(context) })),
    };
    const figures = stored.assignment.manualReadings ? await this.summaryOf(run.id) : undefined;
    return {
      id: run.id,
      bytes: stored.bytes,
      mapping: stored.mapping as LogMapping | null,
      facts,
      ...(figures && { figures }),
      ...withoutNulls({ span: context.logSpan ?? null, wheelFactor: context.wheelFactor ?? null }),
    };
  }

  private async summaryOf(runId: string): Promise<RideToLearn['figures']> {
    const [distance, moving, energy] = await Promise.all(
      ['distance', 'movingTime', 'energyOut'].map(
        async (key) => (await this.figures.of([runId], key)).get(runId)?.value,
      ),
    );
    return distance !== undefined && moving !== undefined && energy !== undefined
      ? { distanceM: distance * 1000, movingS: moving, energyWh: energy }
      : undefined;
  }

  private async runsOf(setup: StoredSetup, { kit, packs, bike }: ReturnType<typeof toFacts>): Promise<RunSummary[]> {
    const all = await this.setups.findFacts(setup.revisions.map(({ id }) => id));
    const alike = (parts: {
      kit: { name: string } | null;
      packs: readonly { name: string }[];
      bike: { name: string };
    }): string => JSON.stringify([parts.kit?.name, parts.packs.map(({ name }) => name), parts.bike.name]);
    const now = alike({ kit, packs, bike });
    const same = setup.revisions.filter(({ id }) => alike(toFacts(all.get(id)!)) === now).map(({ id }) => id);
    const runs = await this.runs.listOfRevisions(same, null);
    return ofEveryKind(runs.filter(({ exclusion, isSimulated }) => exclusion === null && !isSimulated));
  }

  private async newest(setupId: string) {
    const [setup] = await this.setups.list(setupId);
    const revisionId = setup?.revisions[0]?.id;
    const stored = revisionId === undefined ? undefined : (await this.setups.findFacts([revisionId])).get(revisionId);
    if (!setup || revisionId === undefined || !stored) throw notFound('This setup');
    const facts = toFacts(stored);
    if (!isConverted(facts))
      throw new DomainError('cannot-compute', 'A forecast is for a bike with a kit; this one has none fitted.');
    return { setup, revisionId, facts };
  }
}

/** On a way that does not come back the wind may be from anywhere: its component along is two thirds of it, and gusts. */
function windDoubt({ windMps }: TestContext): number | null {
  return windMps === undefined ? null : Math.hypot(WIND_ALONG * windMps, CALM_MPS);
}

/**
 * As many rides as are learned from, the newest first but of every kind: twenty rounds on the level would push out the one hill and the one
 * heating test, which alone tell of pull and warmth. In order of time.
 */
function ofEveryKind(runs: readonly RunSummary[]): RunSummary[] {
  const groups = new Map<string, RunSummary[]>();
  for (const run of runs) {
    const key = [run.testKind, run.course.id, run.riding.way, run.riding.level].join();
    const group = groups.get(key);
    if (group) group.push(run);
    else groups.set(key, [run]);
  }
  const chosen = new Set<RunSummary>();
  for (let turn = 0; chosen.size < Math.min(MOST_RIDES, runs.length); turn++)
    for (const group of groups.values()) {
      const run = group.at(-1 - turn);
      if (run && chosen.size < MOST_RIDES) chosen.add(run);
    }
  return runs.filter((run) => chosen.has(run));
}

/** Back where it began: what rose has fallen, and wind from ahead comes from behind as well. */
function isRound({ course }: TestContext): boolean {
  return course?.isLoop === true && course.isWhole;
}

export function spelled(parameter: LearntParameter): SetupCalibration['parameters'][number] {
  const { label, unit } = PARAMETERS[parameter.name];
  return { ...parameter, interval95: [...parameter.interval95], label, unit };
}
