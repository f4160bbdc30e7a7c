import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { fitClock, toLoggerTime } from '@ebrix/core/logger';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { BEFORE_START_S } from '@ebrix/core/ride';
import type { RideMark, RunAssignment } from '@ebrix/contract';
import { PartsRepository } from '../bench/parts.repository.js';
import { DomainError } from '../common/domain-error.js';
import { JobPool, PagePool } from '../compute/compute-pool.js';
import type { TaskResult } from '../compute/tasks.js';
import { KNEX } from '../database/database.module.js';
import { ImportRepository } from '../imports/import.repository.js';
import { AnalysisRequests } from '../jobs/analysis-requests.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { SessionRepository } from '../loggers/session.repository.js';
import { OutingRepository } from '../outings/outing.repository.js';
import { PlanRepository } from '../plans/plan.repository.js';
import { gaugeOfRide, manualReadingsOfRide } from './manual-readings-of-ride.js';
import { writeManualReadingsFile } from './manual-readings-file.js';
import { SIMULATED_LOGGER } from './ride-states.js';
import { RideMarkRepository } from './ride-mark.repository.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository } from './ride.repository.js';

/** Fewer lines than this are no log: the logger fell silent before the ride. */
const MIN_SAMPLES = 10;

/** Characters of lines that are a file within a page's patience; hours of a phone that feels its movement are more. */
const MOST_WHILE_WAITING = 16_000_000;

/** Turns a finished ride into a file and queues it as an import, in one transaction with what the ride becomes. */
@Injectable()
export class RunOfRideService {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly rides: RideRepository,
    private readonly marks: RideMarkRepository,
    private readonly plans: PlanRepository,
    private readonly parts: PartsRepository,
    private readonly outings: OutingRepository,
    private readonly imports: ImportRepository,
    private readonly requests: AnalysisRequests,
    private readonly hub: LoggerHub,
    private readonly pool: PagePool,
    private readonly jobPool: JobPool,
    private readonly sessions: SessionRepository,
  ) {}

  /** Makes a run of the ride: of the logger's lines where there are some, else of what was written down. */
  async make(ride: StoredRide): Promise<void> {
    if (ride.sessionId !== null) await this.hub.settle(ride.sessionId);
    const log = await this.logOf(ride);
    await this.database.transaction((transaction) => this.makeWithin(ride.id, log, transaction));
  }

  /** The ride is held: marks that arrive meanwhile wait, and are refused once it is kept, so that none is lost unseen. */
  private async makeWithin(
    id: string,
    log: Awaited<ReturnType<RunOfRideService['logOf']>>,
    transaction: Knex,
  ): Promise<void> {
    const ride = await this.rides.lock(id, transaction);
    if (ride?.state !== 'finished')
      throw new DomainError('changed-meanwhile', 'Another phone moved this ride on meanwhile.');
    const marks = await this.marks.marksOf(ride.id, transaction);
    const manualReadings = manualReadingsOfRide(marks, ride.preparation, ride.after);
    if (!log && !manualReadings)
      throw new DomainError(
        'cannot-compute',
        'No logger line and no reading: there is nothing to make a run of. Type in what the display, the gauge or the stopwatch showed, or abort with the reason.',
      );
    const file = log
      ? { bytes: Buffer.from(log.bytes), mapping: log.mapping, suffix: 'csv' }
      : {
          bytes: writeManualReadingsFile({
            rideId: ride.id,
            startedAt: ride.startedAt,
            manualReadings,
            preparation: ride.preparation,
            after: ride.after,
            marks,
          }),
          mapping: null,
          suffix: 'json',
        };
    const outingId = ride.outing?.id ?? (await this.outingFor(ride, transaction));
    const planned = ride.slotId === null ? undefined : await this.plans.findSlot(ride.slotId);
    const assignment = await this.assignmentOf(ride, outingId, manualReadings, planned?.riding, marks);
    await this.rides.step(ride.id, 'finished', 'kept', { outingId }, transaction);
    if (await this.isSimulated(ride)) await this.rides.markSimulated(ride.id, transaction);
    if (ride.slotId !== null) await this.plans.setState(ride.slotId, 'ridden', transaction);
    const importId = await this.imports.insertQueued(
      {
        fileName: `${TEST_KINDS[ride.testKind].label.toLowerCase().replaceAll(' ', '-')}-${ride.startedAt!.slice(0, 16).replace(':', '')}.${file.suffix}`,
        sha256: createHash('sha256').update(file.bytes).digest('hex'),
        bytes: file.bytes,
        mapping: file.mapping,
        assignment,
        rideId: ride.id,
      },
      transaction,
    );
    await this.requests.readImport(importId, transaction);
  }

  /** By the simulated logger, or by one whose seconds run faster than the world's. */
  private async isSimulated({ logger, sessionId }: StoredRide): Promise<boolean> {
    if (logger?.name.toLowerCase() === SIMULATED_LOGGER.toLowerCase()) return true;
    const session = sessionId === null ? undefined : await this.sessions.find({ 's.id': sessionId });
    return session !== undefined && session.hello.pace !== 1;
  }

  private async logOf(ride: StoredRide): Promise<TaskResult<'assembleRide'>> {
    if (ride.sessionId === null) return undefined;
    const session = await this.sessions.find({ 's.id': ride.sessionId });
    if (!session) return undefined;
    const { fromT, toT } = await this.spanOf(ride, session.hello.pace);
    const chunks = await this.sessions.chunksOf(session.id, fromT, toT);
    const { channels, units } = session.hello;
    const pool = chunks.reduce((sum, chunk) => sum + chunk.length, 0) > MOST_WHILE_WAITING ? this.jobPool : this.pool;
    const log = await pool.run('assembleRide', { hello: { channels, units }, chunks, fromT, toT });
    return log && log.samples >= MIN_SAMPLES ? log : undefined;
  }

  /** Where the ride lies on the logger's clock: as noted at start and finish, else by when lines arrived. */
  private async spanOf(ride: StoredRide, pace: number): Promise<{ fromT: number; toT: number }> {
    if (ride.fromT !== null && ride.toT !== null) return { fromT: ride.fromT, toT: ride.toT };
    const map = fitClock(await this.sessions.arrivalsOf(ride.sessionId!), pace);
    const at = (iso: string | null, otherwise: number): number =>
      map && iso !== null ? toLoggerTime(map, Date.parse(iso) / 1000) : otherwise;
    return {
      fromT: ride.fromT ?? at(ride.startedAt, -Infinity) - BEFORE_START_S,
      toT: ride.toT ?? at(ride.finishedAt, Infinity),
    };
  }

  private async outingFor(ride: StoredRide, transaction: Knex): Promise<string> {
    const day = localDay(new Date(ride.startedAt!));
    const planned = ride.slotId === null ? undefined : await this.plans.findSlot(ride.slotId);
    if (planned) {
      const known = await this.rides.outingOfPlan(planned.trialId, planned.slot.outing, day, transaction);
      if (known !== undefined) return known;
    }
    const { airTemperatureC, windMps, windFromDeg, airPressureHpa } = ride.preparation;
    const title = planned ? `${planned.question.slice(0, 60)} outing ${planned.slot.outing}` : `Ride of ${day}`;
    const weather = { airTemperatureC, windMps, windFromDeg, airPressureHpa, relativeHumidity: null };
    return this.outings.insert({ title, date: day, ...weather, notes: '' }, transaction);
  }

  private async assignmentOf(
    ride: StoredRide,
    outingId: string,
    manualReadings: RunAssignment['manualReadings'],
    planned: RunAssignment['riding'] | undefined,
    marks: readonly RideMark[],
  ): Promise<RunAssignment> {
    const { preparation, after } = ride;
    const levels = [...new Set((manualReadings?.levelsSeen ?? []).map(({ level }) => level))];
    const logger = ride.logger && (await this.parts.find('loggers', ride.logger.id));
    return {
      setupRevisionId: ride.setup.revisionId,
      courseId: ride.courseId,
      outingId,
      riderId: ride.rider?.id ?? null,
      loggerId: logger?.id ?? null,
      testKind: ride.testKind,
      totalMassKg: null,
      emptied: after.isEmptied,
      isPartWay: preparation.isPartWay,
      gauge: gaugeOfRide(marks, preparation, after),
      ruleOfThumbWhPerKm: null,
      notes: after.notes,
      riding: {
        way: ride.effort,
        // Noted on the way, where none was set before and it stayed the same.
        level: ride.level || (levels.length === 1 ? levels[0]! : ''),
        gear: after.gear || (planned?.gear ?? ''),
        payloadKg: after.payloadKg ?? planned?.payloadKg ?? null,
        limitMode: planned?.limitMode ?? null,
        laps: after.laps ?? ride.laps,
      },
      tyrePressureBar: preparation.tyrePressureBar,
      perceivedEffort: after.perceivedEffort,
      wheelFactor: null,
      direction: ride.direction,
      slotId: ride.slotId,
      manualReadings,
      logSpan: null,
    };
  }
}

/** The day where the server stands: an outing is of a day. */
function localDay(date: Date): string {
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${date.getFullYear()}-${two(date.getMonth() + 1)}-${two(date.getDate())}`;
}
