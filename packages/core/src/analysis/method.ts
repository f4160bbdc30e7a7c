import type { TestKind } from './test-kinds.js';

/** Name and version kept with every figure; a higher version makes stored figures be computed again. */
export interface Method {
  readonly name: string;
  readonly version: string;
}
const VERSIONS: Readonly<Record<TestKind, string>> = {
  range: '1.2',
  'assist-levels': '1.2',
  'top-speed': '1.2',
  'hill-climb': '1.2',
  'assist-response': '1.2',
  heating: '1.2',
  battery: '1.2',
  'coast-down': '1.1',
  stand: '1.1',
};
/** The present method of each kind of test. */
export const METHODS = Object.fromEntries(
  Object.entries(VERSIONS).map(([name, version]) => [name, { name, version }]),
) as Readonly<Record<TestKind, Method>>;
export const RANGE_METHOD: Method = METHODS.range;
