import fc from 'fast-check';
import { partInputSchemas, PART_KINDS, type Part, type PartInput } from '@ebrix/contract';
import { fieldsOf, PART_FORMS } from './part-fields.js';
import { partRows, partValueText } from './part-text.js';
import { fromFormValues, toFormValues, valueAt } from './part-values.js';

const stored = {
  id: '01900000-0000-7000-8000-000000000001',
  version: 1,
  updatedAt: '2026-04-07T08:00:00.000Z',
  archivedAt: null,
};
const bike = (more: object = {}): Part<'bikes'> => ({
  ...stored,
  ...partInputSchemas.bikes.parse({ name: 'Round bike', ...more }),
});

describe('the form of a part', () => {
  it('asks for every field that the contract knows, and for no other', () => {
    for (const kind of PART_KINDS) {
      const asked = new Set(fieldsOf(kind).map(({ name }) => name.split('.')[0]!));
      expect([kind, [...asked].sort()]).toEqual([kind, Object.keys(partInputSchemas[kind].shape).sort()]);
    }
  });

  it('gives back what was stored when nothing is typed', () =>
    fc.assert(
      fc.property(
        fc.record(
          {
            massKg: fc.double({ min: 0.1, max: 100, noNaN: true }),
            cogTeeth: fc.array(fc.integer({ min: 9, max: 50 }), { maxLength: 9 }),
            isFolding: fc.boolean(),
            rearAxle: fc.constantFrom('open', 'thru'),
            frame: fc.record({
              seatTubeMm: fc.option(fc.integer({ min: 100, max: 900 })),
              topTubeMm: fc.constant(500),
              headTubeMm: fc.constant(null),
              downTubeMm: fc.constant(null),
              diagonalMm: fc.constant(null),
            }),
            price: fc.constant({ amount: 12.5, currency: 'EUR', date: '2026-03-02' }),
          },
          { requiredKeys: [] },
        ),
        (more) => {
          const part = bike(more);
          const read = fromFormValues('bikes', toFormValues('bikes', part));
          expect(read.ok && { ...stored, ...(read.input as PartInput<'bikes'>) }).toEqual(part);
        },
      ),
    ));

  it('takes teeth with blanks, commas or slashes, and says at the field when one is no number', () => {
    const read = (cogTeeth: string) => fromFormValues('bikes', { name: 'B', cogTeeth });
    expect(read('14 16, 18/20')).toMatchObject({ ok: true, input: { cogTeeth: [14, 16, 18, 20] } });
    expect(read('14 big')).toMatchObject({
      ok: false,
      problems: [{ name: ['cogTeeth'], message: expect.stringContaining('separated by spaces') }],
    });
    expect(read('14 300')).toMatchObject({ ok: false, problems: [{ name: ['cogTeeth'] }] });
  });

  it('leaves out a price without an amount, and asks for the currency of one with', () => {
    const read = (price: unknown) => fromFormValues('kits', { name: 'K', motorKind: 'mid', price });
    expect(read({ currency: 'EUR' })).toMatchObject({ ok: true, input: { price: null } });
    const refused = read({ amount: 10 });
    expect(refused.ok).toBe(false);
    expect(!refused.ok && refused.problems.map(({ name }) => name.join('.'))).toEqual(['price.currency', 'price.date']);
  });

  it('asks hubs for axles and mid motors for shells, never both', () => {
    const shown = (motorKind: string) =>
      PART_FORMS.kits.groups
        .flatMap(({ fields }) => fields)
        .filter(({ when }) => !when || when({ motorKind }))
        .map(({ name }) => name);
    expect(shown('mid')).toContain('shellKinds');
    expect(shown('mid')).not.toContain('axleWidthMm');
    expect(shown('front-hub')).toContain('axleWidthMm');
    expect(shown('front-hub')).not.toContain('shellKinds');
  });
});

describe('parts in words', () => {
  it.each([
    [{ kind: 'number', unit: 'kg' }, 10, 'metric', '10 kg'],
    [{ kind: 'number', unit: 'kg' }, 10, 'imperial', '22.05 lb'],
    [{ kind: 'number', unit: 'mm' }, 135, 'imperial', '135 mm'],
    [{ kind: 'number', unit: '%' }, 0.43, 'metric', '43 %'],
    [{ kind: 'flag' }, true, 'metric', 'Yes'],
    [{ kind: 'flag' }, null, 'metric', '–'],
    [{ kind: 'numbers' }, [14, 18], 'metric', '14 18'],
    [{ kind: 'numbers' }, [], 'metric', '–'],
    [{ kind: 'box' }, [{ what: 'motor' }, { what: 'display' }], 'metric', 'motor, display'],
    [{ kind: 'choices', choices: [{ value: 'a', label: 'A' }] }, ['a'], 'metric', 'A'],
  ] as const)('%j of %j in %s units is "%s"', (field, value, system, text) =>
    expect(partValueText(field, value, system)).toBe(text),
  );
  it('stand in one row per field, with a dash where nothing is known', () => {
    const rows = partRows('bikes', [bike({ massKg: 20 }), undefined], 'metric');
    expect(rows.find(([label]) => label === 'Mass')![1]).toEqual(['20 kg', '–']);
    expect(rows.map(([label]) => label)).not.toContain('Name');
  });
  it('reach nested fields and stop at what is not there', () => {
    expect(valueAt({ frame: { seatTubeMm: 470 } }, 'frame.seatTubeMm')).toBe(470);
    expect(valueAt({ frame: null }, 'frame.seatTubeMm')).toBeUndefined();
  });
});
