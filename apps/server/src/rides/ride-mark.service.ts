import { Injectable } from '@nestjs/common';
import type { marksInputSchema, Ride } from '@ebrix/contract';
import type { z } from 'zod';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { SessionRepository } from '../loggers/session.repository.js';
import { RideMarkRepository } from './ride-mark.repository.js';
import { RideReader } from './ride-reader.service.js';
import type { StoredRide } from './ride-row.js';

/** A phone's clock further off than this is wrong by its date: the mark is then timed by its arrival. */
const MAX_SKEW_MS = 24 * 3600 * 1000;

/** Marks set on a phone, whose clock may be another one. */
@Injectable()
export class RideMarkService {
  constructor(
    private readonly marks: RideMarkRepository,
    private readonly reader: RideReader,
    private readonly hub: LoggerHub,
    private readonly sessions: SessionRepository,
    private readonly clock: Clock,
  ) {}

  async addMarks(id: string, { marks, sentAt }: z.output<typeof marksInputSchema>): Promise<Ride> {
    const ride = await this.reader.stored(id);
    const now = this.clock.now().getTime();
    const skewMs = now - Date.parse(sentAt);
    const pace = await this.paceOf(ride);
    const startedMs = ride.startedAt === null ? null : Date.parse(ride.startedAt);
    const isAdded = await this.marks.addMarks(
      id,
      marks.map((mark) => {
        const atMs = Math.abs(skewMs) > MAX_SKEW_MS ? now : Date.parse(mark.at) + skewMs;
        const elapsed = startedMs === null ? null : Math.max(0, ((atMs - startedMs) / 1000) * pace);
        return { ...mark, at: new Date(atMs), elapsedS: mark.elapsedS ?? elapsed };
      }),
    );
    if (!isAdded) throw new DomainError('wrong-state', 'This ride is over. Correct its run instead.');
    return this.reader.get(id);
  }

  /** Seconds of the logger in one of the wall clock: 1 but for simulated rides. */
  private async paceOf({ sessionId }: StoredRide): Promise<number> {
    if (sessionId === null) return 1;
    return this.hub.find(sessionId)?.pace ?? (await this.sessions.find({ 's.id': sessionId }))?.hello.pace ?? 1;
  }

  async undoMark(id: string, markId: string, isUndone: boolean): Promise<Ride> {
    if (!(await this.marks.undoMark(id, markId, isUndone))) throw notFound('This mark');
    return this.reader.get(id);
  }
}
