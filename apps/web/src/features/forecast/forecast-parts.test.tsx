import { cleanup, fireEvent, screen, waitFor, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { calibrate, forecast, trustOf, type Calibration } from '@ebrix/core/forecast';
import type { Course, KeptForecast, SetupCalibration } from '@ebrix/contract';
import { exampleSetups, ONE_PAGE } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { AlongChart, type DrawnSetup } from './AlongChart.js';
import { AnswerWords, FigureRows, WhatMatters } from './AnswerPart.js';
import { KeptPart } from './KeptPart.js';
import { QuestionForm } from './QuestionForm.js';
import { readQuestion, type Question } from './question.js';
import { TrustPart } from './TrustPart.js';

const user = () => userEvent.setup({ delay: null, pointerEventsCheck: 0 });
const calibration = calibrate([], { speedLimitMps: 25 / 3.6, temperatureLimitC: 95 });
const scenario = {
  profile: [
    { distanceM: 0, altitudeM: 0 },
    { distanceM: 4000, altitudeM: 60 },
  ],
  totalMassKg: 120,
  airTemperatureC: 15,
  windMps: 0,
  startShare: 1,
  riding: { targetSpeedKmh: 22, riderPowerW: 80 },
};
const drawn = (letter: 'A' | 'B', of: Calibration = calibration): DrawnSetup => ({
  letter,
  name: `Setup ${letter}`,
  answer: forecast(of, scenario, { samples: 40 }),
});
const USUAL: SetupCalibration['usual'] = {
  totalMassKg: 126,
  massIsKnown: false,
  targetSpeedKmh: 23,
  helpEndsKmh: 25,
  riderPowerW: 80,
  levels: [{ level: 3, demand: 0.5 }],
  packAh: 11.6,
  packMassKg: 3.1,
  temperatureLimitC: 95,
};
const ID = '01890a5d-ac96-774b-bcce-b302099a8057';

describe('the answer', () => {
  it('stands in words for each setup, with what is to be kept in mind', () => {
    renderInApp(<AnswerWords setups={[drawn('A'), drawn('B')]} wayM={4000} reserveShare={0.1} isRough={false} />);
    expect(screen.getAllByText(/4 km in .* out of the battery/)).toHaveLength(2);
    expect(screen.getAllByText(/No ride of this bike was used/)).toHaveLength(2);
    expect(screen.getByRole('region', { name: 'Answer' })).toHaveAttribute('aria-busy', 'false');
  });
  it('says while its spans still move', () => {
    renderInApp(<AnswerWords setups={[drawn('A')]} wayM={4000} reserveShare={0.1} isRough />);
    expect(screen.getByText(/Still being worked out/)).toBeVisible();
  });
  it('in figures shows what one is unsure by, and two beside each other without', () => {
    renderInApp(<FigureRows setups={[drawn('A')]} />);
    expect(screen.getByRole('columnheader', { name: 'Unsure by' })).toBeVisible();
    const row = screen.getByRole('row', { name: /energy out of the battery/ });
    expect(row).toHaveTextContent(/Wh .* to .*%/);
    cleanup();
    renderInApp(<FigureRows setups={[drawn('A'), drawn('B')]} />);
    expect(screen.queryByRole('columnheader', { name: 'Unsure by' })).toBeNull();
  });
  it('says what matters most in shares of its doubt', () => {
    renderInApp(<WhatMatters setup={drawn('A')} />);
    const energy = screen.getByRole('heading', { name: 'Energy' }).parentElement!;
    expect(within(energy).getAllByText(/\d+ %/).length).toBeGreaterThan(1);
  });
  it('is drawn along the way, its numbers in a table behind', async () => {
    renderInApp(<AlongChart setups={[drawn('A')]} reserveShare={0.1} temperatureLimitC={95} />);
    expect(screen.getByRole('img', { name: /Charge left, speed, power and motor temperature/ })).toBeVisible();
    await user().click(screen.getByText('Numbers along the way'));
    const table = screen.getByRole('region', { name: 'Numbers along the way' });
    expect(within(table).getAllByRole('row').length).toBeGreaterThan(8);
    expect(within(table).getByRole('columnheader', { name: 'Speed, km/h' })).toBeVisible();
  });
});

/** This test's browser has no `arrayBuffer` of its own on files. */
function fileOf(text: string, name: string): File {
  const bytes = new TextEncoder().encode(text);
  return Object.assign(new File([bytes], name), { arrayBuffer: () => Promise.resolve(bytes.buffer) });
}

describe('the question', () => {
  const course = { id: ID, name: 'Chapel Hill', kind: 'climb', lengthM: 1200, archivedAt: null } as unknown as Course;
  const form = (search: string, onChange: (change: Partial<Question>) => void = jest.fn(), onWay = jest.fn()) =>
    renderInApp(
      <QuestionForm
        question={readQuestion(new URLSearchParams(search))}
        setups={exampleSetups}
        courses={[course]}
        usual={USUAL}
        way={undefined}
        onChange={onChange}
        onWay={onWay}
      />,
    );
  it('says that a mass was guessed, and moves by the keys', () => {
    const onChange = jest.fn();
    form(`on=${ID}`, onChange);
    expect(screen.getByText(/guessed: a mass is missing/)).toBeVisible();
    fireEvent.keyDown(screen.getByRole('slider', { name: /All there is/ }), { keyCode: 39, which: 39 });
    expect(onChange).toHaveBeenCalledWith({ totalMassKg: 127 });
  });
  it('takes a slope within what roads are, and nothing else', async () => {
    const onChange = jest.fn();
    form('on=slope', onChange);
    const slope = screen.getByLabelText('Slope');
    await user().clear(slope);
    await user().type(slope, '8');
    expect(onChange).toHaveBeenLastCalledWith({ grade: 0.08 });
    onChange.mockClear();
    await user().type(slope, '0');
    expect(onChange).not.toHaveBeenCalled();
  });
  it('reads a track that is dropped, and says why one has none', async () => {
    const onWay = jest.fn();
    form('on=file', jest.fn(), onWay);
    const points = Array.from(
      { length: 30 },
      (_, k) => `<trkpt lat="${(50 + k / 2000).toFixed(5)}" lon="8.0"><ele>${100 + k}</ele></trkpt>`,
    ).join('');
    const gpx = `<?xml version="1.0"?><gpx version="1.1" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>${points}</trkseg></trk></gpx>`;
    const input = screen.getByLabelText('Choose a track', { selector: 'input' });
    await user().upload(input, fileOf(gpx, 'hill.gpx'));
    await waitFor(() => expect(onWay).toHaveBeenCalled());
    const [[way]] = onWay.mock.calls as [[{ name: string; profile: { distanceM: number }[] }]];
    expect(way.name).toMatch(/hill\.gpx, 1\.6 km/);
    await user().upload(input, fileOf('nothing', 'none.gpx'));
    expect(await screen.findByRole('alert')).toBeVisible();
  });
  it('warns of two packs at once', () => {
    form(`on=${ID}&second=1`);
    expect(screen.getByText(/packs that are made for it/)).toBeVisible();
  });
});

describe('trust', () => {
  const stored = (over: Partial<SetupCalibration>): SetupCalibration => ({
    setup: { id: ID, name: 'Corvane', revisionId: ID },
    calibration: {},
    trust: trustOf([], {}),
    parameters: [
      { name: 'dragArea', label: 'drag area', unit: 'm²', value: 0.58, interval95: [0.5, 0.66], from: 'prior' },
    ],
    usual: USUAL,
    sharedFrom: null,
    rides: [],
    ...over,
  });
  it('without rides is none, and says so', () => {
    renderInApp(<TrustPart calibration={stored({ sharedFrom: 'Old front hub' })} />);
    expect(screen.getByText(/taken from rides of Old front hub/)).toBeVisible();
    expect(screen.getByText(/No ride of this bike could be used/)).toBeVisible();
  });
  it('shows how its own rides came out, and why some were not used', async () => {
    const figure = { n: 4, hits: 3, bias: -0.05, spread: 0.08, beyond: 0.04, within: 1 };
    renderInApp(
      <TrustPart
        calibration={stored({
          trust: {
            energy: figure,
            rides: [{ name: 'Morning', figures: [{ key: 'energy', forecast: 50, interval95: [40, 60], ridden: 47 }] }],
            isMissed: false,
          },
          rides: [
            { id: ID, name: 'Morning', isUsed: true, why: '' },
            { id: ID.replace('0', '1'), name: 'Evening', isUsed: false, why: 'Its mass is not known.' },
          ],
        })}
      />,
    );
    expect(screen.getByRole('row', { name: /Energy 3 of 4 −5 % 8 %/ })).toBeVisible();
    await user().click(screen.getByText('Ride by ride'));
    expect(screen.getByText(/energy 47 Wh, foretold 50 \(40 to 60\)/)).toBeVisible();
    expect(screen.getByText(/Its mass is not known/)).toBeVisible();
  });
});

describe('what was kept', () => {
  const kept: KeptForecast = {
    id: ID,
    version: 1,
    title: 'Hill with bread',
    setupId: exampleSetups[0]!.id,
    setupName: 'Corvane',
    courseId: null,
    question: { address: 'on=slope', words: 'a slope' },
    figures: [
      {
        key: 'energyOut',
        label: 'energy out of the battery',
        value: 50,
        unit: 'Wh',
        interval95: [40, 60],
        contributions: [],
      },
    ],
    at: '2026-05-01T08:00:00.000Z',
    ridden: null,
  };
  it('leads back to its question and says how its ride came out', async () => {
    fakeApi({
      'GET forecasts': [
        {
          ...kept,
          ridden: {
            runId: ID,
            name: 'Hill, ride.csv',
            date: '2026-05-03',
            figures: [{ key: 'energyOut', value: 72, interval95: [40, 60], isInside: false }],
          },
        },
      ],
      'GET runs': { items: [], total: 0, ...ONE_PAGE },
    });
    renderInApp(<KeptPart />);
    expect(await screen.findByRole('link', { name: 'Hill with bread' })).toHaveAttribute('href', '/forecast?on=slope');
    expect(screen.getByText('outside its span')).toBeVisible();
  });
  it('is nothing yet on a new installation', async () => {
    fakeApi({ 'GET forecasts': [] });
    renderInApp(<KeptPart />);
    expect(await screen.findByText(/Nothing is kept yet/)).toBeVisible();
  });
});
