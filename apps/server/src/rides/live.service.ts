import { Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import {
  concatMap,
  distinctUntilChanged,
  filter,
  from,
  interval,
  map,
  merge,
  share,
  startWith,
  switchMap,
  type Observable,
} from 'rxjs';
import { channelDefinition, type ChannelName } from '@ebrix/core/logs';
import { BEFORE_START_S, stopConditions } from '@ebrix/core/ride';
import type { Live, Ride } from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { ChangeNotifications, CHANGE_CHANNELS } from '../database/change-notifications.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import type { StoredRide } from './ride-row.js';
import { RideRepository } from './ride.repository.js';
import { RideReader } from './ride-reader.service.js';
import { RideService } from './ride.service.js';

const LIVE_MS = 300;
const BEAT_MS = 20_000;
/** Notices that came while the database was away are lost: looked at again this often. */
const REREAD_MS = 5000;
/** Readings that a console shows, most wanted first. */
const SHOWN: readonly ChannelName[] = [
  'speed',
  'power',
  'motorTemperature',
  'voltage',
  'current',
  'batteryTemperature',
  'controllerTemperature',
  'cadence',
  'heartRate',
  'assistLevel',
  'stateOfCharge',
];

/** Readings that stop a ride at their limits. */
const GUARDED: ReadonlySet<ChannelName> = new Set([
  'motorTemperature',
  'controllerTemperature',
  'batteryTemperature',
  'voltage',
]);

export type RideEvent =
  | { readonly type: 'ride'; readonly data: Ride }
  | { readonly type: 'live'; readonly data: Live }
  | { readonly type: 'beat'; readonly data: '' };

/** What the consoles of a ride see as it happens, and what the loggers set going. */
@Injectable()
export class LiveService implements OnApplicationBootstrap {
  private readonly logger = new Logger('rides');

  constructor(
    private readonly hub: LoggerHub,
    private readonly rides: RideService,
    private readonly reader: RideReader,
    private readonly repository: RideRepository,
    private readonly notifications: ChangeNotifications,
    private readonly clock: Clock,
  ) {}

  onApplicationBootstrap(): void {
    this.hub.events
      .pipe(
        // In order: a ride is bound before it moves.
        concatMap(({ kind, loggerId, sessionId, t }) =>
          from(
            this.rides.onLogger(kind, loggerId, sessionId, t).catch((error: unknown) => {
              this.logger.warn(error instanceof Error ? error.message : String(error));
            }),
          ),
        ),
      )
      .subscribe();
  }

  events(rideId: string): Observable<RideEvent> {
    const notified = merge(
      this.notifications.stream(CHANGE_CHANNELS.ride).pipe(filter((id) => id === rideId)),
      interval(REREAD_MS),
    ).pipe(share());
    const changes = notified.pipe(
      startWith(rideId),
      concatMap(() => from(this.reader.get(rideId).catch(() => undefined))),
      filter((ride) => ride !== undefined),
      distinctUntilChanged(isSame),
      map((data): RideEvent => ({ type: 'ride', data })),
    );
    const live = notified.pipe(
      startWith(rideId),
      concatMap(() => from(this.repository.find(rideId).catch(() => undefined))),
      filter((ride) => ride !== undefined),
      switchMap((ride) => interval(LIVE_MS).pipe(map(() => this.liveOf(ride)))),
      filter((data) => data !== undefined),
      distinctUntilChanged(isSame),
      map((data): RideEvent => ({ type: 'live', data })),
    );
    const beat = interval(BEAT_MS).pipe(map((): RideEvent => ({ type: 'beat', data: '' })));
    return merge(changes, live, beat);
  }

  /** By the logger; undefined while none belongs to the ride. What is read by hand the console judges itself, with or without a line. */
  private liveOf(ride: StoredRide): Live | undefined {
    if (ride.sessionId === null) return undefined;
    const session = this.hub.find(ride.sessionId);
    const values = new Map(session?.values ?? []);
    const [voltage, current] = [values.get('voltage'), values.get('current')];
    if (!values.has('power') && voltage !== undefined && current !== undefined) values.set('power', voltage * current);
    // What keeps a ride safe is not shown as it was when its sensor fell silent; a stop that it called for stays.
    const silentSensors = (session?.silentSensors() ?? []).filter(({ name }) => GUARDED.has(name));
    const newestT = session?.newest?.t ?? null;
    const distanceKm = values.get('distance');
    return {
      rideId: ride.id,
      elapsedS:
        newestT !== null && ride.fromT !== null
          ? Math.max(0, Math.min(newestT, ride.toT ?? Infinity) - ride.fromT - BEFORE_START_S)
          : null,
      distanceM:
        distanceKm !== undefined && ride.startDistanceM !== null
          ? Math.max(0, distanceKm * 1000 - ride.startDistanceM)
          : null,
      values: SHOWN.flatMap((name) => {
        const value = values.get(name);
        return value === undefined || silentSensors.some((sensor) => sensor.name === name)
          ? []
          : [{ name, value, unit: channelDefinition(name).fieldUnit }];
      }),
      silentSensors,
      silentS: session ? Math.round((this.clock.now().getTime() - session.lastSeenAt.getTime()) / 1000) : null,
      isConnected: session?.isConnected ?? false,
      samples: session?.samples ?? 0,
      missing: session?.missing ?? 0,
      bad: session?.bad ?? 0,
      stops: stopConditions(ride.limits, {
        ...reading('motorC', values.get('motorTemperature')),
        ...reading('controllerC', values.get('controllerTemperature')),
        ...reading('batteryC', values.get('batteryTemperature')),
        ...reading('packV', voltage),
      }),
    };
  }
}

function isSame<T extends Live | Ride>(a: T, b: T): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

function reading<K extends string>(key: K, value: number | undefined): { [P in K]?: number } {
  return (value === undefined ? {} : { [key]: value }) as { [P in K]?: number };
}
