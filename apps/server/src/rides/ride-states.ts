import type { RideState } from '@ebrix/core/ride';

export const UNDER_WAY: readonly RideState[] = ['preparing', 'armed', 'running', 'finished'];
export const OVER: readonly RideState[] = ['kept', 'repeated', 'aborted'];
/** A run's log begins this much before its start, by the logger's clock, so that the standing start is in it. */
export const BEFORE_START_S = 2;

/** The logger that rides the ride model: what it records is no measurement. */
export const SIMULATED_LOGGER = 'Simulated logger';
