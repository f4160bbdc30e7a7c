import type { LoggerHello } from '@ebrix/core/logger';
import type { LoggerSecrets } from './logger-secrets.js';
import { LoggerHub } from './logger-hub.js';
import { SessionsElsewhere, tellSession, toldSessionSchema } from './sessions-elsewhere.js';
import type { Chunk, SessionRepository, StoredSession } from './session.repository.js';

const HELLO = {
  protocol: 1,
  logger: 'Box 1',
  session: 'ride-1',
  channels: ['speed', 'voltage'],
  units: ['km/h', 'V'],
  pace: 1,
} as unknown as LoggerHello;

/** A database in memory that can be away, for lines or for counts. */
class FakeSessions {
  readonly numbers: number[] = [];
  readonly counts: { duplicates: number; late: number; isEnded: boolean }[] = [];
  areLinesRefused = false;
  areCountsRefused = false;
  isEnded = false;
  findLogger = (): Promise<{ id: string; name: string }> => Promise.resolve({ id: 'L', name: 'Box 1' });
  open = (_: string, hello: LoggerHello): Promise<StoredSession> =>
    Promise.resolve({
      id: hello.session,
      loggerId: 'L',
      loggerName: 'Box 1',
      name: hello.session,
      hello,
      duplicates: 0,
      late: 0,
      bad: 0,
      badLines: [],
      isEnded: this.isEnded,
      lastSeenAt: new Date(0),
    });
  lastArrival = (): Promise<undefined> => Promise.resolve(undefined);
  rangesOf = (): Promise<{ from: number; to: number }[]> =>
    Promise.resolve(this.numbers.map((n) => ({ from: n, to: n })));
  append = (chunks: readonly Chunk[]): Promise<void> => {
    if (this.areLinesRefused) return Promise.reject(new Error('away'));
    for (const { lines } of chunks) this.numbers.push(...lines.map(([n]) => n));
    return Promise.resolve();
  };
  keepCounts = (_: string, counts: { duplicates: number; late: number; isEnded: boolean }): Promise<void> => {
    if (this.areCountsRefused) return Promise.reject(new Error('away'));
    this.counts.push({ duplicates: counts.duplicates, late: counts.late, isEnded: counts.isEnded });
    return Promise.resolve();
  };
}

let sessions: FakeSessions;
let hub: LoggerHub;
let elsewhere: SessionsElsewhere;
let nowMs: number;
beforeEach(() => {
  sessions = new FakeSessions();
  nowMs = 1_000_000;
  const clock = { now: () => new Date(nowMs) };
  elsewhere = new SessionsElsewhere(clock);
  const secrets = { require: () => Promise.resolve() } as unknown as LoggerSecrets;
  hub = new LoggerHub(sessions as unknown as SessionRepository, clock, secrets, elsewhere);
});
afterEach(() => hub.onApplicationShutdown());
const take = (session: Awaited<ReturnType<typeof hub.open>>, ...numbers: number[]): void => {
  for (const n of numbers) hub.take(session, { n, t: n / 10, values: [20, 50] });
};

describe('lines of a logger', () => {
  it('are stored once, in the order they came, and acknowledged when they are on disk', async () => {
    const session = await hub.open(HELLO);
    const acknowledged: number[] = [];
    session.acknowledge.add((n) => acknowledged.push(n));
    take(session, 0, 1, 3, 2, 2);
    expect([sessions.numbers, acknowledged]).toEqual([[], []]);
    await hub.flush();
    expect([sessions.numbers, acknowledged]).toEqual([[0, 1, 3, 2], [3]]);
    expect(session.toDto()).toMatchObject({ samples: 4, duplicates: 1, late: 1, missing: 0 });
  });

  it('wait while the database is away, in order, and are not acknowledged', async () => {
    const session = await hub.open(HELLO);
    const acknowledged: number[] = [];
    session.acknowledge.add((n) => acknowledged.push(n));
    sessions.areLinesRefused = true;
    take(session, 0, 1);
    await hub.flush();
    take(session, 2);
    expect([sessions.numbers, acknowledged]).toEqual([[], []]);
    sessions.areLinesRefused = false;
    await hub.flush();
    expect([sessions.numbers, acknowledged]).toEqual([[0, 1, 2], [2]]);
  });

  it('that are refused because too many wait are not taken for received: sent again they are stored', async () => {
    const session = await hub.open(HELLO);
    hub.lines.maxPendingBytes = 200;
    sessions.areLinesRefused = true;
    take(session, 0, 1);
    expect(() => take(session, 2)).toThrow(expect.objectContaining({ code: 'busy' }) as Error);
    expect(session.ledger.resumeFrom).toBe(2);
    sessions.areLinesRefused = false;
    await hub.flush();
    take(session, 2);
    await hub.flush();
    expect(sessions.numbers).toEqual([0, 1, 2]);
    expect(session.duplicates).toBe(0);
  });

  it('share one budget of memory: a session that waits takes nothing from what another has been promised', async () => {
    const [one, two] = [await hub.open(HELLO), await hub.open({ ...HELLO, session: 'ride-2' })];
    hub.lines.maxPendingBytes = 600;
    sessions.areLinesRefused = true;
    const taken: number[] = [];
    const refusals: string[] = [];
    for (let n = 0; n < 20; n++)
      try {
        hub.take(n % 2 === 0 ? one : two, { n: n >> 1, t: n / 10, values: [20, 50] });
        taken.push(n >> 1);
      } catch (error) {
        refusals.push((error as { code: string }).code);
      }
    expect(refusals.length).toBeGreaterThan(0);
    expect(new Set(refusals)).toEqual(new Set(['busy']));
    sessions.areLinesRefused = false;
    await hub.flush();
    expect([...sessions.numbers].sort()).toEqual([...taken].sort());
    // The memory is free again.
    expect(() => take(one, 50, 51, 52)).not.toThrow();
  });

  it('of many batches are written in order and acknowledged only up to what is on disk', async () => {
    const session = await hub.open(HELLO);
    const acknowledged: number[] = [];
    session.acknowledge.add((n) => acknowledged.push(n));
    // The last one fills a hole: until it is on disk nothing above the hole may be called stored.
    take(session, ...Array.from({ length: 2500 }, (_, n) => (n < 7 ? n : n + 1)), 7);
    await hub.flush();
    expect(sessions.numbers).toHaveLength(2501);
    expect(acknowledged).toEqual([6, 2500]);
  });

  it('are not stored twice when only the counts cannot be written', async () => {
    const session = await hub.open(HELLO);
    sessions.areCountsRefused = true;
    take(session, 0, 1);
    nowMs += 5000;
    await hub.flush();
    expect([sessions.numbers, sessions.counts]).toEqual([[0, 1], []]);
    sessions.areCountsRefused = false;
    nowMs += 5000;
    await hub.flush();
    expect([sessions.numbers, sessions.counts.length]).toEqual([[0, 1], 1]);
  });
});

describe('a session', () => {
  it('leaves memory an hour after it was last heard, and goes on from the database', async () => {
    const session = await hub.open(HELLO);
    take(session, 0, 1);
    nowMs += 5000;
    await hub.flush();
    expect(hub.find('ride-1')).toBe(session);
    nowMs += 3_700_000;
    await hub.flush();
    expect(hub.find('ride-1')).toBeUndefined();
    const again = await hub.open(HELLO);
    expect(again.ledger.resumeFrom).toBe(2);
    take(again, 1, 2);
    await hub.flush();
    expect(sessions.numbers).toEqual([0, 1, 2]);
  });

  it('stays in memory while it is connected or its lines wait', async () => {
    const connected = await hub.open(HELLO);
    connected.connections = 1;
    const waiting = await hub.open({ ...HELLO, session: 'ride-2' });
    sessions.areLinesRefused = true;
    take(waiting, 0);
    nowMs += 8_000_000;
    await hub.flush();
    expect([hub.find('ride-1'), hub.find('ride-2')]).toEqual([connected, waiting]);
    sessions.areLinesRefused = false;
  });

  it('that ended is written as ended, also when the server stops right after', async () => {
    const session = await hub.open(HELLO);
    take(session, 0);
    await hub.end(session);
    await hub.onApplicationShutdown();
    expect(sessions.counts.at(-1)).toMatchObject({ isEnded: true });
    expect(sessions.numbers).toEqual([0]);
  });

  it('is the one a logger sends in only while it is heard and not ended', async () => {
    expect(hub.sendingOf('L')).toBeUndefined();
    const session = await hub.open(HELLO);
    take(session, 0);
    expect(hub.sendingOf('L')).toBe(session);
    expect(hub.sendingOf('another')).toBeUndefined();
    nowMs += 60_000;
    expect(hub.sendingOf('L')).toBeUndefined();
    take(session, 1);
    await hub.end(session);
    expect(hub.sendingOf('L')).toBeUndefined();
  });

  it('cannot change its channels half-way', async () => {
    await hub.open(HELLO);
    await expect(hub.open({ ...HELLO, channels: ['speed', 'current'] })).rejects.toMatchObject({
      code: 'wrong-state',
    });
  });

  it('tells that the bike moves after three samples above walking pace, and again and again', async () => {
    const events: string[] = [];
    hub.events.subscribe(({ kind }) => events.push(kind));
    const session = await hub.open(HELLO);
    hub.take(session, { n: 0, t: 0, values: [1, 50] });
    take(session, 1, 2);
    expect(events).toEqual(['opened']);
    take(session, 3, 4);
    expect(events).toEqual(['opened', 'moved']);
    nowMs += 600;
    take(session, 5);
    expect(events).toEqual(['opened', 'moved', 'moved']);
  });
});

describe('a wrong clock of the logger', () => {
  /** Ten lines a second, as they are measured; the motor warms by a degree a line. */
  const send = (session: Awaited<ReturnType<typeof hub.open>>, from: number, to: number, off = 0): void => {
    for (let n = from; n < to; n++) {
      nowMs += 100;
      hub.take(session, { n, t: n / 10 + off, values: [20, 40 + n] });
    }
  };

  it('in one line blinds nothing: readings go by arrival, the line is set aside and shown', async () => {
    const session = await hub.open({
      ...HELLO,
      channels: ['speed', 'motorTemperature'],
      units: ['km/h', '°C'],
    });
    send(session, 0, 60);
    send(session, 60, 61, 9e6);
    expect(session.values.get('motorTemperature')).toBe(100);
    send(session, 61, 100);
    expect(session.values.get('motorTemperature')).toBe(139);
    expect(session.newest!.t).toBeCloseTo(9.9);
    expect(session.toDto()).toMatchObject({
      bad: 1,
      badLines: [{ line: 60, reason: expect.stringContaining('left out') }],
    });
    await hub.flush();
    expect(sessions.numbers).toEqual(Array.from({ length: 100 }, (_, n) => n).filter((n) => n !== 60));
  });

  it('set in mid-session leaves the ride as long as it is', async () => {
    const session = await hub.open({
      ...HELLO,
      channels: ['speed', 'motorTemperature'],
      units: ['km/h', '°C'],
    });
    send(session, 0, 60);
    send(session, 60, 120, 1.8e9);
    expect(session.values.get('motorTemperature')).toBe(159);
    expect(session.newest!.t).toBeCloseTo(11.9, 0);
    expect(session.badLines[0]!.reason).toContain('clock was set');
    await hub.flush();
    expect(sessions.numbers).toHaveLength(120);
  });

  it('in a late line does not move the end of the ride, and its readings are shown', async () => {
    const session = await hub.open({ ...HELLO, channels: ['speed', 'motorTemperature'], units: ['km/h', '°C'] });
    send(session, 0, 60);
    send(session, 61, 80);
    send(session, 60, 61, 9e6);
    expect(session.newest!.t).toBeCloseTo(7.9);
    expect(session.values.get('motorTemperature')).toBe(100);
    expect(session.toDto()).toMatchObject({ bad: 1, late: 1 });
    await hub.flush();
    expect(sessions.numbers).not.toContain(60);
  });

  it('is not to be feared in a late line with its own time: it is stored, and the ride goes on where it was', async () => {
    const session = await hub.open({ ...HELLO, channels: ['speed', 'motorTemperature'], units: ['km/h', '°C'] });
    send(session, 0, 60);
    send(session, 61, 80);
    nowMs += 10_000;
    send(session, 60, 61);
    expect(session.newest!.t).toBeCloseTo(7.9);
    expect(session.values.get('motorTemperature')).toBe(100);
    await hub.flush();
    expect(sessions.numbers).toContain(60);
  });
});

describe('a sensor that falls silent', () => {
  it('is told while the logger goes on, not when the logger itself is silent, and not once it is back', async () => {
    const session = await hub.open({ ...HELLO, channels: ['speed', 'motorTemperature'], units: ['km/h', '°C'] });
    const send = (n: number, motorC: number): void => {
      nowMs += 1000;
      hub.take(session, { n, t: n, values: [20, motorC] });
    };
    for (let n = 0; n < 5; n++) send(n, 41);
    nowMs += 120_000;
    expect(session.silentSensors()).toEqual([]);
    send(5, 41);
    for (let n = 6; n < 36; n++) send(n, NaN);
    expect(session.silentSensors()).toEqual([]);
    send(36, NaN);
    expect(session.silentSensors()).toEqual([{ name: 'motorTemperature', silentS: 31 }]);
    send(37, 90);
    expect(session.silentSensors()).toEqual([]);
  });
});

describe('a logger that sends to another server of the same database', () => {
  const ID = '01890a5d-ac96-774b-bcce-b302099a8057';
  const LOGGER = '01890a5d-ac96-774b-bcce-b302099a8058';
  const HOUR_MS = 3600_000;
  /** The other server, whose clock goes an hour ahead. */
  let theirs: LoggerHub;
  let theirSessions: FakeSessions;
  beforeEach(() => {
    const clock = { now: () => new Date(nowMs + HOUR_MS) };
    theirSessions = new FakeSessions();
    const named = { id: LOGGER, name: 'Box 1' };
    theirSessions.findLogger = () => Promise.resolve(named);
    const { open } = theirSessions;
    theirSessions.open = async (id, hello) => ({ ...(await open(id, hello)), loggerId: LOGGER });
    const secrets = { require: () => Promise.resolve() } as unknown as LoggerSecrets;
    theirs = new LoggerHub(theirSessions as unknown as SessionRepository, clock, secrets, new SessionsElsewhere(clock));
  });
  afterEach(() => theirs.onApplicationShutdown());
  const takeThere = (session: Awaited<ReturnType<typeof hub.open>>, ...numbers: number[]): void => {
    for (const n of numbers) theirs.take(session, { n, t: n / 10, values: [20, 50] });
  };
  const tell = (): void =>
    elsewhere.hear(
      theirs
        .heardLately()
        .map((session) => tellSession(session, nowMs + HOUR_MS))
        .map((told) => toldSessionSchema.parse(JSON.parse(JSON.stringify(told)))),
    );

  it('is seen here with its readings and how long ago they came, until its server is silent', async () => {
    const session = await theirs.open({ ...HELLO, session: ID });
    session.connections = 1;
    takeThere(session, 0, 1, 3);
    expect(hub.find(ID)).toBeUndefined();
    nowMs += 2000;
    tell();
    const seen = hub.find(ID)!;
    expect([seen.isConnected, seen.samples, seen.missing, seen.pace]).toEqual([true, 3, 1, 1]);
    expect(Object.fromEntries(seen.values)).toEqual({ speed: 20, voltage: 50 });
    expect(nowMs - seen.lastSeenAt.getTime()).toBe(2000);
    expect(seen.newest!.t).toBeCloseTo(0.3);
    expect(seen.toDto()).toMatchObject({ id: ID, logger: { name: 'Box 1' }, samples: 3, badLines: [] });
    expect(hub.sendingOf(LOGGER)?.id).toBe(ID);
    nowMs += 10_001;
    expect([hub.find(ID), hub.sendingOf(LOGGER)]).toEqual([undefined, undefined]);
  });

  it('that moves is seen where it was heard last, and goes on with the numbers that the other one stored', async () => {
    const here = await hub.open({ ...HELLO, session: ID });
    take(here, 0, 1);
    await hub.flush();
    nowMs += 1000;
    const there = await theirs.open({ ...HELLO, session: ID });
    takeThere(there, 2, 3);
    await theirs.flush();
    tell();
    expect(hub.find(ID)!.newest!.t).toBeCloseTo(0.3);
    // One database: what the other stored is there.
    sessions.numbers.push(...theirSessions.numbers);
    nowMs += 60_000;
    const back = await hub.open({ ...HELLO, session: ID });
    take(back, 3, 4);
    expect(back.duplicates).toBe(1);
    expect(back.ledger.resumeFrom).toBe(5);
    expect(hub.find(ID)!.newest!.t).toBeCloseTo(0.4);
  });
});
