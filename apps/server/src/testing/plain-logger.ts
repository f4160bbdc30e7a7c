import WebSocket from 'ws';
import { untilTrue } from './processes.js';

/** A plain logger: 50 lines a second, keeps nothing, and connects again when it is cut off. */
export class PlainLogger {
  /** Numbers that went out over an open line, and those that could not. */
  readonly sent: number[] = [];
  readonly unsent: number[] = [];
  acknowledged = -1;
  private next = 0;
  private socket: WebSocket | undefined;
  private readonly timer: NodeJS.Timeout;
  private static readonly all: PlainLogger[] = [];
  static stopAll(): void {
    for (const logger of PlainLogger.all.splice(0)) logger.stop();
  }
  constructor(
    /** Of the server; it may move to another one. */
    public url: string,
    private readonly loggerId: string,
    private readonly session: string,
  ) {
    PlainLogger.all.push(this);
    this.timer = setInterval(() => this.tick(), 20);
  }
  private tick(): void {
    if (!this.socket) this.open();
    const n = this.next++;
    const isOpen = this.socket!.readyState === WebSocket.OPEN;
    (isOpen ? this.sent : this.unsent).push(n);
    if (isOpen) this.socket!.send(`${JSON.stringify([n, n / 50, 20, n / 9, 50 - n / 1e4, 5])}\n`);
  }
  private open(): void {
    const socket = new WebSocket(`${this.url.replace('http', 'ws')}/api/logger/stream`);
    this.socket = socket;
    socket.on('error', () => undefined);
    socket.on('close', () => (this.socket = undefined));
    socket.on('open', () =>
      socket.send(
        `${JSON.stringify({ hello: { protocol: 1, logger: this.loggerId, session: this.session, channels: ['speed', 'distance', 'voltage', 'current'] } })}\n`,
      ),
    );
    socket.on('message', (data: Buffer) => {
      for (const line of data.toString().split('\n').filter(Boolean)) {
        const { ack } = JSON.parse(line) as { ack?: number };
        if (ack !== undefined) this.acknowledged = Math.max(this.acknowledged, ack);
      }
    });
  }
  /** Waits until so many further lines are known to be on disk. */
  untilAcknowledged(more: number): Promise<boolean> {
    const goal = this.acknowledged + more;
    return untilTrue(() => Promise.resolve(this.acknowledged >= goal || undefined), `${more} lines acknowledged`);
  }
  /** As where a line breaks; the next line opens it again, wherever `url` then leads. */
  cut(): void {
    this.socket?.terminate();
  }
  stop(): void {
    clearInterval(this.timer);
    this.socket?.close();
  }
}
