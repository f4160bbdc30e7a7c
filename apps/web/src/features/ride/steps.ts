import type { Ride } from '@ebrix/contract';

/** How a part of the console moves the ride on. */
export interface Steps {
  readonly go: (to: Ride['state'], reason?: string) => void;
  readonly isBusy: boolean;
}
