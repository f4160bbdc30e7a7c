import { LIFE_KINDS, type LifeKind } from '@ebrix/core/life';
import type { EntryDetails, LogEntry, Subject } from '@ebrix/contract';
import { draftOf, emptyDraft, entryOf, type EntryDraft } from './entry-draft.js';
import { entryWords } from './entry-words.js';

const subject: Subject = { kind: 'setup', id: '01900000-0000-7000-8000-000000000001' };
const id = '01900000-0000-7000-8000-000000000002';
const typed: Partial<Record<LifeKind, Partial<EntryDraft>>> = {
  odometer: { km: 812 },
  charge: { kWh: 0.42, hours: 3.5, extent: 'part' },
  fault: {
    part: 'spokes',
    effect: 'stopped',
    words: 'Two broke',
    daysOff: 3,
    cause: 'Loose',
    cure: 'Relaced',
    underWarranty: true,
  },
  replacement: { part: 'chain', why: 'worn', words: 'eight speed' },
  service: { items: ['spokes', 'chain'], words: 'before winter' },
  inspection: { part: 'chain', value: 0.45, isFine: true },
  accident: { words: 'Slid on leaves' },
  'follow-up': { stage: 'year', answers: { trust: 4, again: 5 }, changed: 'Grips', words: 'Starts every morning' },
  note: { words: 'Rattles' },
  fitted: { use: 'bread round' },
  'taken-off': { words: 'sold' },
};

it.each(Object.keys(LIFE_KINDS) as LifeKind[])(
  '%s: what was typed becomes an entry and comes back as it was',
  (kind) => {
    const draft = { ...emptyDraft('2026-05-01', 'Ottoline Vask', kind), ...typed[kind], costAmount: 12.5 };
    const made = entryOf(draft, subject, id);
    if ('issues' in made) throw new Error(made.issues.join());
    expect(made.entry).toMatchObject({
      id,
      subject,
      day: '2026-05-01',
      by: 'Ottoline Vask',
      cost: { amount: 12.5, currency: 'EUR' },
    });
    expect(made.entry.details.kind).toBe(kind);
    const stored = { ...made.entry, version: 1, subjectName: 'x', updatedAt: '2026-05-01T08:00:00.000Z' } as LogEntry;
    expect(entryOf(draftOf(stored), subject, id)).toEqual(made);
  },
);

const refused = (draft: Partial<EntryDraft>, kind: LifeKind): readonly string[] => {
  const made = entryOf({ ...emptyDraft('2026-05-01', '', kind), ...draft }, subject, id);
  return 'issues' in made ? made.issues : [];
};
it('what is missing is told by the label of its field', () => {
  expect(refused({}, 'odometer')).toEqual(['Distance: Write a number.']);
  expect(refused({ km: 5, day: '' }, 'odometer')[0]).toMatch(/^Day: /);
  expect(refused({ kWh: 900 }, 'charge')).toEqual(['Energy: At most 20 kWh.']);
  expect(refused({ costAmount: 3, costCurrency: 'euro' }, 'fault')[0]).toMatch(/^Cost: Three capital letters/);
});

it('a reading of a display never carries a second one beside it', () => {
  const made = entryOf({ ...emptyDraft('2026-05-01'), km: 5, odometerKm: 7 }, subject, id);
  expect(made).toMatchObject({ entry: { odometerKm: null, details: { km: 5 } } });
});

describe('an entry in a line', () => {
  const words = (details: Partial<EntryDetails> & { kind: LifeKind }): string =>
    entryWords({ ...typed[details.kind], ...details } as unknown as EntryDetails, 'metric');
  it.each<[string, Partial<EntryDetails> & { kind: LifeKind }, string]>([
    ['a reading', { kind: 'odometer', way: 'reading', wheelFactor: null }, 'shows 812 km'],
    ['a trip', { kind: 'odometer', way: 'trip', wheelFactor: null }, '812 km ridden'],
    [
      'a new display',
      { kind: 'odometer', way: 'rebase', wheelFactor: 0.96 },
      'counts otherwise from here, shows 812 km, shown × 0.96 is true',
    ],
    ['a charge', { kind: 'charge' }, 'in part, 0.42 kWh at the socket, 3.5 h'],
    [
      'a fault',
      { kind: 'fault' },
      'Spokes: Two broke, stopped the ride, 3 days off the road, cause: Loose, cured by: Relaced, under warranty',
    ],
    ['a replacement', { kind: 'replacement' }, 'Chain, worn out, eight speed'],
    ['a service', { kind: 'service' }, '2 things done, before winter'],
    ['a measured part', { kind: 'inspection' }, 'Chain, longer by 0.45 %, fine'],
    [
      'a pack',
      { kind: 'inspection', part: 'pack', value: 88, isFine: false },
      'Battery pack, gave 88 % of its label, not fine',
    ],
    ['a part that is looked at', { kind: 'inspection', part: 'rim', value: null }, 'Rim, fine'],
    [
      'a follow-up',
      { kind: 'follow-up' },
      'trust that it brings one home 4, would fit it again 5, changed: Grips, Starts every morning',
    ],
    ['a fitting', { kind: 'fitted' }, 'for bread round'],
    ['a note', { kind: 'note' }, 'Rattles'],
  ])('%s', (_, details, said) => expect(words(details)).toBe(said));
  it('distances in the person’s units', () =>
    expect(entryWords({ kind: 'odometer', way: 'trip', km: 100, wheelFactor: null }, 'imperial')).toBe(
      '62.137 mi ridden',
    ));
});
