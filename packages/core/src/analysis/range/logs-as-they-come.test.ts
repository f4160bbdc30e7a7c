import { Coverage, ridesOf } from '../../testing/coverage.js';
import type { Random } from '../../numeric/index.js';
import { cleanLog, readLog } from '../../logs/index.js';
import {
  plainLogger,
  plainRide,
  rowsOf,
  seededRandom,
  wander,
  type PlainLogger,
  type PlainRide,
} from '../../testing/plain-ride.js';
import { analyseRange } from './analyse-range.js';

type Written = { readonly csv: string; readonly truth: Partial<PlainRide['truth']> };
type Write = (ride: PlainRide, logger: PlainLogger, random: Random) => Written;

const RIDES = 40;
const kmh = (ride: PlainRide, logger: PlainLogger, k: number): number =>
  Math.max(0, 3.6 * logger.speed * ride.speedMps[k]! + (ride.speedMps[k]! > 0 ? 0.08 * logger.noise() : 0));
const volts = (ride: PlainRide, logger: PlainLogger, k: number): number =>
  logger.volts * ride.volts[k]! + 0.03 * logger.noise();
const amps = (ride: PlainRide, logger: PlainLogger, k: number): number =>
  logger.amps * ride.amps[k]! + 0.05 * logger.noise();
const table = (header: string, rows: readonly (readonly (number | string)[])[]): string =>
  [header, ...rows.map((row) => row.join(','))].join('\n');
const PLAIN = 'time (s),speed (km/h),voltage (V),current (A)';
const plainRow = (ride: PlainRide, logger: PlainLogger, k: number, sign = 1, t = ride.timeS[k]!): string[] => [
  t.toFixed(1),
  kmh(ride, logger, k).toFixed(2),
  volts(ride, logger, k).toFixed(2),
  (sign * amps(ride, logger, k)).toFixed(3),
];
const every = (ride: PlainRide, logger: PlainLogger, sign = 1): string =>
  table(
    PLAIN,
    rowsOf(ride, 1).map((k) => plainRow(ride, logger, k, sign)),
  );
/** Rows while the bike moves, and the first of each stop. */
const ridden = (ride: PlainRide): number[] => {
  const rows = rowsOf(ride, 1);
  return rows.filter((k, j) => ride.speedMps[k]! > 0.3 || (j > 0 && ride.speedMps[rows[j - 1]!]! > 0.3));
};
const degrees = (ride: PlainRide, k: number, off: readonly [number, number]): [string, string] => [
  (40 + (ride.northM[k]! + off[1]) / 111_194.93).toFixed(7),
  (5 + (ride.eastM[k]! + off[0]) / (111_194.93 * Math.cos((40 * Math.PI) / 180))).toFixed(7),
];

/** Logs with an oddity each, written from rides that are drawn; the truth they are held against is of the ride. */
const KINDS: Readonly<Record<string, Write>> = {
  'nothing odd': (ride, logger) => ({ csv: every(ride, logger), truth: ride.truth }),
  'discharge counted negative': (ride, logger) => ({ csv: every(ride, logger, -1), truth: ride.truth }),
  'rows missing while standing, with a distance': (ride, logger) => ({
    csv: table(
      `${PLAIN},distance (m)`,
      ridden(ride).map((k) => [...plainRow(ride, logger, k), (logger.speed * ride.wayM[k]!).toFixed(1)]),
    ),
    truth: ride.truth,
  }),
  'rows missing while standing, speed alone': (ride, logger) => ({
    csv: table(
      PLAIN,
      ridden(ride).map((k) => plainRow(ride, logger, k)),
    ),
    truth: ride.truth,
  }),
  'rows only on change': (ride, logger) => {
    const rows: string[][] = [];
    let last = '';
    for (const k of rowsOf(ride, 0.2)) {
      const cells = [
        (0.2 * Math.round((3.6 * logger.speed * ride.speedMps[k]!) / 0.2)).toFixed(1),
        (0.1 * Math.round((logger.volts * ride.volts[k]!) / 0.1)).toFixed(1),
        (0.2 * Math.round((logger.amps * ride.amps[k]!) / 0.2)).toFixed(1),
      ];
      if (cells.join() === last) continue;
      last = cells.join();
      rows.push([ride.timeS[k]!.toFixed(1), ...cells]);
    }
    return { csv: table(PLAIN, rows), truth: ride.truth };
  },
  'positions that wander': (ride, logger, random) => {
    const rows = rowsOf(ride, 1);
    const memory = 10 + 50 * random();
    const [east, north] = [0, 1].map(() => wander(random, rows.length, 1, 1.8 + 0.7 * random(), memory));
    return {
      csv: table(
        'time (s),latitude,longitude,voltage (V),current (A)',
        rows.map((k, j) => [
          ride.timeS[k]!.toFixed(1),
          ...degrees(ride, k, [east![j]!, north![j]!]),
          volts(ride, logger, k).toFixed(2),
          amps(ride, logger, k).toFixed(3),
        ]),
      ),
      truth: ride.truth,
    };
  },
  'counters alone': (ride, logger) => {
    let wh = 0;
    let last = 0;
    const rows = rowsOf(ride, 1).map((k) => {
      for (; last < k; last++)
        wh += (logger.volts * logger.amps * ride.volts[last]! * ride.amps[last]! * ride.stepS) / 3600;
      return [ride.timeS[k]!.toFixed(1), kmh(ride, logger, k).toFixed(2), wh.toFixed(1)];
    });
    return { csv: table('time (s),speed (km/h),energy (Wh)', rows), truth: ride.truth };
  },
  'the clock set on in full ride': (ride, logger, random) => {
    const rows = rowsOf(ride, 1);
    const fast = rows.filter((k) => ride.speedMps[k]! > 4 && ride.speedMps[k + 10]! > 4);
    const at = fast[Math.floor(random() * fast.length)] ?? 0;
    const jump = 300 + 5000 * random();
    return {
      csv: table(
        `${PLAIN},distance (m)`,
        rows.map((k) => [
          ...plainRow(ride, logger, k, 1, ride.timeS[k]! + (k > at ? jump : 0)),
          (logger.speed * ride.wayM[k]!).toFixed(1),
        ]),
      ),
      truth: ride.truth,
    };
  },
  'hours and minutes alone': (ride, logger, random) => {
    const start = 36_000 + 3000 * random();
    return {
      csv: table(
        PLAIN.replace('time (s)', 'time'),
        rowsOf(ride, 1).map((k) => {
          const s = start + ride.timeS[k]!;
          const clock = `${Math.floor(s / 3600)}:${String(Math.floor((s % 3600) / 60)).padStart(2, '0')}`;
          return [clock, ...plainRow(ride, logger, k).slice(1)];
        }),
      ),
      truth: ride.truth,
    };
  },
  'a distance in steps of ten metres': (ride, logger) => ({
    csv: table(
      'time (s),distance (km),voltage (V),current (A)',
      rowsOf(ride, 1).map((k) => [
        ride.timeS[k]!.toFixed(1),
        (Math.floor((logger.speed * ride.wayM[k]!) / 10) / 100).toFixed(2),
        volts(ride, logger, k).toFixed(2),
        amps(ride, logger, k).toFixed(3),
      ]),
    ),
    truth: ride.truth,
  }),
  'a satellite speed that never rests': (ride, logger) => ({
    csv: table(
      PLAIN,
      rowsOf(ride, 1).map((k) => {
        const row = plainRow(ride, logger, k);
        if (ride.speedMps[k]! < 0.2) row[1] = Math.abs(0.9 + 0.5 * logger.noise()).toFixed(2);
        return row;
      }),
    ),
    truth: ride.truth,
  }),
};

describe('logs as they come', () => {
  it.each(Object.keys(KINDS))('hold the truth of the ride: %s', (kind) => {
    const random = seededRandom(kind.length * 7919 + 3);
    const coverage = new Coverage();
    for (let n = 0; n < ridesOf(RIDES); n++) {
      const ride = plainRide(random);
      const { csv, truth } = KINDS[kind]!(ride, plainLogger(random), random);
      const raw = readLog(new TextEncoder().encode(csv));
      const log = raw.ok ? cleanLog(raw.value) : raw;
      if (!log.ok) throw new Error(`${kind}: ${log.problem.message}`);
      coverage.see(analyseRange(log.value).figures, truth);
    }
    for (const key of ['distance', 'energyOut', 'movingTime', 'netConsumption'])
      expect([key, coverage.of(key).given > 0]).toEqual([key, true]);
    coverage.expectHeld(kind);
  });
});
