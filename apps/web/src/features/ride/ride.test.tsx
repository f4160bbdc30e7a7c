import { act, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { Route, Routes } from 'react-router';
import type { Live, Ride, RideMark } from '@ebrix/contract';
import { fakeApi, refusal } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { exampleMark, exampleRide } from '../../testing/ride-examples.js';
import { makeStore } from '../../app/store.js';
import { ridesApi, takeRide } from './api.js';
import ConsolePage from './ConsolePage.js';
import { readClock } from './Finished.js';
import { dropMarks, keepMark, waitingMarks } from './mark-queue.js';
import { nextTimingGate } from './next-timing-gate.js';
import RidePage from './RidePage.js';
import { markSentence, preparedCount, reading, stopSentence } from './ride-labels.js';
import { SAVE_AFTER_MS } from './use-ride-saver.js';

/** A stand-in for the stream of the server. */
class FakeSource {
  static newest: FakeSource | undefined;
  private readonly heard = new Map<string, (event: { data: string }) => void>();
  constructor() {
    FakeSource.newest = this;
  }
  addEventListener(name: string, listen: (event: { data: string }) => void): void {
    this.heard.set(name, listen);
  }
  close(): void {}
  emit(name: string, data: unknown = ''): void {
    act(() => this.heard.get(name)?.({ data: JSON.stringify(data) }));
  }
}
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const open = (ride: Ride, answers: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({ [`rides/${ride.id}`]: ride, 'bench/riders': [], 'bench/loggers': [], ...answers });
  renderInApp(
    <Routes>
      <Route path="/ride/:id" element={<ConsolePage />} />
      <Route path="/ride" element={<RidePage />} />
    </Routes>,
    `/ride/${ride.id}`,
  );
  return api;
};
const live = (more: Partial<Live> = {}): Live => ({
  rideId: exampleRide().id,
  elapsedS: 62,
  distanceM: 400,
  values: [
    { name: 'speed', value: 21.44, unit: 'km/h' },
    { name: 'power', value: 742.3, unit: 'W' },
    { name: 'motorTemperature', value: 88.2, unit: '°C' },
  ],
  silentSensors: [],
  silentS: 0,
  isConnected: true,
  samples: 620,
  missing: 0,
  bad: 0,
  stops: [],
  ...more,
});
const running = (more: Partial<Ride> = {}): Ride =>
  exampleRide({ state: 'running', startedAt: new Date(Date.now() - 62_000).toISOString(), ...more });
beforeEach(() => {
  localStorage.clear();
  (globalThis as { EventSource: unknown }).EventSource = FakeSource;
});

describe('the console while preparing', () => {
  it('counts what is done, warns of a pack that is not full, and stores what is typed', async () => {
    const ride = exampleRide();
    const api = open(ride, {
      [`PUT rides/${ride.id}`]: ({ body }: { body: unknown }) => ({ ...ride, ...(body as object), version: 2 }),
    });
    const hands = user();
    await hands.type(await screen.findByLabelText(/^Start voltage/), '40,9');
    expect(screen.getByText(/Below full: a range ride from here is shorter/)).toBeInTheDocument();
    await hands.click(screen.getByLabelText(/Charged full/));
    expect(screen.getByText(/2 of 6 done/)).toBeInTheDocument();
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      preparation: { startVoltageV: 40.9 },
    });
  });
  it('says what cannot be of this pack and of its gauge', async () => {
    open(exampleRide());
    const hands = user();
    const volts = await screen.findByLabelText(/^Start voltage/);
    await hands.type(volts, '4,15');
    expect(screen.getByText(/No voltage of this pack at rest/)).toBeInTheDocument();
    expect(screen.queryByText(/Below full/)).not.toBeInTheDocument();
    await hands.clear(volts);
    await hands.type(volts, '41,9');
    expect(screen.queryByText(/No voltage of this pack/)).not.toBeInTheDocument();
    await hands.type(screen.getByLabelText('Bars lit'), '6');
    await hands.type(screen.getByLabelText('of'), '5');
    expect(screen.getByText(/were the two exchanged/)).toBeInTheDocument();
  });
  it('stores two limits left quickly one after the other, on the version the first one left', async () => {
    const ride = exampleRide();
    let stored = ride;
    const api = open(ride, {
      [`PUT rides/${ride.id}`]: ({ body }: { body: unknown }) => {
        const { version, ...change } = body as { version: number };
        if (version !== stored.version)
          return Response.json(
            { error: { code: 'changed-meanwhile', message: 'Changed.', details: { current: stored } } },
            { status: 409 },
          );
        stored = { ...stored, ...change, version: version + 1 };
        return stored;
      },
    });
    const hands = user();
    await hands.click(await screen.findByText('Stop if it reaches'));
    const type = async (label: RegExp, value: string): Promise<void> => {
      const field = screen.getByLabelText(label, { selector: 'input' });
      await hands.clear(field);
      await hands.type(field, value);
      await hands.tab();
    };
    await type(/^Hub or motor/, '88');
    // Another phone stores something between the two.
    stored = { ...stored, version: stored.version + 5, preparation: { ...stored.preparation, gaugeStart: 4 } };
    await type(/^Battery/, '45');
    await waitFor(() => expect(stored.limits).toMatchObject({ motorC: 88, batteryC: 45 }));
    expect(stored.preparation.gaugeStart).toBe(4);
    expect(api.requests.filter(({ method }) => method === 'PUT').length).toBeGreaterThan(1);
    expect(screen.queryByRole('alert')).toBeNull();
  });
  it('says what could not be stored, keeps it, and does not go on without it', async () => {
    const ride = exampleRide();
    const api = open(ride, { [`PUT rides/${ride.id}`]: () => refusal(503, 'database-unreachable', 'Away.') });
    const hands = user();
    await hands.click(await screen.findByText('Stop if it reaches'));
    await hands.clear(screen.getByLabelText(/^Hub or motor/, { selector: 'input' }));
    await hands.type(screen.getByLabelText(/^Hub or motor/, { selector: 'input' }), '80');
    await hands.click(screen.getByRole('button', { name: 'Ready to ride' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Not saved: Away.');
    expect(screen.getByLabelText(/^Hub or motor/, { selector: 'input' })).toHaveValue('80');
    expect(api.requests.some(({ path }) => path.endsWith('/step'))).toBe(false);
  });
  it('does not let anyone past open safety checks, and says where they are', async () => {
    const ride = exampleRide({ openClearance: 3 });
    open(ride, {
      [`POST rides/${ride.id}/step`]: () =>
        Response.json(
          {
            error: {
              code: 'clearance-open',
              message: '3 safety checks are still to do.',
              details: { setupId: ride.setup.id },
            },
          },
          { status: 409 },
        ),
    });
    expect(await screen.findByText(/Still to do on this setup: 3 safety checks/)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Ready to ride' }));
    expect(await screen.findByRole('link', { name: 'To its safety checks' })).toHaveAttribute(
      'href',
      `/bench/setups/${ride.setup.id}/clearance`,
    );
  });
});

describe('the console while running', () => {
  it('shows the great number, the way to go and what has to stop the ride', async () => {
    open(running());
    await screen.findByRole('button', { name: 'Finished' });
    FakeSource.newest!.emit(
      'live',
      live({ stops: [{ code: 'motor-hot', severity: 'stop', value: 96, limit: 95, coolToC: 60 }] }),
    );
    expect(await screen.findByText('21.4')).toBeInTheDocument();
    expect(screen.getByText('742 W')).toBeInTheDocument();
    expect(screen.getByText('8.8 km')).toBeInTheDocument();
    expect(screen.getByRole('alert')).toHaveTextContent('Hub at 96 °C: stop, let it cool to 60 °C.');
  });
  it('says stop for brake trouble and a hot hub read by hand, with no logger and while the server is away', async () => {
    const ride = running();
    open(ride, { [`POST rides/${ride.id}/marks`]: () => refusal(503, 'database-unreachable', 'Away.') });
    await user().click(await screen.findByRole('button', { name: 'Brake!' }));
    expect(await screen.findByRole('alert')).toHaveTextContent('Brake trouble: stop now');
    const hands = user();
    await hands.click(screen.getByRole('button', { name: 'Temp.' }));
    await hands.type(screen.getByLabelText('Temperature (by hand)', { selector: 'input' }), '97');
    await hands.click(screen.getByRole('button', { name: 'Save note' }));
    expect((await screen.findAllByRole('alert')).map(({ textContent }) => textContent)).toEqual([
      expect.stringContaining('Brake trouble'),
      'Hub at 97 °C: stop, let it cool to 60 °C. Do not touch anything that turns.',
    ]);
  });
  it('takes the stop back when its mark is undone', async () => {
    const ride = running({ marks: [exampleMark(5, 'brake-trouble')] });
    open(ride);
    expect(await screen.findByRole('alert')).toHaveTextContent('Brake trouble');
    FakeSource.newest!.emit('ride', { ...ride, marks: [exampleMark(5, 'brake-trouble', { isUndone: true })] });
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  });
  it('says when the logger falls silent and what is missing', async () => {
    open(running({ logger: { id: exampleRide().id, name: 'Box 1' } }));
    await screen.findByRole('button', { name: 'Finished' });
    FakeSource.newest!.emit('live', live({ silentSensors: [{ name: 'motorTemperature', silentS: 34 }] }));
    expect(await screen.findByText(/Motor: no reading for over 30 s. Stop and check the sensor/)).toBeInTheDocument();
    FakeSource.newest!.emit('live', live({ silentS: 9, missing: 4, bad: 1 }));
    expect(await screen.findByText(/Box 1:.*silent for 9 s.*4 missing.*1 line could not be used/)).toBeInTheDocument();
  });
  it('keeps marks while the server is away, and sends them when it is back', async () => {
    const ride = { ...running(), marks: [exampleMark(7, 'note')] };
    let isAway = true;
    const api = open(ride, {
      [`POST rides/${ride.id}/marks`]: () =>
        isAway ? refusal(503, 'database-unreachable', 'Away.') : { ...ride, marks: [exampleMark(1, 'event')] },
    });
    await screen.findByRole('button', { name: 'Event' });
    FakeSource.newest!.emit('error');
    await user().click(screen.getByRole('button', { name: 'Event' }));
    expect(await screen.findByText(/kept here, not sent yet/)).toBeInTheDocument();
    // The undo of the mark before would be taken for that of the one just made.
    expect(screen.queryByRole('button', { name: 'Undo' })).not.toBeInTheDocument();
    expect(screen.getByText(/No connection to Ebrix.*1 wait/)).toBeInTheDocument();
    expect(waitingMarks(localStorage, ride.id)).toHaveLength(1);
    isAway = false;
    await waitFor(() => expect(waitingMarks(localStorage, ride.id)).toHaveLength(0), { timeout: 5000 });
    const sent = api.requests
      .filter(({ path }) => path.endsWith('/marks'))
      .map(({ body }) => (body as { marks: { id: string }[] }).marks[0]!.id);
    expect(new Set(sent).size).toBe(1);
  });
  it('keeps marks of somebody who was signed out meanwhile, until they are in again', async () => {
    let isIn = false;
    const ride = running();
    const api = open(ride, {
      [`rides/${ride.id}/marks`]: () =>
        isIn
          ? { ...ride }
          : Response.json({ error: { code: 'signed-out', message: 'Sign in first.' } }, { status: 401 }),
    });
    await user().click(await screen.findByRole('button', { name: 'Event' }));
    const sent = () => api.requests.filter(({ path }) => path.endsWith('/marks'));
    await waitFor(() => expect(sent().length).toBeGreaterThan(0));
    expect(waitingMarks(localStorage, ride.id)).toHaveLength(1);
    isIn = true;
    await waitFor(() => expect(waitingMarks(localStorage, ride.id)).toHaveLength(0), { timeout: 20_000 });
    expect(sent().at(-1)!.body).toEqual(
      expect.objectContaining({ marks: (sent()[0]!.body as { marks: object }).marks }),
    );
  });
  it('says when a mark is refused', async () => {
    const ride = running();
    open(ride, { [`POST rides/${ride.id}/marks`]: () => refusal(409, 'wrong-state', 'This ride is over.') });
    await user().click(await screen.findByRole('button', { name: 'Event' }));
    expect(await screen.findByText('A mark was not saved: This ride is over.')).toBeInTheDocument();
  });
  it('notes a temperature by where it was read', async () => {
    const ride = running();
    const api = open(ride, { [`POST rides/${ride.id}/marks`]: ride });
    const hands = user();
    await hands.click(await screen.findByRole('button', { name: 'Temp.' }));
    await hands.click(screen.getByRole('button', { name: 'Battery' }));
    await hands.type(screen.getByLabelText('Temperature (by hand)', { selector: 'input' }), '41');
    await hands.click(screen.getByRole('button', { name: 'Save note' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path.endsWith('/marks'))).toBe(true));
    expect(api.requests.find(({ path }) => path.endsWith('/marks'))!.body).toMatchObject({
      marks: [{ kind: 'temperature', place: 'battery', value: 41 }],
    });
  });
  it('follows another phone', async () => {
    open(running());
    await screen.findByRole('button', { name: 'Finished' });
    FakeSource.newest!.emit('ride', exampleRide({ state: 'aborted', reason: 'Rain' }));
    expect(await screen.findByRole('heading', { name: 'Aborted' })).toBeInTheDocument();
  });
});

describe('the console when the run is over', () => {
  it('stores what was read, then keeps the run', async () => {
    const ride = running({ state: 'finished', finishedAt: new Date().toISOString() });
    const api = open(ride, {
      [`PUT rides/${ride.id}`]: ({ body }: { body: unknown }) => ({ ...ride, ...(body as object), version: 2 }),
      [`POST rides/${ride.id}/step`]: { ...ride, state: 'kept' },
      [`POST rides/${ride.id}/marks`]: ride,
    });
    const hands = user();
    await hands.type(await screen.findByLabelText(/^Trip distance/), '9,2');
    await hands.click(screen.getByText('Enter a time from paper'));
    await hands.type(screen.getByPlaceholderText('12:34.5'), '25:01');
    await hands.click(screen.getByRole('button', { name: 'Add' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path.endsWith('/marks'))).toBe(true));
    expect(api.requests.find(({ path }) => path.endsWith('/marks'))!.body).toMatchObject({
      marks: [{ kind: 'start', elapsedS: 1501 }],
    });
    await hands.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() => expect(api.requests.some(({ path }) => path.endsWith('/step'))).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({ after: { tripDistanceKm: 9.2 } });
    expect(api.requests.find(({ path }) => path.endsWith('/step'))!.body).toEqual({
      from: 'finished',
      to: 'kept',
      reason: null,
    });
  });
  it('says at the spot what cannot be true, while the display is at hand', async () => {
    const ride = running({ state: 'finished', finishedAt: new Date().toISOString() });
    open({
      ...ride,
      laps: 3,
      preparation: { ...ride.preparation, gaugeStart: 3, gaugeBars: 5 },
      after: { ...ride.after, readings: { durationS: 3900 } },
    });
    const hands = user();
    await hands.type(await screen.findByLabelText(/^Trip distance/), '25');
    expect(screen.queryByText(/put it right/)).not.toBeInTheDocument();
    await hands.type(screen.getByLabelText(/^Average speed/), '2,3');
    expect(await screen.findByText(/distance, time or mean is written wrongly/)).toBeInTheDocument();
    await hands.type(screen.getByLabelText(/^Bars left/), '5');
    expect(await screen.findByText(/More bars left than there were before/)).toBeInTheDocument();
    expect(screen.getByLabelText('Laps ridden')).toHaveAttribute('placeholder', '3, as planned');
  });
  it('is kept by a press that meets the storing of what was typed before', async () => {
    const ride = running({ state: 'finished', finishedAt: new Date().toISOString() });
    let store = (): void => undefined;
    const stored = new Promise<void>((resolve) => (store = resolve));
    const api = open(ride, {
      [`PUT rides/${ride.id}`]: async ({ body }: { body: unknown }) => {
        await stored;
        return { ...ride, ...(body as object), version: 2 };
      },
      [`POST rides/${ride.id}/step`]: { ...ride, state: 'kept' },
    });
    const asked = (what: string) => api.requests.filter(({ method, path }) => `${method} ${path}`.startsWith(what));
    const hands = user();
    await hands.type(await screen.findByLabelText(/^Trip distance/), '9,2');
    await waitFor(() => expect(asked('PUT')).toHaveLength(1), { timeout: 10 * SAVE_AFTER_MS });
    const keep = screen.getByRole('button', { name: /Keep it/ });
    await hands.click(keep);
    // One step, however often it is pressed meanwhile.
    await hands.click(keep);
    expect(asked('POST')).toEqual([]);
    store();
    await waitFor(() => expect(asked(`POST rides/${ride.id}/step`)).toHaveLength(1));
    expect(asked(`POST rides/${ride.id}/step`)[0]!.body).toMatchObject({ to: 'kept' });
  });
  it('stores what is read off a moment later, and takes in what another phone read', async () => {
    const ride = running({ state: 'finished', finishedAt: new Date().toISOString() });
    const api = open(ride, {
      [`PUT rides/${ride.id}`]: ({ body }: { body: unknown }) => ({ ...ride, ...(body as object), version: 2 }),
    });
    const hands = user();
    // The moment after which it is stored is the test's: what another phone read comes in before it.
    const after: (() => void)[] = [];
    const later = globalThis.setTimeout;
    // No mock of the test runner, which would pass for a clock of its own; and no number that another timer may have.
    globalThis.setTimeout = ((does: () => void, ms?: number) =>
      ms === SAVE_AFTER_MS ? 1e9 + after.push(does) : later(does, ms)) as unknown as typeof setTimeout;
    await hands.type(await screen.findByLabelText(/^Trip distance/), '9,2');
    FakeSource.newest!.emit('ride', { ...ride, version: 2, after: { ...ride.after, gaugeEnd: 3 } });
    await waitFor(() => expect(screen.getByLabelText(/^Bars left/)).toHaveValue('3'));
    expect(screen.getByLabelText(/^Trip distance/)).toHaveValue('9,2');
    globalThis.setTimeout = later;
    // Others may wait as long: all of them are over now.
    for (const does of after) does();
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      version: 2,
      after: { tripDistanceKm: 9.2, gaugeEnd: 3 },
    });
  });
  it('says why no run could be made, and that nothing is lost', async () => {
    open(running({ state: 'kept', conversion: { status: 'failed', message: 'The log has no time.' } }));
    expect(await screen.findByRole('alert')).toHaveTextContent('The log has no time. Nothing recorded is lost');
  });
});

describe('the place Ride', () => {
  it('offers the next planned run and begins it', async () => {
    const ride = exampleRide();
    const api = fakeApi({
      'GET rides': {
        underway: [],
        recent: [],
        next: [
          {
            slotId: ride.id,
            trialId: ride.id,
            question: 'Which kit?',
            letter: 'B',
            setup: 'Dromel D5',
            course: 'Level round',
            testKind: 'range',
            outing: 1,
            number: 2,
            of: 8,
            openClearance: 1,
          },
        ],
      },
      'POST rides': ride,
      [`rides/${ride.id}`]: ride,
      'bench/riders': [],
      'bench/loggers': [],
    });
    renderInApp(
      <Routes>
        <Route path="/ride/:id" element={<ConsolePage />} />
        <Route path="/ride" element={<RidePage />} />
      </Routes>,
      '/ride',
    );
    expect(await screen.findByText(/Still to do on this setup: 1 safety check/)).toBeInTheDocument();
    await user().click(screen.getByRole('button', { name: 'Prepare this run' }));
    expect(await screen.findByRole('heading', { name: 'Prepare' })).toBeInTheDocument();
    expect(api.requests.find(({ method }) => method === 'POST')!.body).toEqual({ slotId: ride.id });
  });
});

describe('small parts of the console', () => {
  it('know which gate a tap means', () => {
    const once = (testKind: Ride['testKind']) => ({ testKind, laps: 1 });
    expect(nextTimingGate([], once('hill-climb'))).toEqual({ kind: 'start', direction: 1 });
    const start = exampleMark(1, 'start', { direction: 1 });
    const finish = exampleMark(2, 'finish', { direction: 1 });
    expect(nextTimingGate([start], once('top-speed'))).toEqual({ kind: 'finish', direction: 1 });
    expect(nextTimingGate([start, finish], once('top-speed'))).toEqual({ kind: 'start', direction: -1 });
    expect(nextTimingGate([start, finish], once('range'))).toEqual({ kind: 'start', direction: 1 });
    expect(nextTimingGate([start, { ...finish, isUndone: true }], once('range'))).toEqual({
      kind: 'finish',
      direction: 1,
    });
  });
  it('count the laps that are to be ridden: start, each lap, finish', () => {
    const kinds: string[] = [];
    const marks: RideMark[] = [];
    for (let k = 0; k < 5; k++) {
      const { kind, direction } = nextTimingGate(marks, { testKind: 'range', laps: 3 });
      kinds.push(kind);
      marks.push(exampleMark(k + 1, kind, { direction }));
    }
    expect(kinds).toEqual(['start', 'lap', 'lap', 'finish', 'start']);
    const start = exampleMark(1, 'start', { direction: 1 });
    expect(nextTimingGate([start], { testKind: 'hill-climb', laps: 3 }).kind).toBe('finish');
  });
  it.each([
    ['75,5', 75.5],
    ['12:34.5', 754.5],
    ['1:02:03', 3723],
    ['soon', undefined],
    ['1:2:3:4', undefined],
  ])('read %s from a stopwatch', (text, seconds) => expect(readClock(text)).toBe(seconds));
  it('keep marks in the browser until they are sent, whatever lies there', () => {
    const { isUndone: _, ...mark } = exampleMark(1, 'event');
    keepMark(localStorage, 'r', mark);
    keepMark(localStorage, 'r', { ...mark, id: 'b' });
    dropMarks(localStorage, 'r', [mark.id]);
    expect(waitingMarks(localStorage, 'r').map(({ id }) => id)).toEqual(['b']);
    localStorage.setItem('ebrix.marks.r', '{nonsense');
    expect(waitingMarks(localStorage, 'r')).toEqual([]);
  });
  it('speak in the units of the person', () => {
    expect(reading(21.44, 'km/h', 'imperial')).toEqual({ value: '13.3', unit: 'mph' });
    expect(
      stopSentence({ code: 'battery-hot', severity: 'caution', value: 45, limit: 50, coolToC: 15 }, 'imperial'),
    ).toContain('122 °F');
    expect(
      stopSentence({ code: 'pack-low', severity: 'stop', value: 29.9, limit: 30, coolToC: null }, 'metric'),
    ).toContain('switch the motor off');
    expect(
      stopSentence({ code: 'brake-trouble', severity: 'stop', value: null, limit: null, coolToC: null }, 'metric'),
    ).toContain('do not ride on');
  });
  it.each([
    [exampleMark(75, 'finish', { direction: -1 }), '1:15 finish gate, reversed'],
    [exampleMark(5, 'temperature', { place: 'motor', value: 61 }), '0:05 motor 61 °C'],
    [exampleMark(5, 'gauge', { value: 3 }), '0:05 3 bars'],
    [exampleMark(5, 'note', { text: 'Cart', elapsedS: null }), 'Cart'],
  ])('put a mark in words: %#', (mark, words) => expect(markSentence(mark, 'metric')).toBe(words));
  it('count preparations', () => expect(preparedCount(exampleRide()).lacking).toHaveLength(6));
});

describe('what is told of a ride', () => {
  const runId = '01a21758-e5ae-7639-a440-89e560d894d6';
  const shownAfter = async (...updates: readonly Ride[]): Promise<Ride | undefined> => {
    const store = makeStore();
    for (const ride of updates) await store.dispatch(takeRide(ride));
    return ridesApi.endpoints.getRide.select(updates[0]!.id)(store.getState()).data;
  };
  it('an answer that the stream has overtaken does not take the run away again', async () => {
    const kept = exampleRide({ state: 'kept', version: 5 });
    expect((await shownAfter(kept, { ...kept, runId }, kept))!.runId).toBe(runId);
  });
  it('an older version does not undo a newer one, and a newer one is taken', async () => {
    const [older, newer] = [exampleRide({ version: 2 }), exampleRide({ version: 3, state: 'armed' })];
    expect((await shownAfter(newer, older))!.state).toBe('armed');
    expect((await shownAfter(older, newer))!.version).toBe(3);
  });
});
