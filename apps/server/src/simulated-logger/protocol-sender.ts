import WebSocket from 'ws';

const RETRY_MS = 400;
const PATIENCE_MS = 30_000;

/** Sends numbered lines, keeps what was not acknowledged, and sends it again after the connection broke. */
export class ProtocolSender {
  sent = 0;
  reconnects = 0;
  private socket: WebSocket | undefined;
  private isReady = false;
  private isEnding = false;
  private refusal: Error | undefined;
  /** Lines that are not known to be on the server's disk. */
  private kept: (readonly (number | null)[])[] = [];
  private waiting: (() => void)[] = [];

  constructor(
    private readonly url: string,
    private readonly hello: object,
  ) {}

  async connect(): Promise<void> {
    const until = Date.now() + PATIENCE_MS;
    while (!this.isReady) {
      if (this.refusal) throw this.refusal;
      if (Date.now() > until) throw new Error(`Ebrix does not answer at ${this.url}.`);
      if (!this.socket) this.open();
      await new Promise((resolve) => setTimeout(resolve, 50));
    }
  }

  send(line: readonly (number | null)[]): void {
    if (this.refusal) throw this.refusal;
    this.sent++;
    this.kept.push(line);
    if (this.isReady) this.write(line);
  }

  breakConnection(): void {
    this.socket?.terminate();
  }

  /** Waits until every line is on disk. */
  async end(): Promise<void> {
    const until = Date.now() + PATIENCE_MS;
    while (this.kept.length > 0 && Date.now() < until && !this.refusal)
      await new Promise((resolve) => setTimeout(resolve, 100));
    if (this.kept.length > 0) throw new Error(`${this.kept.length} lines were not acknowledged.`);
    this.isEnding = true;
    await new Promise<void>((resolve) => {
      this.waiting.push(resolve);
      this.write({ bye: true });
      setTimeout(resolve, 3000);
    });
    this.socket?.close();
  }

  private write(value: unknown): void {
    this.socket?.send(`${JSON.stringify(value)}\n`);
  }

  private open(): void {
    const socket = new WebSocket(this.url);
    this.socket = socket;
    socket.on('open', () => this.write({ hello: this.hello }));
    socket.on('error', () => undefined);
    socket.on('close', () => {
      this.isReady = false;
      this.socket = undefined;
      if (this.isEnding || this.refusal) return;
      this.reconnects++;
      setTimeout(() => !this.socket && this.open(), RETRY_MS);
    });
    socket.on('message', (data: Buffer) => {
      for (const line of data.toString().split('\n').filter(Boolean))
        this.hear(JSON.parse(line) as Record<string, unknown>);
    });
  }

  private hear(answer: Record<string, unknown>): void {
    if (answer['welcome']) {
      this.isReady = true;
      // The server drops what it has: sending all that was not acknowledged is safe.
      for (const line of this.kept) this.write(line);
    } else if (typeof answer['ack'] === 'number') {
      const upTo = answer['ack'];
      this.kept = this.kept.filter(([n]) => n! > upTo);
    } else if (answer['goodbye']) for (const done of this.waiting) done();
    else if (answer['error']) {
      const { code, message } = answer['error'] as { code: string; message: string };
      // Everything else may pass: the connection is tried again.
      if (code === 'unknown-logger' || code === 'wrong-state') this.refusal = new Error(message);
    }
  }
}
