import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import type { RideMark } from '@ebrix/contract';
import { iso } from '../common/row.js';
import { KNEX } from '../database/database.module.js';
import { RideRepository } from './ride.repository.js';
import { OVER } from './ride-states.js';

interface MarkRow {
  id: string;
  ride_id: string;
  kind: RideMark['kind'];
  at: Date;
  elapsed_s: number | null;
  direction: RideMark['direction'];
  place: RideMark['place'];
  value: number | null;
  text: string;
  undone_at: Date | null;
}

@Injectable()
export class RideMarkRepository {
  constructor(
    @Inject(KNEX) private readonly database: Knex,
    private readonly rides: RideRepository,
  ) {}

  async marksOf(rideId: string, database: Knex = this.database): Promise<RideMark[]> {
    const rows: MarkRow[] = await database('ride_mark')
      .select('*')
      .where({ ride_id: rideId })
      .orderByRaw('coalesce(elapsed_s, 0), at, id');
    return rows.map((row) => ({
      id: row.id,
      kind: row.kind,
      at: iso(row.at),
      elapsedS: row.elapsed_s,
      direction: row.direction,
      place: row.place,
      value: row.value,
      text: row.text,
      isUndone: row.undone_at !== null,
    }));
  }

  /**
   * A mark that came before is left as it is: sending twice is once. False when the ride is over and some of them are new: a
   * run is made of it already, which they would not be part of.
   */
  async addMarks(
    rideId: string,
    marks: readonly (Omit<RideMark, 'at' | 'isUndone'> & { at: Date })[],
  ): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      const ride = await this.rides.lock(rideId, transaction);
      if (!ride || OVER.includes(ride.state)) {
        const ids = marks.map(({ id }) => id);
        const known = await transaction('ride_mark').where({ ride_id: rideId }).whereIn('id', ids).pluck('id');
        return known.length === ids.length;
      }
      await this.insertWithin(rideId, marks, transaction);
      await this.rides.touch(rideId, transaction);
      return true;
    });
  }

  /** One that came before is left as it is. */
  async insertWithin(
    rideId: string,
    marks: readonly (Omit<RideMark, 'at' | 'isUndone'> & { at: Date; isUndone?: boolean })[],
    transaction: Knex,
  ): Promise<void> {
    if (marks.length === 0) return;
    await transaction('ride_mark')
      .insert(
        marks.map((mark) => ({
          id: mark.id,
          ride_id: rideId,
          kind: mark.kind,
          at: mark.at,
          elapsed_s: mark.elapsedS,
          direction: mark.direction,
          place: mark.place,
          value: mark.value,
          text: mark.text,
          undone_at: mark.isUndone ? mark.at : null,
        })),
      )
      .onConflict('id')
      .ignore();
  }

  async undoMark(rideId: string, markId: string, isUndone: boolean): Promise<boolean> {
    return this.database.transaction(async (transaction) => {
      const count = await transaction('ride_mark')
        .where({ id: markId, ride_id: rideId })
        .update({ undone_at: isUndone ? transaction.fn.now() : null });
      await this.rides.touch(rideId, transaction);
      return count > 0;
    });
  }
}
