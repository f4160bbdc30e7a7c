import { screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import type { Finding, StandRecord } from '@ebrix/contract';
import { standFigures } from '@ebrix/core/bench';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import StandTab from './StandTab.js';
import { readStand, toStandValues } from './stand-values.js';

const setup = exampleDetail();
const revisionId = setup.revisions[0]!.id;
const readings: StandRecord['readings'] = {
  rollOutTurns: 10,
  rollOutM: 20.93,
  rollOutLimitMm: null,
  timedTurns: null,
  timedS: null,
  displaySpeedKmh: null,
  noLoadSpeedKmh: null,
  noLoadCurrentA: 0,
  spinDownS: [6.1, 6.4],
  frontKg: 10.6,
  rearKg: 20.2,
  scaleLimitKg: null,
};
const record: StandRecord = {
  version: 2,
  day: '2026-03-21',
  by: 'Ottoline Vask',
  directionRight: true,
  spinsFreely: null,
  brakeCuts: false,
  readings,
  note: '',
  revisionId,
  revisionNumber: 1,
  figures: structuredClone(standFigures(readings, 2.1)) as StandRecord['figures'],
};
const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const show = (records: StandRecord[], more: Parameters<typeof fakeApi>[0] = {}) => {
  const api = fakeApi({ [`setups/${setup.id}/stand`]: records, [`setups/${setup.id}/findings`]: [], ...more });
  renderInApp(<StandTab setup={setup} />);
  return api;
};
afterEach(() => {
  sessionStorage.clear();
  localStorage.clear();
});

describe('what is read on the stand', () => {
  it('comes back from the form as it was stored, zero and unknown apart', () => {
    const read = readStand(toStandValues(record, '', ''), 2);
    expect(read.ok && read.input.readings).toEqual(readings);
    expect(read.ok && read.input).toMatchObject({ brakeCuts: false, spinsFreely: null, version: 2 });
  });
  it('names the field that cannot be read', () => {
    const wrong = (more: object) => readStand({ ...toStandValues(record, '', ''), ...more }, 0);
    expect(wrong({ readings: { spinDownS: '6.1 long' } })).toMatchObject({
      ok: false,
      problems: [{ name: ['readings', 'spinDownS'] }],
    });
    expect(wrong({ by: '' })).toMatchObject({ ok: false, problems: [{ name: ['by'], message: 'Write your name.' }] });
    expect(wrong({ readings: { frontKg: -1 } })).toMatchObject({
      ok: false,
      problems: [{ name: ['readings', 'frontKg'] }],
    });
  });
});

describe('the stand test', () => {
  it('shows figures with their uncertainty and how they came about', async () => {
    show([record]);
    const wheel = await screen.findByRole('row', { name: /^Wheel circumference/ });
    expect(wheel).toHaveTextContent(/2\.093\d* ± 0\.000\d+ m/);
    expect(screen.getByRole('row', { name: /^Weight on front wheel/ })).toHaveTextContent(/34\.4\d* ± 0\.\d+ %/);
    await user().click(wheel.querySelector('button')!);
    expect(await screen.findByRole('region', { name: /How Wheel circumference was calculated/ })).toHaveTextContent(
      'distance ÷ turns',
    );
  });

  it('is saved with the version it began from', async () => {
    const api = show([], { [`PUT revisions/${revisionId}/stand`]: record });
    const hands = user();
    await hands.type(await screen.findByLabelText('Roll-out, turns'), '10');
    await hands.type(screen.getByLabelText('Roll-out, distance'), '20,93');
    await hands.type(screen.getByLabelText('Spin-down times, s'), '6.1 6,4');
    await hands.type(screen.getByLabelText('By'), 'Bram Tellow');
    await hands.click(screen.getByRole('button', { name: 'Save the stand test' }));
    await waitFor(() => expect(api.requests.some(({ method }) => method === 'PUT')).toBe(true));
    expect(api.requests.find(({ method }) => method === 'PUT')!.body).toMatchObject({
      version: 0,
      by: 'Bram Tellow',
      directionRight: null,
      readings: { rollOutTurns: 10, rollOutM: 20.93, spinDownS: [6.1, 6.4], frontKg: null },
    });
  });
});

describe('trouble-shooting', () => {
  it('a finding goes into the logbook as a fault, with where it came from, so that it lands there once', async () => {
    const finding: Finding = {
      id: '01900000-0000-7000-8000-000000000078',
      revisionId,
      revisionNumber: 1,
      symptom: 'noise',
      suspect: null,
      cause: 'Spokes loose on the left',
      cure: 'Tensioned.',
      by: 'Bram Tellow',
      at: '2026-04-01T08:00:00.000Z',
    };
    const api = show([], {
      [`setups/${setup.id}/findings`]: [finding],
      'POST logbook/entries': { stored: 1, already: 0 },
    });
    await user().click(await screen.findByRole('button', { name: /^Into the logbook/ }));
    await waitFor(() =>
      expect(api.requests.find(({ path }) => path === 'logbook/entries')?.body).toMatchObject({
        entries: [
          {
            subject: { kind: 'setup', id: setup.id },
            day: '2026-04-01',
            source: `finding:${finding.id}`,
            details: { kind: 'fault', part: 'spokes', symptom: 'noise', cause: finding.cause, cure: 'Tensioned.' },
          },
        ],
      }),
    );
  });

  it('lists suspects likeliest first and keeps what it was', async () => {
    const finding: Finding = {
      id: '01900000-0000-7000-8000-000000000077',
      revisionId,
      revisionNumber: 1,
      symptom: 'noise',
      suspect: 'loose-cable',
      cause: 'Motor cable loose or too tight at the axle',
      cure: 'Clipped to the stay.',
      by: 'Bram Tellow',
      at: '2026-04-01T08:00:00.000Z',
    };
    const api = show([], { [`POST setups/${setup.id}/findings`]: [finding] });
    const hands = user();
    await hands.click(await screen.findByRole('radio', { name: 'Noise from the hub or the drive' }));
    expect((await screen.findAllByRole('listitem'))[0]).toHaveTextContent('Motor cable loose or too tight');
    await hands.type(screen.getByLabelText('Cause'), 'Cable rubbed.');
    await hands.type(screen.getByLabelText('Your name'), 'Bram Tellow');
    await hands.click(screen.getByRole('button', { name: 'Note it' }));
    await waitFor(() =>
      expect(api.requests.find(({ method }) => method === 'POST')?.body).toMatchObject({
        symptom: 'noise',
        cause: 'Cable rubbed.',
        by: 'Bram Tellow',
      }),
    );
  });
});
