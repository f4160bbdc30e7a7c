import fc from 'fast-check';
import {
  figureVocabulary,
  pairSentence,
  pairSentences,
  smallestDifferenceText,
  type SpokenPair,
  type VerdictVoice,
} from './index.js';

const pair: SpokenPair = {
  a: 'Near',
  b: 'Far',
  difference: { estimate: -10, lower: -12, upper: -8 },
  ratio: { estimate: 0.8, lower: 0.75, upper: 0.85 },
  verdict: 'better-and-matters',
};
const range = (system: 'metric' | 'imperial', kind: 'absolute' | 'relative' = 'absolute'): VerdictVoice => ({
  words: figureVocabulary('rangeToCutoff', 'Range', 'more', system),
  smallestDifference: { kind, value: kind === 'absolute' ? 5 : 0.05 },
  unit: 'km',
  system,
});

describe('the sentence on a pair', () => {
  it('says a difference in the units of the reader', () => {
    expect(pairSentence(pair, range('metric'))).toBe('Far has 10.0 km more range than Near, and it matters.');
    expect(pairSentence(pair, range('imperial'))).toBe('Far has 6.2 mi more range than Near, and it matters.');
  });

  it('says the smallest difference that matters in them too', () => {
    const none: SpokenPair = { ...pair, verdict: 'no-difference-that-matters' };
    expect(pairSentence(none, range('metric'))).toContain('less than 5 km either way');
    expect(pairSentence(none, range('imperial'))).toContain('less than 3.107 mi either way');
    expect(smallestDifferenceText(range('imperial'))).toBe('3.107 mi');
    expect(smallestDifferenceText(range('imperial', 'relative'))).toBe('5 %');
  });

  it('says consumption per mile to who reads miles', () => {
    const words = figureVocabulary('netConsumption', 'Net consumption', 'less', 'imperial');
    const voice: VerdictVoice = {
      words,
      smallestDifference: { kind: 'absolute', value: 1 },
      unit: 'Wh/km',
      system: 'imperial',
    };
    // 10 Wh/km are 16.09 Wh/mi.
    expect(pairSentence(pair, voice)).toBe('Near uses 16.1 Wh/mi less energy per mile than Far, and it matters.');
  });

  it('says a rise of 10 °C as one of 18 °F, not of 50', () => {
    const words = figureVocabulary('', 'heating', 'less', 'imperial');
    const voice: VerdictVoice = {
      words,
      smallestDifference: { kind: 'absolute', value: 5 },
      unit: '°C',
      system: 'imperial',
    };
    expect(pairSentence(pair, voice)).toContain('18.0 °F less');
  });

  it('has no unit where none is known, nor for a bare number', () => {
    for (const unit of [null, '1'] as const) {
      const voice: VerdictVoice = { ...range('metric'), unit };
      expect(pairSentence(pair, voice)).toBe('Far has 10.0 more range than Near, and it matters.');
    }
  });

  it('is the same in both systems where the difference is a share', () =>
    fc.assert(
      fc.property(
        fc.double({ min: 0.5, max: 2, noNaN: true }),
        fc.double({ min: 0.001, max: 0.3, noNaN: true }),
        (estimate, half) => {
          const shared: SpokenPair = { ...pair, ratio: { estimate, lower: estimate - half, upper: estimate + half } };
          expect(pairSentence(shared, range('imperial', 'relative'))).toBe(
            pairSentence(shared, range('metric', 'relative')),
          );
        },
      ),
    ));

  it('falls back on the difference where values are not all positive and there is no ratio', () => {
    expect(pairSentence({ ...pair, ratio: undefined }, range('metric', 'relative'))).toContain('10.0 km more');
  });

  it('says how many more runs, of one in the singular', () => {
    const open: SpokenPair = { ...pair, verdict: 'cannot-tell' };
    const say = (more: SpokenPair['more']) => pairSentence({ ...open, more }, range('metric'));
    expect(say({ unit: 'run', about: 1, low: 1, high: 1 })).toContain('about 1 more run of each would');
    expect(say({ unit: 'run', about: 7, low: 4, high: 12 })).toContain('about 7 more runs of each (4 to 12, for');
    expect(say({ unit: 'outing', about: 9, low: 3 })).toContain('about 9 more outings of each (3 or many more');
    expect(pairSentence(open, range('metric'))).toContain('more runs than anyone would ride');
  });

  it('says why two cannot be told apart and what would settle it, and no number of runs', () => {
    const apart: SpokenPair = {
      a: 'Near',
      b: 'Far',
      verdict: 'cannot-tell',
      refusal: { because: 'each had its own rider', mend: 'Let one rider ride both.' },
    };
    expect(pairSentence(apart, range('metric'))).toBe(
      'Cannot tell whether Near or Far has more range: each had its own rider. Let one rider ride both.',
    );
  });

  it('says so far, before the last look that was planned', () => {
    expect(pairSentence(pair, { ...range('metric'), isSoFar: true })).toBe(
      'So far Far has 10.0 km more range than Near, and it matters.',
    );
  });
});

describe('the sentences on all pairs', () => {
  it('begin with what is decided', () => {
    const verdicts = [
      'cannot-tell',
      'no-difference-that-matters',
      'better-and-matters',
      'better-may-not-matter',
    ] as const;
    const said = pairSentences(
      verdicts.map((verdict) => ({ ...pair, verdict })),
      range('metric'),
    );
    expect(
      said.map((sentence) => /and it matters|may be too little|Cannot tell|no difference/.exec(sentence)![0]),
    ).toEqual(['and it matters', 'may be too little', 'Cannot tell', 'no difference']);
  });
});
