import { seededRandom } from '../numeric/index.js';
import { lapPath } from '../track/index.js';
import {
  afterEvent,
  isRefusal,
  PositionGates,
  refusalOfStep,
  RIDE_STATES,
  timesOfStep,
  type AlongEvent,
  type AlongRideCore,
} from './index.js';

const RIDE: AlongRideCore = {
  id: 'r',
  state: 'preparing',
  startedAt: null,
  finishedAt: null,
  fromT: null,
  toT: null,
  reason: '',
  openClearance: 0,
  setupName: 'Corvane R2',
  marks: [],
};
const step = (
  to: AlongRideCore['state'],
  at = '2026-04-07T08:00:00.000Z',
  t?: number,
  reason?: string,
): AlongEvent => ({
  kind: 'step',
  to,
  at,
  ...(t !== undefined && { t }),
  ...(reason !== undefined && { reason }),
});
const after = (ride: AlongRideCore, ...events: readonly AlongEvent[]): AlongRideCore =>
  events.reduce((now, event) => {
    const next = afterEvent(now, event);
    if (isRefusal(next)) throw new Error(next.message);
    return next;
  }, ride);

describe('a ride on a phone', () => {
  it('goes its whole way by the clock of the phone and of its logger', () => {
    const ride = after(
      RIDE,
      step('armed'),
      step('running', '2026-04-07T08:01:00.000Z', 61.5),
      step('finished', '2026-04-07T08:11:00.000Z', 661.5),
      step('kept'),
    );
    expect(ride).toMatchObject({
      state: 'kept',
      startedAt: '2026-04-07T08:01:00.000Z',
      finishedAt: '2026-04-07T08:11:00.000Z',
      fromT: 59.5,
      toT: 661.5,
    });
  });
  it('finished by mistake runs on, with its start as it was', () => {
    const ride = after(
      RIDE,
      step('armed'),
      step('running', 'a', 5),
      step('finished', 'b', 9),
      step('running', 'c', 12),
    );
    expect(ride).toMatchObject({ state: 'running', startedAt: 'a', finishedAt: null, fromT: 3, toT: null });
  });
  it('stops with its time where it is broken off, and wants the reason', () => {
    const running = after(RIDE, step('armed'), step('running', 'a'));
    expect(afterEvent(running, step('aborted', 'b'))).toMatchObject({ code: 'reason-needed' });
    expect(afterEvent(running, step('aborted', 'b', undefined, ' '))).toMatchObject({ code: 'reason-needed' });
    expect(after(running, step('aborted', 'b', undefined, 'chain came off'))).toMatchObject({
      state: 'aborted',
      finishedAt: 'b',
      reason: 'chain came off',
    });
  });
  it('is not ready while safety checks are open, and is not kept without having run', () => {
    expect(afterEvent({ ...RIDE, openClearance: 2 }, step('armed'))).toMatchObject({
      code: 'clearance-open',
      message: expect.stringMatching(/Corvane R2 still to do: 2/),
    });
    expect(refusalOfStep({ ...RIDE, state: 'finished' }, 'kept', null)).toMatchObject({
      message: expect.stringMatching(/never ran/),
    });
  });
  it('takes each mark once, undoes it and takes it back, and nothing once it is over', () => {
    const mark = { id: 'm', kind: 'lap', at: 'a', isUndone: false };
    const ride = after(RIDE, { kind: 'mark', mark }, { kind: 'mark', mark });
    expect(ride.marks).toHaveLength(1);
    expect(after(ride, { kind: 'undo', markId: 'm', isUndone: true }).marks[0]).toMatchObject({ isUndone: true });
    expect(afterEvent({ ...ride, state: 'kept' }, { kind: 'mark', mark })).toMatchObject({ code: 'wrong-state' });
  });
  it('is never in a state that no step leads to, whatever is tapped', () => {
    const random = seededRandom(7);
    for (let k = 0; k < 300; k++) {
      let ride: AlongRideCore = RIDE;
      for (let taps = 0; taps < 12; taps++) {
        const to = RIDE_STATES[Math.floor(random() * RIDE_STATES.length)]!;
        const next = afterEvent(ride, step(to, `t${taps}`, taps, random() < 0.5 ? 'why' : undefined));
        if (!isRefusal(next)) ride = next;
      }
      if (ride.state === 'kept') expect(ride.startedAt).not.toBeNull();
      if (ride.state === 'running') expect(ride.finishedAt).toBeNull();
      if (ride.state === 'aborted' || ride.state === 'repeated') expect(ride.reason).toBe('why');
    }
  });
  it('notes no time for a step that has none', () => expect(timesOfStep('preparing', 'armed', 'a', 1)).toEqual({}));
});

describe('gates by position', () => {
  /** A square of 400 m, begun at its south-west corner, near the equator of nowhere. */
  const M = 1 / 111_320;
  const corners = [
    [0, 0],
    [0, 100],
    [100, 100],
    [100, 0],
    [0, 0],
  ] as const;
  const path = corners.map(([north, east], k) => ({ latitude: north * M, longitude: east * M, distanceM: 100 * k }));
  const gates = [
    { name: 'second corner', distanceM: 200 },
    { name: 'first half', distanceM: 50 },
    { name: 'finish', distanceM: 400 },
  ];
  const at = (alongM: number, offM = 0): { latitude: number; longitude: number } => {
    const side = Math.min(3, Math.floor(alongM / 100));
    const [a, b] = [corners[side]!, corners[side + 1]!];
    const part = (alongM - 100 * side) / 100;
    return { latitude: (a[0] + part * (b[0] - a[0]) + offM) * M, longitude: (a[1] + part * (b[1] - a[1])) * M };
  };
  it('are each passed once, at the second between two fixes', () => {
    const follower = new PositionGates(path, gates);
    const passed = Array.from({ length: 101 }, (_, s) => follower.take(s, at(4 * s), 5)).flat();
    expect(passed.map(({ gate }) => gate.name)).toEqual(['first half', 'second corner', 'finish']);
    expect(passed.map(({ timeS }) => timeS)).toEqual([
      expect.closeTo(12.5, 1),
      expect.closeTo(50, 1),
      expect.closeTo(100, 1),
    ]);
    expect(follower.next()).toBeUndefined();
  });
  it('are not passed by who is elsewhere, nor by a fix that may be anywhere', () => {
    const follower = new PositionGates(path, gates);
    follower.take(0, at(10), 5);
    expect(follower.take(1, at(60, 200), 10)).toEqual([]);
    expect(follower.take(2, at(60), 300)).toEqual([]);
    expect(follower.next()).toMatchObject({ name: 'first half', awayM: expect.closeTo(40, 0) });
    expect(follower.take(3, at(60), 5)).toHaveLength(1);
  });
  it('are passed in each lap of a round, and a way that does not come round is one', () => {
    const twice = lapPath(path, gates, { laps: 2, lengthM: 400 });
    const follower = new PositionGates(twice.path, twice.gates);
    const passed = Array.from({ length: 201 }, (_, s) => follower.take(s, at((4 * s) % 400), 5)).flat();
    expect(passed.map(({ gate }) => gate.name)).toEqual([
      'first half',
      'second corner',
      'finish',
      'first half',
      'second corner',
      'finish',
    ]);
    expect(lapPath(path.slice(0, 3), gates, { laps: 2, lengthM: 200 }).path).toHaveLength(3);
  });
  it('of a round are found by who sets off a few metres before its start, where its end lies too', () => {
    const follower = new PositionGates(path, [{ name: 'begins', distanceM: 0 }, ...gates]);
    const passed = [392, 394, 397, 399].flatMap((m, s) => follower.take(s, at(m), 5));
    for (let s = 4; s <= 104; s++) passed.push(...follower.take(s, at(4 * (s - 4)), 5));
    expect(passed.map(({ gate }) => gate.name)).toEqual(['begins', 'first half', 'second corner', 'finish']);
  });
  it('at the very start of a way are passed when the line is, by who comes from before it', () => {
    const straight = [0, 300].map((m) => ({ latitude: m * M, longitude: 0, distanceM: m }));
    const follower = new PositionGates(straight, [{ name: 'begins', distanceM: 0 }]);
    const passed = Array.from({ length: 12 }, (_, s) =>
      follower.take(s, { latitude: (6 * s - 33) * M, longitude: 0 }, 5),
    ).flat();
    expect(passed).toEqual([{ gate: { name: 'begins', distanceM: 0 }, timeS: expect.closeTo(5.5, 1) as number }]);
    // Who stands beyond it at first has not passed it.
    expect(new PositionGates(straight, [{ name: 'begins', distanceM: 0 }]).take(0, straight[1]!, 5)).toEqual([]);
  });
  it('are found again by who left the course and came back to it elsewhere, without those between', () => {
    const follower = new PositionGates(path, gates);
    follower.take(0, at(10), 5);
    for (let s = 1; s < 50; s++) follower.take(s, at(10, 300), 5);
    expect(follower.take(50, at(190), 5)).toEqual([]);
    expect(follower.alongM).toBeCloseTo(190, 0);
    expect(follower.take(55, at(210), 5).map(({ gate }) => gate.name)).toEqual(['second corner']);
  });
  it('know the start of a round from its end, where both lie at one place', () => {
    const follower = new PositionGates(path, gates);
    follower.take(0, at(0.5), 5);
    expect(follower.take(1, at(4), 5)).toEqual([]);
    expect(follower.alongM).toBeCloseTo(4, 0);
  });
});
