/** Name and version kept with every figure; a higher version makes stored figures be computed again. */
export interface Method {
  readonly name: string;
  readonly version: string;
}
export const RANGE_METHOD: Method = { name: 'range', version: '1.0' };
