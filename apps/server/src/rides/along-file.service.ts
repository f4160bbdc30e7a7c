import { Injectable } from '@nestjs/common';
import { parseLoggerLine, type LoggerHello } from '@ebrix/core/logger';
import { alongFileSchema, type AlongFile, type AlongFileOutcome } from '@ebrix/contract';
import { InternalKeys } from '../accounts/internal-keys.js';
import { Clock } from '../common/clock.js';
import { DomainError } from '../common/domain-error.js';
import { LoggerHub } from '../loggers/logger-hub.js';
import { AlongService } from './along.service.js';
import { OVER } from './ride-states.js';
import { RideRepository } from './ride.repository.js';

/** So many lines are taken before others get their turn. */
const LINES_AT_ONCE = 2000;

/** An outing that came as a file: ride by ride, as if its phone had sent it. */
@Injectable()
export class AlongFileService {
  constructor(
    private readonly along: AlongService,
    private readonly rides: RideRepository,
    private readonly hub: LoggerHub,
    private readonly keys: InternalKeys,
    private readonly clock: Clock,
  ) {}

  /** One ride that is refused keeps none of the others out. Fails: `cannot-read` for what is no such file. */
  async take(text: string): Promise<AlongFileOutcome[]> {
    const { rides } = readFile(text);
    const outcomes: AlongFileOutcome[] = [];
    for (const { id, ride, log } of rides) {
      const known = await this.rides.find(id);
      const isHere = known !== undefined && OVER.includes(known.state);
      try {
        if (!isHere && log && ride.log) await this.takeLines(ride.log, log);
        // It may lie for days before it comes in: its times are taken as the phone wrote them.
        const { setup } = await this.along.bring(id, { ...ride, sentAt: this.clock.now().toISOString() });
        outcomes.push({
          id,
          setup: setup.name,
          outcome: isHere ? 'was-here' : 'taken',
          message: isHere ? 'It was here already.' : 'Taken in.',
        });
      } catch (error) {
        if (!(error instanceof DomainError)) throw error;
        outcomes.push({ id, setup: '', outcome: 'refused', message: error.message });
      }
    }
    return outcomes;
  }

  private async takeLines(
    { loggerId, session }: NonNullable<AlongFile['rides'][number]['ride']['log']>,
    { channels, units, lines }: NonNullable<AlongFile['rides'][number]['log']>,
  ): Promise<void> {
    const secret = this.keys.make('A file');
    try {
      const said = { hello: { protocol: 1, logger: loggerId, secret, session, channels, units } };
      const hello = parseLoggerLine(JSON.stringify(said), undefined);
      if (hello.kind !== 'hello')
        throw new DomainError('cannot-read', hello.kind === 'bad' ? hello.reason : 'Its log has no channels.');
      await this.takeInto(hello.hello, lines);
    } finally {
      this.keys.end(secret);
    }
  }

  private async takeInto(hello: LoggerHello, lines: readonly (readonly (number | null)[])[]): Promise<void> {
    const session = await this.hub.open(hello);
    let taken = 0;
    for (const line of lines) {
      const parsed = parseLoggerLine(JSON.stringify(line), hello);
      if (parsed.kind === 'sample') this.hub.take(session, parsed.sample);
      if (++taken % LINES_AT_ONCE === 0) await this.hub.flush();
    }
    await this.hub.flush();
  }
}

function readFile(text: string): AlongFile {
  const no = (why: string): DomainError =>
    new DomainError('cannot-read', `This is no outing of a phone: ${why} Choose the file that the phone saved.`);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw no('it cannot be read as JSON, so it may be cut short.');
  }
  const outcome = alongFileSchema.safeParse(value);
  if (outcome.success) return outcome.data;
  const [issue] = outcome.error.issues;
  throw no(`${issue!.path.join('.') || 'the file'}: ${issue!.message}`);
}
