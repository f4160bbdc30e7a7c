import { STATUS_CODES, type IncomingMessage, type Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { Injectable, Logger, type OnModuleDestroy } from '@nestjs/common';
import { WebSocketServer, type WebSocket } from 'ws';
import { LOGGER_LIMITS } from '@ebrix/core/logger';
import { DomainError, STATUS_OF } from '../common/domain-error.js';
import { RequestGuard } from '../common/request-guard.js';
import { LineReader } from './line-reader.js';
import { LoggerHub } from './logger-hub.js';

export const LOGGER_STREAM = '/api/logger/stream';
const MAX_MESSAGE_BYTES = 1024 * 1024;
const REFUSED = 4403;
const BROKEN = 4400;
/** A dead line is found within this time. */
const PING_MS = 15_000;

/** Loggers over WebSocket: lines in, answers out, one JSON value per line. */
@Injectable()
export class LoggerSocket implements OnModuleDestroy {
  private readonly log = new Logger('loggers');
  private readonly sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_MESSAGE_BYTES });
  private readonly alive = new WeakSet<WebSocket>();
  private timer: NodeJS.Timeout | undefined;

  constructor(
    private readonly hub: LoggerHub,
    private readonly guard: RequestGuard,
  ) {}

  attach(server: Server): void {
    server.on('upgrade', (request: IncomingMessage, socket: Duplex, head: Buffer) => {
      const path = request.url?.split('?')[0];
      const refusal = this.guard.refusalOfUpgrade(request.headers);
      if (path !== LOGGER_STREAM || refusal) {
        const status = refusal ? STATUS_OF[refusal.code] : 404;
        socket.end(`HTTP/1.1 ${status} ${STATUS_CODES[status]!}\r\nConnection: close\r\n\r\n`);
        return;
      }
      this.sockets.handleUpgrade(request, socket, head, (client) => this.serve(client));
    });
    this.timer = setInterval(() => this.ping(), PING_MS);
    this.timer.unref();
  }

  private serve(client: WebSocket): void {
    this.alive.add(client);
    client.on('pong', () => this.alive.add(client));
    const send = (answer: object): void => {
      if (client.readyState === client.OPEN) client.send(`${JSON.stringify(answer)}\n`);
    };
    const reader = new LineReader(this.hub, send);
    const acknowledge = (n: number): void => send({ ack: n });
    let rest = '';
    // One after the other: a hello waits for the database, and the lines behind it wait for the hello.
    let turn: Promise<void> = Promise.resolve();
    let isConnected = false;
    client.on('message', (data: Buffer) => {
      const lines = (rest + data.toString('utf8')).split('\n');
      rest = lines.pop()!;
      // A line without an end is a line when the message ends with it: many senders put one line in a message.
      if (rest.length > LOGGER_LIMITS.lineLength || isWhole(rest)) {
        lines.push(rest);
        rest = '';
      }
      turn = turn
        .then(async () => {
          for (const line of lines) {
            await reader.read(line);
            if (reader.session && !isConnected) {
              isConnected = true;
              reader.session.connections++;
              reader.session.acknowledge.add(acknowledge);
            }
          }
        })
        .catch((error: unknown) => {
          const isOurs = error instanceof DomainError;
          if (!isOurs) this.log.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
          send({
            error: {
              code: isOurs ? error.code : 'internal',
              message: isOurs ? error.message : 'The server failed. Connect again.',
            },
          });
          client.close(isOurs && error.code === 'unknown-logger' ? REFUSED : BROKEN);
        });
    });
    client.on('error', () => undefined);
    client.on('close', () => {
      void turn.then(() => {
        if (!reader.session || !isConnected) return;
        reader.session.connections--;
        reader.session.acknowledge.delete(acknowledge);
      });
    });
  }

  private ping(): void {
    for (const client of this.sockets.clients) {
      if (!this.alive.has(client)) {
        client.terminate();
        continue;
      }
      this.alive.delete(client);
      client.ping();
    }
  }

  /** Before the server closes: it waits for every connection that is open. */
  onModuleDestroy(): void {
    clearInterval(this.timer);
    for (const client of this.sockets.clients) client.terminate();
    this.sockets.close();
  }
}

function isWhole(text: string): boolean {
  return /^\s*[{[].*[}\]]\s*$/.test(text);
}
