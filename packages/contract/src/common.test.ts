import { z } from 'zod';
import { archiveInputSchema, versioned, versionQuerySchema, withFormerNames } from './common.js';

describe('former names of fields', () => {
  const schema = withFormerNames(
    { windMs: 'windMps', hand: 'manualReadings' },
    z.strictObject({ windMps: z.number() }),
  );

  it('are read as the new ones', () => {
    expect(schema.parse({ windMs: 3 })).toEqual({ windMps: 3 });
    expect(schema.parse({ windMps: 4 })).toEqual({ windMps: 4 });
  });

  it('are not let past the checks of the new ones', () => {
    expect(schema.safeParse({ windMs: 'strong' }).error?.issues[0]?.path).toEqual(['windMps']);
    expect(schema.safeParse({ windMs: 3, hand: {} }).success).toBe(false);
  });

  it('leave what is no object to the schema to refuse', () => {
    for (const value of [null, [], 'text', 5, undefined]) expect(schema.safeParse(value).success).toBe(false);
  });

  it('cannot reach what every object has', () => {
    expect(schema.safeParse(JSON.parse('{"__proto__": {"windMps": 3}}')).success).toBe(false);
    expect(schema.safeParse({ toString: 1, windMps: 1 }).success).toBe(false);
  });
});

describe('what is changed', () => {
  it('carries the version it began from', () => {
    const schema = versioned(z.strictObject({ name: z.string() }));
    expect(schema.parse({ name: 'a', version: 2 })).toEqual({ name: 'a', version: 2 });
    for (const version of [undefined, 0, -1, 1.5, '1', null])
      expect(schema.safeParse({ name: 'a', version }).success).toBe(false);
    expect(schema.safeParse({ name: 'a', version: 1, more: 1 }).success).toBe(false);
  });

  it('reads the version of an address from text, and no other text', () => {
    expect(versionQuerySchema.parse({ version: '7' })).toEqual({ version: 7 });
    for (const version of ['', 'seven', '1.5', '0', '-3', undefined])
      expect(versionQuerySchema.safeParse({ version }).success).toBe(false);
  });

  it('says whether it is archived in so many words', () => {
    expect(archiveInputSchema.safeParse({ version: 1, archived: true }).success).toBe(true);
    expect(archiveInputSchema.safeParse({ version: 1 }).success).toBe(false);
  });
});
