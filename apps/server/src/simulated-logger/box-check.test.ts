import { execFile } from 'node:child_process';
import { join } from 'node:path';
import { promisify } from 'node:util';
import WebSocket from 'ws';
import { untilTrue } from '../testing/processes.js';
import { BoxCheck } from './box-check.js';
import { checkBox } from './serve-check.js';

const run = promisify(execFile);
const HELLO = { protocol: 1, logger: 'Box', session: 'one', channels: ['speed', 'voltage'] };
type Say = (line: object | string, atS: number) => object[];

/** A box that sends ten lines a second over streams, and is cut off once; `change` spoils it. */
function rideOf(
  change: {
    readonly hello?: object;
    readonly again?: object;
    readonly line?: (n: number) => object;
    /** Where it goes on after the cut, by what the server said is next. */
    readonly goesOn?: (next: number) => number;
    readonly seconds?: number;
    readonly says?: boolean;
  } = {},
): ReturnType<BoxCheck['report']> {
  const check = new BoxCheck();
  const line = change.line ?? ((n: number) => [n, n / 10, 20, 50]);
  const open = (): Say => {
    const read = check.connect();
    return (value, atS) =>
      read(typeof value === 'string' ? value : JSON.stringify(value), atS).map(({ line: said }) => said);
  };
  let say = open();
  let n = 0;
  let atS = 0;
  say({ hello: change.hello ?? HELLO }, atS);
  for (let made = 1; made <= (change.seconds ?? 40) * 10; made++) {
    atS += 0.1;
    while (n < made) {
      say(line(n++), atS);
      if (check.next('stream') !== 'cut') continue;
      check.forget();
      say = open();
      const [welcome] = say({ hello: change.again ?? change.hello ?? HELLO }, atS) as [{ welcome?: { next: number } }?];
      n = (change.goesOn ?? ((next) => next))(welcome?.welcome?.next ?? n);
    }
  }
  if (change.says ?? true) say({ bye: true }, atS);
  return check.report();
}

describe('what a box does wrong', () => {
  it('is nothing where it keeps lines until they are acknowledged', () => {
    expect(rideOf()).toEqual({
      right: [
        expect.stringMatching(/^4\d\d lines of session "one" on 2 connections, 400 kept\.$/),
        'What was lost on the way came again.',
      ],
      wrong: [],
      untried: [],
    });
    // From further back is no fault: what is there already is dropped.
    expect(rideOf({ goesOn: (next) => next - 15 }).wrong).toEqual([]);
  });

  it.each([
    [
      'goes on as if nothing had been lost',
      { goesOn: (next: number) => next + 20 },
      /never acknowledged did not come again: 40 was to be next, and 60 came/,
    ],
    ['comes back as another session', { again: { ...HELLO, session: 'two' } }, /came back as session "two", not "one"/],
    [
      'changes its channels',
      { again: { ...HELLO, channels: ['speed', 'current'] } },
      /Channels or units changed within a session/,
    ],
    ['leaves numbers out', { line: (n: number) => [n + (n > 200 ? 5 : 0), n / 10, 20, 50] }, /^5 numbers never came/],
    ['has a clock that runs fast', { line: (n: number) => [n, (n / 10) * 1.05, 20, 50] }, /^Its clock is 5\.0 % fast/],
    [
      'has seconds that go back',
      { line: (n: number) => [n, n === 300 ? 3 : n / 10, 20, 50] },
      /^Its seconds went back, from 29\.9 at line 299 to 3 at line 300/,
    ],
    ['sends too often', { line: (n: number) => [n, n / 100, 20, 50], seconds: 60 }, /lines a second; 50 is the most/],
    [
      'names a channel and never has it',
      { line: (n: number) => [n, n / 10, 20] },
      /Named in hello, but without a value: voltage/,
    ],
    ['speaks another protocol', { hello: { ...HELLO, protocol: 2 } }, /hello\.protocol must be 1/],
    [
      'sends no JSON',
      { line: (n: number) => (n === 30 ? { what: 1 } : [n, n / 10, 20, 50]) },
      /neither hello, sample nor bye/,
    ],
  ])('it %s', (_, change, sentence) => {
    expect(rideOf(change).wrong).toContainEqual(expect.stringMatching(sentence));
  });

  it('is not judged by what could not be tried', () => {
    expect(rideOf({ seconds: 3, says: false })).toMatchObject({
      wrong: [],
      untried: [/its clock/, /a line that breaks/, /its goodbye/].map((one) => expect.stringMatching(one) as string),
    });
    expect(new BoxCheck().report().wrong).toEqual(['No line came.']);
  });
});

describe('standing in for Ebrix', () => {
  const listen = async (seconds: number) => {
    let port: number | undefined;
    const report = checkBox({ host: '127.0.0.1', port: 0, seconds }, (open) => (port = open));
    const url = `http://127.0.0.1:${await untilTrue(() => Promise.resolve(port), 'it listens')}`;
    return { report, url };
  };

  it('the example in Python has nothing wrong: a refused and an unanswered request come again', async () => {
    const { report, url } = await listen(120);
    const file = join(__dirname, '../../../../examples/loggers/logger.py');
    await run('python3', [file, url, 'Box', '--seconds', '8', '--rate', '30']);
    expect(await report).toMatchObject({
      wrong: [],
      right: [expect.any(String), 'What was lost on the way came again.'],
    });
  });

  it('a box that keeps nothing is told so, over a stream', async () => {
    const { report, url } = await listen(120);
    const open = (): WebSocket => new WebSocket(`${url.replace('http', 'ws')}/api/logger/stream`);
    let n = 0;
    let connections = 0;
    await new Promise<void>((resolve) => {
      const ride = (): void => {
        const socket = open();
        connections++;
        const timer = setInterval(() => {
          if (socket.readyState !== WebSocket.OPEN) return;
          socket.send(`${JSON.stringify([n, n / 50, 20, 50])}\n`);
          n++;
          if (connections > 1 && n > 150) socket.send('{"bye":true}\n');
        }, 10);
        socket.on('open', () => socket.send(`${JSON.stringify({ hello: HELLO })}\n`));
        socket.on('error', () => undefined);
        socket.on('close', () => {
          clearInterval(timer);
          if (n > 150) resolve();
          else ride();
        });
      };
      ride();
    });
    expect((await report).wrong).toContainEqual(expect.stringMatching(/never acknowledged did not come again/));
  });
});
