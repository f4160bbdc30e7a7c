import fc from 'fast-check';
import { deliveryDays, drillStop, guessAgainstClock, packsToTry, toClaim, warrantyEnds } from './fitting-record.js';

it('counts the days from order to arrival, and none where they are the wrong way round', () => {
  expect(deliveryDays({ orderedOn: '2026-02-24', arrivedOn: '2026-03-03' })).toBe(7);
  expect(deliveryDays({ orderedOn: '2026-03-03', arrivedOn: '2026-03-03' })).toBe(0);
  expect(deliveryDays({ orderedOn: '2026-03-03', arrivedOn: '2026-02-24' })).toBeNull();
  expect(deliveryDays({ orderedOn: null, arrivedOn: '2026-02-24' })).toBeNull();
});

it('ends a warranty on the same day of a later month, or on its last', () => {
  expect(warrantyEnds({ arrivedOn: '2026-03-15', warrantyMonths: 24 })).toBe('2028-03-15');
  expect(warrantyEnds({ arrivedOn: '2026-01-31', warrantyMonths: 1 })).toBe('2026-02-28');
  expect(warrantyEnds({ arrivedOn: '2027-12-31', warrantyMonths: 2 })).toBe('2028-02-29');
  expect(warrantyEnds({ arrivedOn: '2026-01-31', warrantyMonths: null })).toBeNull();
});

it('has all that is missing, wrong or damaged taken up with the seller', () => {
  const line = (state: 'damaged' | 'missing' | 'received' | 'unused' | 'wrong') => ({ what: state, state, note: '' });
  const box = (['received', 'missing', 'unused', 'wrong', 'damaged'] as const).map(line);
  expect(toClaim({ box }).map(({ what }) => what)).toEqual(['missing', 'wrong', 'damaged']);
});

it('sets the guess against the clock once the last step is done', () => {
  const steps = [3600, 5400].map((elapsedS) => ({ isDone: true, elapsedS }));
  expect(guessAgainstClock({ guessedHours: 2 }, steps)).toEqual({ guessedS: 7200, tookS: 9000, factor: 1.25 });
  expect(guessAgainstClock({ guessedHours: 2 }, [...steps, { isDone: false, elapsedS: 0 }])).toBeNull();
  expect(guessAgainstClock({ guessedHours: null }, steps)).toBeNull();
  expect(guessAgainstClock({ guessedHours: 2 }, [])).toBeNull();
});

it('lets the drill through the cover and no deeper', () => {
  expect(drillStop({ coverMm: 4, drillStopMm: 5 })).toBe('right');
  expect(drillStop({ coverMm: 4, drillStopMm: 4 })).toBe('too-short');
  expect(drillStop({ coverMm: 4, drillStopMm: 5.6 })).toBe('too-deep');
  expect(drillStop({ coverMm: null, drillStopMm: 5 })).toBe('unknown');
});

it('asks for each of several packs alone, two of one name twice, and never for a single one', () => {
  const tried = (pack: string, alone: 'cut-out' | 'ran') => ({ pack, alone, restV: null, loadV: null });
  expect(packsToTry([{ name: 'P' }], { packsTried: [] })).toEqual([]);
  expect(packsToTry([{ name: 'P' }, { name: 'P' }], { packsTried: [tried('P', 'ran')] })).toEqual(['P']);
  expect(
    packsToTry([{ name: 'P' }, { name: 'Q' }], { packsTried: [tried('P', 'cut-out'), tried('Q', 'ran')] }),
  ).toEqual(['P']);
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom('P', 'Q', 'R'), { minLength: 2, maxLength: 4 }),
      (names) =>
        packsToTry(
          names.map((name) => ({ name })),
          { packsTried: names.map((name) => tried(name, 'ran')) },
        ).length === 0,
    ),
  );
});
