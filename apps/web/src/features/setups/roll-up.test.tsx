import { act, screen } from '@testing-library/react';
import fc from 'fast-check';
import { say, amount, type SetupFacts } from '@ebrix/core/bench';
import { exampleDetail } from '../../testing/examples.js';
import { fakeApi } from '../../testing/fake-api.js';
import { renderInApp } from '../../testing/render.js';
import { setUnits } from '../../shared/preferences/index.js';
import { factsOf } from '../../entities/setup/index.js';
import { FrameDrawing } from './FrameDrawing.js';
import { estimateText, RollUpStrip, RollUpTables, ruleName } from './RollUpView.js';
import { sentenceText } from '../../shared/ui/SentenceText.js';

const base = factsOf(exampleDetail().revisions[0]!);
const withGears: SetupFacts = {
  ...base,
  bike: { ...base.bike, chainringTeeth: [42], cogTeeth: [14, 28] },
  kit: {
    ...base.kit!,
    noLoadRpm: 260,
    nominalVoltageV: 48,
    price: { amount: 389.9, currency: 'EUR', date: '2026-02-10' },
  },
  fit: { ...base.fit, electricityPerKWh: 0.31 },
};
beforeEach(() => {
  localStorage.clear();
  fakeApi({ 'thumb-rules': [{ name: 'moderate pedalling, near 23 km/h', whPerKm: 8 }] });
});

describe('the sums in full', () => {
  it('are exact in both unit systems', async () => {
    const { store } = renderInApp(<RollUpTables facts={withGears} />);
    // 42 ÷ 14 · 2.1 m · 70 1/min = 26.46 km/h.
    expect(await screen.findByRole('row', { name: /^42 : 14/ })).toHaveTextContent('26.5');
    expect(screen.getByRole('row', { name: /^No-load speed/ })).toHaveTextContent('33 km/h (31 to 34)');
    expect(screen.getByRole('row', { name: /^Total/ })).toHaveTextContent('109.3');
    expect(screen.getByRole('row', { name: /^Conversion/ })).toHaveTextContent('more than EUR 389.90');
    act(() => void store.dispatch(setUnits('imperial')));
    // 26.46 ÷ 1.609344 and 109.3 ÷ 0.45359237.
    expect(screen.getByRole('row', { name: /^42 : 14/ })).toHaveTextContent('16.4');
    expect(screen.getByRole('row', { name: /^Total/ })).toHaveTextContent('241');
    expect(screen.getByRole('row', { name: /near 14 mph, 13 Wh\/mi/ })).toBeInTheDocument();
  });

  it('of which nothing is known are none, and parts of one name are named once', async () => {
    const name = 'Corvane R2, milk bike 2';
    const sketch: SetupFacts = {
      ...base,
      bike: { ...base.bike, name, massKg: null },
      kit: { ...base.kit!, name, massKg: null, box: [] },
      packs: base.packs.slice(0, 1).map((pack) => ({ ...pack, name, massKg: null })),
      addOns: [],
      fit: { ...base.fit, riderMassKg: null, payloadKg: null },
    };
    renderInApp(
      <>
        <RollUpStrip facts={sketch} />
        <RollUpTables facts={sketch} />
      </>,
    );
    const strip = await screen.findByRole('group', { name: 'Sums of this setup' });
    expect(strip).toHaveTextContent(/Added to the bike–no masses yet/);
    expect(strip).toHaveTextContent(/All-up weight–without Corvane R2, milk bike 2 \(3 parts\), rider/);
    expect(screen.getByRole('row', { name: /^Total/ })).toHaveTextContent(/^Total–$/);
    expect(screen.queryByText(/^On the wheels/)).not.toBeInTheDocument();
  });

  it('name what they need instead of a number', async () => {
    renderInApp(<RollUpTables facts={base} />);
    expect(await screen.findByRole('row', { name: /^No-load speed/ })).toHaveTextContent(
      'needs no-load speed of the winding',
    );
    expect(screen.getByRole('row', { name: /^Time to charge/ })).toHaveTextContent('needs a charger with its current');
    expect(screen.getByText(/Needs chainring and cog teeth/)).toBeInTheDocument();
    expect(screen.getByText(/Assumed: bike: 45 % on the front wheel, not weighed/)).toBeInTheDocument();
  });

  it('write an estimate with its span, a reason without a number', () => {
    expect(estimateText({ value: 29, lower: 20.3, upper: 37.7, unit: 'km', basis: '' }, 'metric')).toBe(
      '29 km (20 to 38)',
    );
    expect(estimateText({ missing: ['a pack'] }, 'metric')).toBe('needs a pack');
    expect(ruleName({ name: 'own round', whPerKm: 6.5 }, 'metric')).toBe('own round, 6.5 Wh/km');
  });
});

describe('sentences of the core', () => {
  it('are written in the person’s units, numbers tied to their units', () => {
    const sentence = say`help to ${amount(25, 'km/h', 3)}, ${amount(135, 'mm')} wide`;
    expect(sentenceText(sentence, 'metric')).toBe('help to 25\u00a0km/h, 135\u00a0mm wide');
    expect(sentenceText(sentence, 'imperial')).toBe('help to 15.5\u00a0mph, 135\u00a0mm wide');
  });
  it('keep every word', () =>
    fc.assert(
      fc.property(fc.array(fc.string(), { maxLength: 5 }), (words) => {
        expect(sentenceText(words, 'metric')).toBe(words.join(''));
      }),
    ));
});

describe('the drawing of the frame', () => {
  const framed = (lengthMm: number | null): SetupFacts => ({
    ...base,
    bike: {
      ...base.bike,
      frame: { seatTubeMm: 470, topTubeMm: 545, headTubeMm: 105, downTubeMm: 610, diagonalMm: 665 },
    },
    packs: [{ ...base.packs[0]!, mountKind: 'bosses', lengthMm, heightMm: 92, railMm: 14 }],
    fit: { ...base.fit, batteryTube: 'down-tube' },
  });
  it('says in words what it shows', () => {
    renderInApp(<FrameDrawing facts={framed(340)} />);
    expect(screen.getByRole('img', { name: /561 mm free along the down tube, battery 340 mm/ })).toBeInTheDocument();
  });
  it('is left out while a measure is missing or the pack sits elsewhere', () => {
    renderInApp(<FrameDrawing facts={base} />);
    expect(screen.queryByRole('img')).not.toBeInTheDocument();
  });
  it('draws the frame alone when the pack’s size is not known', () => {
    renderInApp(<FrameDrawing facts={framed(null)} />);
    expect(screen.getByRole('img', { name: /No room for the battery/ })).toBeInTheDocument();
  });
});
