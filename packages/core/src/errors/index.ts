export { CoreError } from './core-error.js';
export { refusal, success, type Outcome } from './outcome.js';
export { requireAtLeast, requireFinite, requireInOpenInterval, requirePositive, requireSameLength } from './require.js';
