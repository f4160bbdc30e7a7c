import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import { v7 as uuidv7 } from 'uuid';
import type { MappingDto } from '@ebrix/contract';
import { PYRAMID_BINS, pyramidLevelOffset, VALUES_PER_BIN } from '@ebrix/core/signal';
import type { ReadRide } from '../compute/task-types.js';
import { BYTES_PER_SAMPLE, decodeColumn, type Encoding } from '../database/columns.js';
import { KNEX } from '../database/database.module.js';

const BYTES_PER_BIN = VALUES_PER_BIN * 4;

type Column = Float64Array | Float32Array;
export interface ChannelSpan {
  readonly name: string;
  readonly low: Column;
  readonly high: Column;
  readonly middle: Column;
}
/** The clock of a ride, as far as it takes to find a time in it. */
export interface LogClock {
  readonly sampleCount: number;
  /** First time of each of the pyramid's finest bins, s; to a millisecond in a ride of hours. */
  readonly binStartsS: Float32Array;
  readonly totalS: number;
}
interface ClockRow {
  sample_count: number;
  bins: Buffer;
  last: Buffer;
}
interface SpanRow {
  name: string;
  encoding: Encoding;
  piece: Buffer;
}

/** Raw logs with their cleaned channels, kept by column. */
@Injectable()
export class LogRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  /** A log of a file that was taken in: its bytes never leave the database. */
  async insertOfImport(
    file: { id: string; sha256: string; fileName: string; byteCount: number; mapping: MappingDto | null },
    ride: ReadRide,
    transaction: Knex,
  ): Promise<string> {
    const { sha256, fileName, byteCount, mapping } = file;
    const id = uuidv7();
    await transaction('log').insert({
      id,
      sha256,
      file_name: fileName,
      bytes: transaction('import_file').select('bytes').where({ id: file.id }),
      byte_count: byteCount,
      format: ride.format,
      mapping: mapping && JSON.stringify(mapping),
      cleaning: JSON.stringify(ride.cleaning),
      has_clock: ride.hasClock,
      started_at: ride.startEpochS === null ? null : new Date(ride.startEpochS * 1000),
      duration_s: ride.durationS,
      sample_count: ride.sampleCount,
    });
    await this.insertChannels(id, ride.channels, transaction);
    return id;
  }

  async insertChannels(logId: string, channels: ReadRide['channels'], transaction: Knex): Promise<void> {
    for (const channel of channels)
      await transaction('channel').insert({
        log_id: logId,
        name: channel.name,
        encoding: channel.encoding,
        sample_count: channel.sampleCount,
        samples: Buffer.from(channel.samples.buffer, channel.samples.byteOffset, channel.samples.byteLength),
        pyramid: Buffer.from(channel.pyramid.buffer, channel.pyramid.byteOffset, channel.pyramid.byteLength),
      });
  }

  /** Samples [from, to) of every channel. */
  async samples(logId: string, from: number, to: number): Promise<ChannelSpan[]> {
    const rows = await this.database('channel')
      .where({ log_id: logId })
      .select<SpanRow[]>('name', 'encoding')
      .select(
        this.database.raw(
          `substring(samples from (? * (case encoding when 'f64' then ${BYTES_PER_SAMPLE.f64} else ${BYTES_PER_SAMPLE.f32} end) + 1)
           for (? * (case encoding when 'f64' then ${BYTES_PER_SAMPLE.f64} else ${BYTES_PER_SAMPLE.f32} end))) as piece`,
          [from, to - from],
        ),
      );
    return (rows as unknown as SpanRow[]).map(({ name, encoding, piece }) => {
      const values = decodeColumn(piece, encoding);
      return { name, low: values, high: values, middle: values };
    });
  }

  /** Extremes of the bins of one pyramid level that cover samples [from, to). */
  async extremes(logId: string, sampleCount: number, level: number, from: number, to: number): Promise<ChannelSpan[]> {
    const bin = PYRAMID_BINS[level]!;
    const first = Math.floor(from / bin);
    const last = Math.ceil(to / bin);
    const start = pyramidLevelOffset(sampleCount, level) + first;
    const rows = await this.database('channel')
      .where({ log_id: logId })
      .select<SpanRow[]>('name', 'encoding')
      .select(
        this.database.raw('substring(pyramid from ? for ?) as piece', [
          start * BYTES_PER_BIN + 1,
          (last - first) * BYTES_PER_BIN,
        ]),
      );
    return (rows as unknown as SpanRow[]).map(({ name, piece }) => {
      const values = decodeColumn(piece, 'f32');
      return { name, low: valueOfBins(values, 0), high: valueOfBins(values, 1), middle: valueOfBins(values, 2) };
    });
  }

  /** When the samples of a ride were taken; undefined where nothing was logged. */
  async clock(logId: string): Promise<LogClock | undefined> {
    const rows = await this.database('channel')
      .where({ log_id: logId, name: 'time' })
      .select('sample_count')
      .select(
        this.database.raw(
          `substring(pyramid for ((sample_count + ? - 1) / ?) * ?) as bins,
           substring(samples from (sample_count - 1) * ${BYTES_PER_SAMPLE.f64} + 1) as last`,
          [PYRAMID_BINS[0], PYRAMID_BINS[0], BYTES_PER_BIN],
        ),
      );
    const [row] = rows as unknown as ClockRow[];
    if (!row || row.sample_count === 0) return undefined;
    const { sample_count, bins, last } = row;
    return {
      sampleCount: sample_count,
      binStartsS: valueOfBins(decodeColumn(bins, 'f32'), 0),
      totalS: decodeColumn(last, 'f64')[0]!,
    };
  }

  async file(
    logId: string,
    database: Knex = this.database,
  ): Promise<{ fileName: string; bytes: Buffer; mapping: MappingDto | null } | undefined> {
    const row = await database<{ file_name: string; bytes: Buffer; mapping: MappingDto | null }>('log')
      .select('file_name', 'bytes', 'mapping')
      .where({ id: logId } as object)
      .first();
    return row && { fileName: row.file_name, bytes: row.bytes, mapping: row.mapping };
  }
}

/** One of the values that each bin holds. */
function valueOfBins(values: Column, offset: number): Float32Array {
  const picked = new Float32Array(values.length / VALUES_PER_BIN);
  for (let k = 0; k < picked.length; k++) picked[k] = values[k * VALUES_PER_BIN + offset]!;
  return picked;
}
