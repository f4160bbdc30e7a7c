import fc from 'fast-check';
import {
  findConfounding,
  judgeLook,
  OPEN_RIDING,
  ridingText,
  sortIntoArms,
  type CandidateRun,
  type Riding,
  type RunConditions,
} from '../index.js';

const run = (id: string, riding: Partial<Riding> = {}, more: Partial<CandidateRun> = {}): CandidateRun => ({
  id,
  revisionId: 'one',
  riding: { ...OPEN_RIDING, ...riding },
  isSimulated: false,
  isExcluded: false,
  isMostlyEstimated: false,
  ...more,
});
const arm = (riding: Partial<Riding> = {}, revisionId = 'one') => ({
  revisionId,
  riding: { ...OPEN_RIDING, ...riding },
});
const REAL = { countsSimulated: false };

describe('runs sorted into the arms of a trial', () => {
  it('go by how they were ridden where the arms are one setup ridden two ways', () => {
    const sorted = sortIntoArms(
      [run('a', { way: 'throttle' }), run('b', { way: 'steady' }), run('c', { way: 'hard' }), run('d')],
      [arm({ way: 'throttle' }), arm({ way: 'steady' })],
      OPEN_RIDING,
      REAL,
    );
    expect([...sorted.armOf]).toEqual([
      ['a', 0],
      ['b', 1],
    ]);
    expect(sorted.apart.get('c')!.text).toContain('hard pedalling');
    expect(sorted.apart.get('d')).toMatchObject({ kind: 'not-said', field: 'way' });
    expect(sorted.open).toBeUndefined();
  });

  it('are not averaged in silence: two ways of riding one setup are asked about', () => {
    const { open } = sortIntoArms(
      [run('a', { way: 'throttle' }), run('b', { way: 'steady' }), run('c', { way: 'steady' })],
      [arm(), arm({}, 'two')],
      OPEN_RIDING,
      REAL,
    );
    expect(open).toMatchObject({
      field: 'way',
      found: [
        { value: 'steady', runs: 2 },
        { value: 'throttle', runs: 1 },
      ],
    });
    expect(open!.text).toContain('steady pedalling (2 runs)');
  });

  it('are not guessed either: of runs of which one says how, the silent ones are asked', () => {
    const sorted = sortIntoArms([run('a', { way: 'steady' }), run('b')], [arm()], OPEN_RIDING, REAL);
    expect(sorted.armOf.has('a')).toBe(true);
    expect(sorted.apart.get('b')).toMatchObject({ kind: 'not-said' });
  });

  it('left out by a person raise no question and answer none', () => {
    const leftOut = run('b', { way: 'throttle' }, { isExcluded: true });
    const pedalled = [run('a', { way: 'steady' }), run('c', { way: 'steady' })];
    expect(sortIntoArms([...pedalled, leftOut], [arm()], OPEN_RIDING, REAL).open).toBeUndefined();
    // Of runs that do not say, none is asked because of one that does not count.
    const { armOf } = sortIntoArms([run('a'), run('c'), leftOut], [arm()], OPEN_RIDING, REAL);
    expect([...armOf.keys()]).toEqual(['a', 'c', 'b']);
  });

  it('count all where none says how it was ridden, and the trial holds nothing', () =>
    expect(sortIntoArms([run('a'), run('b')], [arm()], OPEN_RIDING, REAL).armOf.size).toBe(2));

  it('stand apart when simulated, unless the trial counts these, and when mostly estimated', () => {
    const runs = [run('a', {}, { isSimulated: true }), run('b', {}, { isMostlyEstimated: true })];
    const sorted = sortIntoArms(runs, [arm()], OPEN_RIDING, REAL);
    expect([...sorted.apart].map(([id, { kind }]) => [id, kind])).toEqual([
      ['a', 'simulated'],
      ['b', 'estimated'],
    ]);
    expect(sortIntoArms(runs, [arm()], OPEN_RIDING, { countsSimulated: true }).armOf.has('a')).toBe(true);
  });

  it('meet a payload to within a kilogram, and a level whatever its capitals', () => {
    const held = { ...OPEN_RIDING, payloadKg: 20, level: 'Eco' };
    const near = run('a', { payloadKg: 20.4, level: 'eco ' });
    expect(sortIntoArms([near], [arm()], held, REAL).armOf.size).toBe(1);
    const far = run('b', { payloadKg: 25, level: 'eco' });
    expect(sortIntoArms([far], [arm()], held, REAL).apart.get('b')!.text).toContain('25 kg, not 20 kg');
  });

  it('leave every run of the trial in one arm or apart, never both', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            way: fc.constantFrom<Riding['way']>(null, 'throttle', 'steady', 'off'),
            level: fc.constantFrom('', '2', '3'),
          }),
          { maxLength: 12 },
        ),
        fc.constantFrom<Riding['way']>(null, 'steady'),
        (ridings, way) => {
          const runs = ridings.map((riding, k) => run(String(k), riding));
          const arms = [arm({ level: '2' }), arm({ level: '3' })];
          const { armOf, apart } = sortIntoArms(runs, arms, { ...OPEN_RIDING, way }, REAL);
          for (const { id } of runs) expect(armOf.has(id)).toBe(!apart.has(id));
        },
      ),
    ));

  it('are named by what is fixed', () =>
    expect(ridingText({ ...OPEN_RIDING, way: 'off', payloadKg: 15 })).toBe('motor off, 15 kg'));
});

describe('what keeps setups apart beside the outing', () => {
  const ridden = (factors: RunConditions['factors'], conditions: RunConditions['conditions'] = {}): RunConditions => ({
    factors,
    conditions,
  });
  const pair = (a: readonly RunConditions[], b: readonly RunConditions[], meant: readonly string[] = []) =>
    findConfounding(
      [
        { name: 'A', runs: a },
        { name: 'B', runs: b },
      ],
      meant,
    );
  const own = pair([ridden({ rider: 'r1' }), ridden({ rider: 'r1' })], [ridden({ rider: 'r2' })]);

  it('is a rider that only ever goes with one setup, and what would settle it', () => {
    expect(own).toHaveLength(1);
    expect(own[0]).toMatchObject({ key: 'rider', because: expect.stringContaining('the rider and the setup') });
    expect(own[0]!.mend).toContain('Let one rider ride both');
  });
  it('is not a rider who rode both, nor one that is not known, nor one meant to differ', () => {
    expect(pair([ridden({ rider: 'r1' })], [ridden({ rider: 'r1' }), ridden({ rider: 'r2' })])).toEqual([]);
    expect(pair([ridden({})], [ridden({ rider: 'r2' })])).toEqual([]);
    expect(pair([ridden({ rider: 'r1' })], [ridden({ rider: 'r2' })], ['rider'])).toEqual([]);
  });
  it('is a condition whose ranges do not meet by more than chance would have it', () => {
    const at = (...temperatures: number[]) => temperatures.map((airTemperature) => ridden({}, { airTemperature }));
    expect(pair(at(5, 7), at(20, 22))[0]!.because).toContain('A 5 to 7 °C, B 20 to 22 °C');
    expect(pair(at(5, 7), at(8, 9))).toEqual([]);
    expect(pair(at(5, 20), at(18, 25))).toEqual([]);
  });
});

describe('a look at a trial', () => {
  it('is judged as usual when it is the only one', () => {
    expect(judgeLook(12, [])).toMatchObject({ level: 0.05, isLast: true, number: 1 });
    expect(judgeLook(12, [], 12)).toMatchObject({ level: 0.05, isLast: true });
  });
  it('is sparing before the planned end, and whole there', () => {
    const [half, whole] = [judgeLook(8, [], 16), judgeLook(16, [8], 16)];
    expect(half).toMatchObject({ isLast: false, number: 1 });
    expect(half.level).toBeLessThan(0.005);
    expect(whole.level).toBeGreaterThan(0.045);
    expect(whole.level).toBeLessThanOrEqual(0.05);
  });
  it('spends less with every look that no plan foresaw, the same count looked at twice being one look', () => {
    const levels = [judgeLook(6, []), judgeLook(8, [6]), judgeLook(10, [6, 8]), judgeLook(12, [6, 8, 10])];
    expect(judgeLook(8, [6, 8, 8])).toEqual(levels[1]);
    for (let k = 1; k < levels.length; k++) expect(levels[k]!.level).toBeLessThan(levels[k - 1]!.level);
  });
  it('of no run at all is none', () => expect(judgeLook(0, [4], 8)).toMatchObject({ level: 0.05 }));
});
