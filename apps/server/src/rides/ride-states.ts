import type { RideState } from '@ebrix/core/ride';

export const UNDER_WAY: readonly RideState[] = ['preparing', 'armed', 'running', 'finished'];
export const OVER: readonly RideState[] = ['kept', 'repeated', 'aborted'];
/** The logger that rides the ride model: what it records is no measurement. */
export const SIMULATED_LOGGER = 'Simulated logger';
