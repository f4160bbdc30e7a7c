import fc from 'fast-check';
import { readLog } from '../logs/index.js';
import {
  assembleLog,
  fitClock,
  parseLoggerLine,
  SequenceLedger,
  toLoggerTime,
  toServerTime,
  type LoggerHello,
  type StoredLine,
} from './index.js';

const helloLine = (change: object = {}): string =>
  JSON.stringify({
    hello: { protocol: 1, logger: 'Box 1', session: 's-1', channels: ['speed', 'distance', 'voltage'], ...change },
  });
const helloOf = (line = helloLine()): LoggerHello => {
  const parsed = parseLoggerLine(line, undefined);
  if (parsed.kind !== 'hello') throw new Error(JSON.stringify(parsed));
  return parsed.hello;
};

describe('a line of the protocol', () => {
  it('says hello with channels in the units of the field unless told otherwise', () => {
    expect(helloOf()).toMatchObject({ units: ['km/h', 'm', 'V'], pace: 1 });
    expect(helloOf(helloLine({ units: { speed: 'mph' } })).units).toEqual(['mph', 'm', 'V']);
  });
  it.each([
    [{ protocol: 2 }, 'only version'],
    [{ logger: '' }, 'hello.logger'],
    [{ session: 'a b' }, 'hello.session'],
    [{ channels: [] }, 'hello.channels'],
    [{ channels: ['speed', 'warp'] }, '"warp" is not a channel'],
    [{ channels: ['speed', 'speed'] }, 'twice'],
    [{ units: { speed: 'V' } }, 'unit of speed'],
    [{ pace: 1000 }, 'pace'],
  ])('refuses a hello with %j', (change, words) =>
    expect(parseLoggerLine(helloLine(change), undefined)).toMatchObject({
      kind: 'bad',
      code: 'bad-hello',
      reason: expect.stringContaining(words),
    }),
  );
  it('reads samples as objects and as lists alike', () => {
    const hello = helloOf();
    const list = parseLoggerLine('[7,0.7,21.5,4.2,52.1]', hello);
    expect(list).toEqual(parseLoggerLine('{"n":7,"t":0.7,"voltage":52.1,"speed":21.5,"distance":4.2}', hello));
    expect(list).toEqual({ kind: 'sample', sample: { n: 7, t: 0.7, values: [21.5, 4.2, 52.1] } });
  });
  it('takes what is no number for missing, never for zero', () =>
    expect(parseLoggerLine('[0,0,null,"7"]', helloOf())).toEqual({
      kind: 'sample',
      sample: { n: 0, t: 0, values: [NaN, NaN, NaN] },
    }));
  it.each([
    ['{"n":1,', 'not-json'],
    ['7', 'unknown'],
    ['{"x":1}', 'unknown'],
    ['[-1,0]', 'bad-number'],
    ['[1.5,0]', 'bad-number'],
    ['[1,"a"]', 'bad-time'],
    ['[1,0,1,2,3,4]', 'too-many-values'],
    ['x'.repeat(5000), 'too-long'],
  ])('answers %j with %s', (text, code) =>
    expect(parseLoggerLine(text, helloOf())).toMatchObject({ kind: 'bad', code }),
  );
  it('needs the hello first', () => expect(parseLoggerLine('[0,0,1]', undefined)).toMatchObject({ code: 'no-hello' }));
  it('never throws', () =>
    fc.assert(fc.property(fc.oneof(fc.string(), fc.json()), (text) => void parseLoggerLine(text, helloOf()))));
});

describe('the ledger of numbers', () => {
  it('agrees with a plain set, in whatever order and however often lines come', () =>
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 40 }), { maxLength: 120 }), (numbers) => {
        const ledger = new SequenceLedger();
        const seen = new Set<number>();
        for (const n of numbers) {
          const expected = seen.has(n) ? 'duplicate' : seen.size > 0 && n < Math.max(...seen) ? 'late' : 'new';
          expect(ledger.add(n)).toBe(expected);
          seen.add(n);
        }
        expect(ledger.count).toBe(seen.size);
        const missing = seen.size === 0 ? 0 : Math.max(...seen) - Math.min(...seen) + 1 - seen.size;
        expect(ledger.missing()).toBe(missing);
        let next = 0;
        while (seen.has(next)) next++;
        expect(ledger.resumeFrom).toBe(next);
      }),
    ));
  it('finds its place among very many gaps by halving', () => {
    const ledger = new SequenceLedger();
    const gaps = 200_000;
    for (let k = 0; k < gaps; k++) ledger.add(2 * k);
    expect(ledger.missing()).toBe(gaps - 1);
    // By walking through, these would be 4 × 10¹⁰ steps.
    let wrong = 0;
    for (let k = 0; k < gaps; k++) if (!ledger.has(2 * k) || ledger.has(2 * k + 1)) wrong++;
    expect(wrong).toBe(0);
    expect(ledger.add(gaps + 1)).toBe('late');
    expect(ledger.missing()).toBe(gaps - 2);
  });
  it('is rebuilt from the ranges of stored chunks, in any order', () => {
    const ledger = new SequenceLedger([
      { from: 5, to: 9 },
      { from: 0, to: 3 },
      { from: 8, to: 12 },
    ]);
    expect(ledger.gaps()).toEqual([{ from: 4, to: 4 }]);
    expect(ledger.count).toBe(12);
    expect(ledger.resumeFrom).toBe(4);
  });
});

describe('the clock of a logger', () => {
  const pairs = (pace: number, delay: (k: number) => number, count = 300) =>
    Array.from({ length: count }, (_, k) => ({ loggerS: 100 + pace * k * 0.5, arrivedS: 5000 + k * 0.5 + delay(k) }));
  it('is found through delays, bad reception and drift', () => {
    const map = fitClock(pairs(1.0005, (k) => 0.02 + (k % 7) * 0.01 + (k > 80 && k < 140 ? 3 : 0)))!;
    expect(map.pace).toBeCloseTo(1.0005, 3);
    expect(toLoggerTime(map, 5100)).toBeCloseTo(200.05, 0);
    expect(Math.abs(toLoggerTime(map, 5100) - 200.05)).toBeLessThan(0.1);
    expect(toServerTime(map, toLoggerTime(map, 5077))).toBeCloseTo(5077, 6);
  });
  it('keeps the stated pace while the record is short', () => {
    expect(
      fitClock(
        pairs(60, () => 0, 5),
        60,
      )!.pace,
    ).toBe(60);
    expect(fitClock([], 1)).toBeUndefined();
  });
});

describe('the log of a session', () => {
  const hello = { channels: ['speed', 'voltage'] as const, units: ['km/h', 'V'] as const };
  it('puts late lines in their place, takes each once, cuts to the ride, and reads back as a log', () => {
    const lines: StoredLine[] = [
      [0, 1, 0, 52],
      [2, 3, 20, 51.5],
      [1, 2, 10, null],
      [2, 3, 20, 51.5],
      [3, 4, 25, 51],
      [9, 9, 1, 1],
    ];
    const chunks = [lines.slice(0, 2), lines.slice(2)].map((some) =>
      some.map((line) => JSON.stringify(line)).join('\n'),
    );
    const log = assembleLog(hello, chunks, 1, 4)!;
    expect(log).toMatchObject({ samples: 4, originS: 1 });
    expect(log.csv.split('\n')).toEqual([
      'time (s),speed (km/h),pack voltage (V)',
      '0,0,52',
      '1,10,',
      '2,20,51.5',
      '3,25,51',
      '',
    ]);
    const read = readLog(new TextEncoder().encode(log.csv), log.mapping);
    expect(read.ok && Array.from(read.value.channels.speed!)).toEqual([0, 10 / 3.6, 20 / 3.6, 25 / 3.6]);
  });
  it('has a column for each channel, however many values a line brought, and the digits they came with', () => {
    const lines = ['[0,0.5,1e-7]', '', '[1,1,12.50,-3,99]', '[2,2.25,null,4]', ''].join('\n');
    expect(assembleLog(hello, [lines])!.csv.split('\n').slice(1)).toEqual(['0,1e-7,', '0.5,12.50,-3', '1.75,,4', '']);
  });
  it('is nothing where nothing was sent', () => expect(assembleLog(hello, ['[0,1,2,3]'], 10, 20)).toBeUndefined());
});
