import { fork, type ChildProcess } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { Injectable, Logger, type OnApplicationBootstrap, type OnApplicationShutdown } from '@nestjs/common';
import { HttpAdapterHost } from '@nestjs/core';
import type { AddressInfo } from 'node:net';
import { concatMap, filter, from } from 'rxjs';
import { partInputSchemas, type Ride } from '@ebrix/contract';
import { InternalKeys } from '../accounts/internal-keys.js';
import { PartsService } from '../bench/parts.service.js';
import { DomainError } from '../common/domain-error.js';
import { CHANGE_CHANNELS, ChangeNotifications } from '../database/change-notifications.js';
import { PROGRAMS } from '../programs.js';
import { SIMULATED_LOGGER } from './ride-states.js';
import { RideReader } from './ride-reader.service.js';
import { RideService } from './ride.service.js';

const PROGRAM = fileURLToPath(PROGRAMS.simulatedLogger);

/** "Ride it simulated": starts the simulated logger as the separate program it is, against this server's own door. */
@Injectable()
export class SimulatedRidesService implements OnApplicationBootstrap, OnApplicationShutdown {
  private readonly logger = new Logger('rides');
  private readonly running = new Map<string, ChildProcess>();

  constructor(
    private readonly rides: RideService,
    private readonly reader: RideReader,
    private readonly parts: PartsService,
    private readonly host: HttpAdapterHost,
    private readonly keys: InternalKeys,
    private readonly notifications: ChangeNotifications,
  ) {}

  /** A simulation ends with its ride: else it would feed the next one. */
  onApplicationBootstrap(): void {
    this.notifications
      .stream(CHANGE_CHANNELS.ride)
      .pipe(
        filter((id) => this.running.has(id)),
        concatMap((id) => from(this.endIfOver(id).catch((error: unknown) => this.logger.warn(String(error))))),
      )
      .subscribe();
  }

  private async endIfOver(rideId: string): Promise<void> {
    const { state } = await this.reader.get(rideId);
    if (state !== 'armed' && state !== 'running') this.running.get(rideId)?.kill();
  }

  async start(rideId: string, pace: number): Promise<Ride> {
    let ride = await this.reader.get(rideId);
    if (ride.state !== 'armed')
      throw new DomainError('wrong-state', 'Arm the ride first: then it can be ridden, or ridden simulated.');
    if (this.running.has(rideId)) throw new DomainError('wrong-state', 'The simulated logger rides this one already.');
    const logger = await this.simulatedLogger();
    if (ride.logger?.id !== logger) ride = await this.rides.change(rideId, { version: ride.version, loggerId: logger });
    const { port } = (this.host.httpAdapter.getHttpServer() as { address(): AddressInfo }).address();
    const key = this.keys.make('Simulated logger');
    const child = fork(PROGRAM, ['--url', `http://127.0.0.1:${port}`, '--ride', rideId, '--pace', String(pace)], {
      stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
      env: { PATH: process.env['PATH'] ?? '', EBRIX_KEY: key },
    });
    this.running.set(rideId, child);
    child.stderr?.on('data', (data: Buffer) => this.logger.warn(data.toString().slice(0, 500)));
    child.on('error', (error) => this.logger.warn(error.message));
    child.on('exit', () => {
      this.keys.end(key);
      this.running.delete(rideId);
    });
    return ride;
  }

  private async simulatedLogger(): Promise<string> {
    const known = (await this.parts.list('loggers')).find(
      ({ name, archivedAt }) => archivedAt === null && name.toLowerCase() === SIMULATED_LOGGER.toLowerCase(),
    );
    if (known) return known.id;
    const added = await this.parts.add(
      'loggers',
      partInputSchemas.loggers.parse({
        name: SIMULATED_LOGGER,
        notes: 'Rides the ride model and speaks the logger protocol. Not a measurement.',
      }),
    );
    return added.id;
  }

  onApplicationShutdown(): void {
    for (const child of this.running.values()) child.kill();
  }
}
