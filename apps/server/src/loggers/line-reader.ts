import { parseLoggerLine } from '@ebrix/core/logger';
import { DomainError } from '../common/domain-error.js';
import type { LoggerHub } from './logger-hub.js';
import type { OpenSession } from './open-session.js';

export type LineAnswer =
  | { readonly welcome: { readonly session: string; readonly next: number } }
  | { readonly bad: { readonly line: number; readonly code: string; readonly reason: string } }
  | { readonly goodbye: true };

/** Takes the lines of one connection in order; bad ones are answered and counted, and never stop the stream. */
export class LineReader {
  session: OpenSession | undefined;
  private line = 0;

  constructor(
    private readonly hub: LoggerHub,
    private readonly answer: (answer: LineAnswer) => void,
  ) {}

  /** Fails: `unknown-logger`, `wrong-state`, `busy`; then the connection is of no use. */
  async read(text: string): Promise<void> {
    this.line++;
    const parsed = parseLoggerLine(text, this.session?.hello);
    switch (parsed.kind) {
      case 'empty':
        return;
      case 'sample':
        this.hub.take(this.session!, parsed.sample);
        return;
      case 'hello':
        if (this.session && this.session.stored.name !== parsed.hello.session)
          throw new DomainError('wrong-state', 'One connection carries one session. Connect again for another one.');
        this.session = await this.hub.open(parsed.hello);
        this.answer({ welcome: { session: this.session.stored.name, next: this.session.ledger.resumeFrom } });
        return;
      case 'bye':
        if (this.session) await this.hub.end(this.session);
        this.answer({ goodbye: true });
        return;
      case 'bad':
        if (this.session) this.session.countBad(this.line, parsed.reason);
        this.answer({ bad: { line: this.line, code: parsed.code, reason: parsed.reason } });
    }
  }
}
