import type { ChannelName } from '@ebrix/core/logs';

export type Encoding = 'f32' | 'f64';

/** Positions and running totals need more digits than a float32 has. */
const DOUBLE: ReadonlySet<string> = new Set(['time', 'latitude', 'longitude', 'distance']);

export function encodingOf(name: ChannelName | 'time'): Encoding {
  return DOUBLE.has(name) ? 'f64' : 'f32';
}

export const BYTES_PER_SAMPLE = { f32: 4, f64: 8 } as const satisfies Record<Encoding, number>;

/** Little-endian bytes of a column. All machines this runs on are little-endian, so the arrays are taken as they are. */
export function encodeColumn(values: Float64Array, encoding: Encoding): Uint8Array {
  const array = encoding === 'f64' ? values : Float32Array.from(values);
  return new Uint8Array(array.buffer, array.byteOffset, array.byteLength);
}

export function decodeColumn(bytes: Uint8Array, encoding: Encoding): Float64Array | Float32Array {
  // A copy: a typed array must start at a multiple of its element's size, which a slice of a network buffer does not.
  const own = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength);
  return encoding === 'f64' ? new Float64Array(own) : new Float32Array(own);
}
