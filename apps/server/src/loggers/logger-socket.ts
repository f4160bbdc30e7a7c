import { setImmediate } from 'node:timers/promises';
import { STATUS_CODES, type IncomingMessage, type Server } from 'node:http';
import type { Server as SecureServer } from 'node:https';
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
const LINES_AT_ONCE = 200;
const MESSAGES_WAITING = 4;
/** Answers to bad lines that may lie unread: more are counted and not sent. */
const UNREAD_BYTES = 256 * 1024;

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

  attach(server: SecureServer | Server): void {
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
    this.timer ??= setInterval(() => this.ping(), PING_MS).unref();
  }

  private serve(client: WebSocket): void {
    this.alive.add(client);
    client.on('pong', () => this.alive.add(client));
    const send = (answer: object): void => {
      if (client.readyState === client.OPEN) client.send(`${JSON.stringify(answer)}\n`);
    };
    // Answers to lines that came together go together.
    let unsent = '';
    const flush = (): void => {
      if (unsent !== '' && client.readyState === client.OPEN) client.send(unsent);
      unsent = '';
    };
    const reader = new LineReader(this.hub, (answer) => {
      if ('bad' in answer && client.bufferedAmount > UNREAD_BYTES) return;
      unsent += `${JSON.stringify(answer)}\n`;
    });
    const acknowledge = (n: number): void => send({ ack: n });
    let rest = '';
    // One after the other: a hello waits for the database, and the lines behind it wait for the hello.
    let turn: Promise<void> = Promise.resolve();
    let isConnected = false;
    let waiting = 0;
    client.on('message', (data: Buffer) => {
      // What is sent faster than it is taken waits at the sender.
      waiting++;
      if (waiting > MESSAGES_WAITING) client.pause();
      const lines = (rest + data.toString('utf8')).split('\n');
      rest = lines.pop()!;
      // A line without an end is a line when the message ends with it: many senders put one line in a message.
      if (rest.length > LOGGER_LIMITS.lineLength || isWhole(rest)) {
        lines.push(rest);
        rest = '';
      }
      turn = turn
        .then(async () => {
          let sinceRest = 0;
          for (const line of lines) {
            // Others are answered between, however much one logger sends.
            if (++sinceRest % LINES_AT_ONCE === 0) {
              flush();
              await setImmediate();
            }
            await reader.read(line);
            if (reader.session && !isConnected) {
              isConnected = true;
              reader.session.connections++;
              reader.session.acknowledge.add(acknowledge);
            }
          }
          flush();
        })
        .catch((error: unknown) => {
          flush();
          const isOurs = error instanceof DomainError;
          if (!isOurs) this.log.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
          send({
            error: {
              code: isOurs ? error.code : 'internal',
              message: isOurs ? error.message : 'The server failed. Connect again.',
            },
          });
          client.close(isOurs && error.code === 'unknown-logger' ? REFUSED : BROKEN);
        })
        .finally(() => {
          waiting--;
          if (waiting === 0 && client.isPaused) client.resume();
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
