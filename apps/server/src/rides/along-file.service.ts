import { Injectable } from '@nestjs/common';
import { parseLoggerLine, type LoggerHello } from '@ebrix/core/logger';
import type { AlongFileOutcome, AlongRideInput } from '@ebrix/contract';
import { InternalKeys } from '../accounts/internal-keys.js';
import { Clock } from '../common/clock.js';
import { DomainError, notFound } from '../common/domain-error.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { PhotoRepository } from '../photos/photo.repository.js';
import { PhotoService } from '../photos/photo.service.js';
import { SetupRepository } from '../setups/setup.repository.js';
import { AlongService } from './along.service.js';
import { openOutingFile, type PhotoOfFile, type RideOfFile } from './outing-file.js';
import { OVER } from './ride-states.js';
import { RideRepository } from './ride.repository.js';

/** So many lines are taken before others get their turn. */
const LINES_AT_ONCE = 2000;
const TAKEN = { outcome: 'taken', message: 'Taken in.' } as const;
const WAS_HERE = { outcome: 'was-here', message: 'It was here already.' } as const;

/** An outing that came as a file: ride by ride, as if its phone had sent it. */
@Injectable()
export class AlongFileService {
  constructor(
    private readonly along: AlongService,
    private readonly rides: RideRepository,
    private readonly hub: LoggerHub,
    private readonly photos: PhotoRepository,
    private readonly photoService: PhotoService,
    private readonly setups: SetupRepository,
    private readonly keys: InternalKeys,
    private readonly clock: Clock,
  ) {}

  /** One ride or photo that is refused keeps none of the others out. Fails: `cannot-read` for what is no such file. */
  async take(path: string): Promise<AlongFileOutcome[]> {
    const file = await openOutingFile(path);
    try {
      const outcomes: AlongFileOutcome[] = [];
      for (const ride of file.rides) outcomes.push(await this.takeRide(ride));
      for (const photo of file.photos) outcomes.push(await this.takePhoto(photo));
      return outcomes;
    } finally {
      file.close();
    }
  }

  private async takeRide({ id, ride, log }: RideOfFile): Promise<AlongFileOutcome> {
    const known = await this.rides.find(id);
    const isHere = known !== undefined && OVER.includes(known.state);
    try {
      if (!isHere && log && ride.log) await this.takeLines(ride.log, log);
      // It may lie for days before it comes in: its times are taken as the phone wrote them.
      const { setup } = await this.along.bring(id, { ...ride, sentAt: this.clock.now().toISOString() });
      return { what: 'ride', id, setup: setup.name, ...(isHere ? WAS_HERE : TAKEN) };
    } catch (error) {
      return { what: 'ride', id, setup: '', ...refused(error) };
    }
  }

  private async takePhoto({ id, setupId, caption, bytes }: PhotoOfFile): Promise<AlongFileOutcome> {
    const photo = { id, owner: 'setup', ownerId: setupId, step: '', caption } as const;
    try {
      const [known, setup] = await Promise.all([this.photos.find(id, photo), this.setups.list(setupId)]);
      if (!setup[0]) throw notFound('The setup of this photo');
      if (!known) await this.photoService.add(photo, await bytes());
      return { what: 'photo', id, setup: setup[0].name, ...(known ? WAS_HERE : TAKEN) };
    } catch (error) {
      return { what: 'photo', id, setup: caption, ...refused(error) };
    }
  }

  private async takeLines(
    { loggerId, session }: NonNullable<AlongRideInput['log']>,
    { channels, units, lines }: NonNullable<RideOfFile['log']>,
  ): Promise<void> {
    const secret = this.keys.make('A file');
    try {
      const said = { hello: { protocol: 1, logger: loggerId, secret, session, channels, units } };
      const hello = parseLoggerLine(JSON.stringify(said), undefined);
      if (hello.kind !== 'hello')
        throw new DomainError('cannot-read', hello.kind === 'bad' ? hello.reason : 'Its log has no channels.');
      await this.takeInto(hello.hello, lines());
    } finally {
      this.keys.end(secret);
    }
  }

  private async takeInto(hello: LoggerHello, lines: AsyncIterable<string>): Promise<void> {
    const session = await this.hub.open(hello);
    let taken = 0;
    for await (const line of lines) {
      const parsed = parseLoggerLine(line, hello);
      if (parsed.kind === 'sample') this.hub.take(session, parsed.sample);
      if (++taken % LINES_AT_ONCE === 0) await this.hub.flush();
    }
    await this.hub.flush();
  }
}

function refused(error: unknown): Pick<AlongFileOutcome, 'message' | 'outcome'> {
  if (!(error instanceof DomainError)) throw error;
  return { outcome: 'refused', message: error.message };
}
