import type { Figure } from '../figure.js';
import type { Chart } from '../findings.js';
import type { ResponseEvent } from './find-starts.js';

/** What starts and stops of a log gave, by power or by what was felt. */
export interface ResponseResult {
  readonly charts: readonly Chart[];
  readonly events: readonly ResponseEvent[];
  readonly figures: readonly Figure[];
}
