import type { RideState } from '@ebrix/core/ride';

export const UNDER_WAY: readonly RideState[] = ['preparing', 'armed', 'running', 'finished'];
export const OVER: readonly RideState[] = ['kept', 'repeated', 'aborted'];
