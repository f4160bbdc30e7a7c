import { seededRandom } from '@ebrix/core/numeric';
import { z } from 'zod';

type Schema = Readonly<Record<string, unknown>> & {
  readonly type?: string;
  readonly properties?: Readonly<Record<string, Schema>>;
  readonly items?: Schema;
  readonly prefixItems?: readonly Schema[];
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly allOf?: readonly Schema[];
  readonly enum?: readonly unknown[];
  readonly const?: unknown;
  readonly format?: string;
  readonly minimum?: number;
  readonly maximum?: number;
  readonly additionalProperties?: Schema | boolean;
};

/** What forms, files and hostile hands put where something else belongs. */
export const ODD_VALUES: readonly unknown[] = [
  'a\u0000b',
  '\ud800',
  'Zoë 🚲 \u202e',
  "'; drop table run; --",
  '=HYPERLINK("x")',
  '<img src=x onerror=alert(1)>',
  'x'.repeat(5000),
  '',
  ' ',
  '0000-01-01',
  '2026-02-30',
  '9999-12-31',
  'NaN',
  -1,
  0,
  0.1,
  2 ** 31,
  2 ** 53,
  -(2 ** 63),
  1e308,
  null,
  true,
  [],
  {},
  [[[[]]]],
  { __proto__: { admin: true }, constructor: 'x' },
  Array.from({ length: 300 }, () => 1),
];

export class OddRequests {
  private readonly random: () => number;

  constructor(
    seed: number,
    private readonly ids: readonly string[],
  ) {
    this.random = seededRandom(seed);
  }

  pick<T>(list: readonly T[]): T {
    return list[Math.floor(this.random() * list.length)]!;
  }
  chance(share: number): boolean {
    return this.random() < share;
  }

  /** Something for the braces of a path: mostly a thing that is there, else none, or no id at all. */
  pathPart(name: string): string {
    if (name === 'kind') return this.pick(['bikes', 'kits', 'loggers', 'limits', 'nothing', '%00', '..%2f']);
    if (this.chance(0.7)) return this.pick(this.ids);
    return encodeURIComponent(
      this.pick(['x', '0', '\u0000', '../../etc/passwd', 'a'.repeat(3000), '1e9', "1' or '1'='1"]),
    );
  }

  /** A body that its schema would take, but for one or two places. */
  body(schema: z.ZodType): unknown {
    const value = this.sample(z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }) as Schema);
    const changes = this.pick([0, 1, 1, 1, 2]);
    return Array.from({ length: changes }).reduce<unknown>((body) => this.spoiled(body), value);
  }

  query(schema: z.ZodType): URLSearchParams {
    const value = this.body(schema);
    const query = new URLSearchParams();
    if (typeof value === 'object' && value !== null)
      for (const [name, part] of Object.entries(value)) {
        query.append(name, typeof part === 'string' ? part : JSON.stringify(part));
        // Said twice, it is a list.
        if (this.chance(0.1)) query.append(name, '2');
      }
    return query;
  }

  private sample(schema: Schema, depth = 0): unknown {
    if (schema.const !== undefined) return schema.const;
    if (schema.enum) return this.pick(schema.enum);
    const choices = schema.anyOf ?? schema.oneOf;
    if (choices) return this.sample(this.pick(choices), depth + 1);
    if (schema.allOf) return Object.assign({}, ...schema.allOf.map((one) => this.sample(one, depth + 1))) as unknown;
    switch (schema.type) {
      case 'object':
        return Object.fromEntries(
          Object.entries(schema.properties ?? {}).map(([name, part]) => [name, this.sample(part, depth + 1)]),
        );
      case 'array':
        if (schema.prefixItems) return schema.prefixItems.map((item) => this.sample(item, depth + 1));
        return Array.from({ length: depth > 6 ? 0 : this.pick([1, 2]) }, () =>
          this.sample(schema.items ?? {}, depth + 1),
        );
      case 'string':
        return this.text(schema.format);
      case 'integer':
      case 'number':
        return Math.max(schema.minimum ?? 1, Math.min(schema.maximum ?? 100, this.pick([1, 2, 3])));
      case 'boolean':
        return this.chance(0.5);
      case 'null':
        return null;
      default:
        return this.pick(ODD_VALUES);
    }
  }

  private text(format: string | undefined): string {
    if (format === 'uuid') return this.pick(this.ids);
    if (format === 'date') return '2026-04-07';
    if (format === 'date-time') return '2026-04-07T08:00:00.000Z';
    return this.pick(['Round', 'Ottoline Vask', 'chain', 'as it was', 'EUR']);
  }

  /** One place of it holds something odd, or is gone, or is new. */
  private spoiled(value: unknown): unknown {
    if (Array.isArray(value) && value.length > 0) {
      const k = Math.floor(this.random() * value.length);
      return value.map((one: unknown, i) => (i === k ? this.spoiled(one) : one));
    }
    if (typeof value === 'object' && value !== null && Object.keys(value).length > 0 && this.chance(0.9)) {
      const name = this.pick(Object.keys(value));
      const { [name]: part, ...rest } = value as Record<string, unknown>;
      if (this.chance(0.1)) return rest;
      if (this.chance(0.05)) return { ...value, surplus: 1 };
      return { ...rest, [name]: this.spoiled(part) };
    }
    return this.pick(ODD_VALUES);
  }
}
