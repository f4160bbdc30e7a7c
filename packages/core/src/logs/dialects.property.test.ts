import fc from 'fast-check';
import { readLog } from './index.js';

/** How one logger writes: its marks, its words and units, and how its bytes are coded. */
interface Dialect {
  readonly delimiter: string;
  readonly decimal: '.' | ',';
  readonly lineEnd: string;
  readonly isQuoted: boolean;
  readonly coding: 'latin1' | 'utf8' | 'utf8-bom' | 'utf16le-bom';
  readonly speed: readonly [string, number];
  readonly temperature: readonly [string, (celsius: number) => number];
  readonly preamble: number;
}
const SPEEDS = [
  ['speed (km/h)', 3.6],
  ['Speed [mph]', 3600 / 1609.344],
  ['wheel_speed_kmh', 3.6],
  ['GPS Speed [m/s]', 1],
  ['Geschwindigkeit (km/h)', 3.6],
] as const;
const TEMPERATURES = [
  ['motor temperature (°C)', (celsius: number) => celsius],
  ['motor temp (°F)', (celsius: number) => celsius * 1.8 + 32],
  ['Motor Temperature [K]', (celsius: number) => celsius + 273.15],
] as const;

const dialects: fc.Arbitrary<Dialect> = fc
  .record({
    delimiter: fc.constantFrom(',', ';', '\t', '|'),
    decimal: fc.constantFrom('.' as const, ',' as const),
    lineEnd: fc.constantFrom('\n', '\r\n', '\r'),
    isQuoted: fc.boolean(),
    coding: fc.constantFrom('latin1' as const, 'utf8' as const, 'utf8-bom' as const, 'utf16le-bom' as const),
    speed: fc.constantFrom(...SPEEDS),
    temperature: fc.constantFrom(...TEMPERATURES),
    preamble: fc.constantFrom(0, 0, 1, 3),
  })
  // A comma cannot be both; a quoted cell could hold one, but loggers do not.
  .filter(({ delimiter, decimal }) => !(delimiter === ',' && decimal === ','));

const rides = fc.array(
  fc.tuple(fc.double({ min: 0, max: 20, noNaN: true }), fc.double({ min: -5, max: 120, noNaN: true })),
  { minLength: 8, maxLength: 40 },
);

function write(ride: readonly (readonly [number, number])[], dialect: Dialect): Uint8Array {
  const cell = (text: string): string => (dialect.isQuoted ? `"${text}"` : text);
  const number = (value: number): string => cell(value.toFixed(3).replace('.', dialect.decimal));
  const [speedHeader, perMps] = dialect.speed;
  const [temperatureHeader, shown] = dialect.temperature;
  const lines = [
    ...Array.from({ length: dialect.preamble }, (_, k) => `Bench logger, line ${k + 1}`),
    ['time (s)', speedHeader, temperatureHeader].map(cell).join(dialect.delimiter),
    ...ride.map(([mps, celsius], k) =>
      [number(k * 0.5), number(mps * perMps), number(shown(celsius))].join(dialect.delimiter),
    ),
    '',
  ];
  const text = lines.join(dialect.lineEnd);
  switch (dialect.coding) {
    case 'latin1':
      return Uint8Array.from(text, (letter) => letter.charCodeAt(0));
    case 'utf16le-bom': {
      const codes = [0xfeff, ...Array.from({ length: text.length }, (_, k) => text.charCodeAt(k))];
      return Uint8Array.from(codes.flatMap((code) => [code & 0xff, code >> 8]));
    }
    default:
      return new TextEncoder().encode((dialect.coding === 'utf8-bom' ? '\uFEFF' : '') + text);
  }
}

it('the same ride reads the same, whatever marks, words, units and bytes a logger writes it in', () => {
  fc.assert(
    fc.property(rides, dialects, (ride, dialect) => {
      const outcome = readLog(write(ride, dialect));
      if (!outcome.ok) throw new Error(`${outcome.problem.code}: ${outcome.problem.message}`);
      const { timeS, channels } = outcome.value;
      expect(timeS).toHaveLength(ride.length);
      ride.forEach(([mps, celsius], k) => {
        expect(Math.abs(timeS[k]! - k * 0.5)).toBeLessThan(1e-9);
        expect(Math.abs(channels.speed![k]! - mps)).toBeLessThan(0.001);
        expect(Math.abs(channels.motorTemperature![k]! - celsius)).toBeLessThan(0.001);
      });
    }),
    { numRuns: 200 },
  );
});
