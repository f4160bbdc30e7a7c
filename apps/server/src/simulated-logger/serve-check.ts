import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { WebSocketServer, type WebSocket } from 'ws';
import { BoxCheck } from './box-check.js';

const STREAM = '/api/logger/stream';
const LINES = '/api/logger/lines';
const ACK_MS = 250;

/** Stands in for Ebrix towards a box, until the box says goodbye or time is up. */
export async function checkBox(
  { host, port, seconds }: { readonly host: string; readonly port: number; readonly seconds: number },
  ready: (port: number) => void,
): Promise<ReturnType<BoxCheck['report']>> {
  const check = new BoxCheck();
  const begun = performance.now();
  const now = (): number => (performance.now() - begun) / 1000;
  let finish = (): void => undefined;
  const over = new Promise<void>((resolve) => (finish = resolve));
  const server = createServer((request, response) => void answer(check, now, finish, request, response));
  const streams = new WebSocketServer({ server, path: STREAM });
  streams.on('connection', (socket) => hold(check, now, finish, socket));
  await new Promise<void>((resolve, reject) => server.once('error', reject).listen(port, host, resolve));
  const timer = setTimeout(finish, seconds * 1000);
  ready((server.address() as AddressInfo).port);
  await over;
  clearTimeout(timer);
  for (const socket of streams.clients) socket.terminate();
  server.closeAllConnections();
  server.close();
  return check.report();
}

function hold(check: BoxCheck, now: () => number, finish: () => void, socket: WebSocket): void {
  const read = check.connect();
  let rest = '';
  const acks = setInterval(() => {
    if (check.keptUpTo >= 0) socket.send(`${JSON.stringify({ ack: check.keptUpTo })}\n`);
  }, ACK_MS);
  socket.on('error', () => undefined);
  socket.on('close', () => clearInterval(acks));
  socket.on('message', (data: Buffer) => {
    const lines = `${rest}${data.toString()}`.split('\n');
    rest = lines.pop()!;
    for (const line of lines) {
      for (const { line: said } of read(line, now())) socket.send(`${JSON.stringify(said)}\n`);
      if (check.isOver) return finish();
      if (check.next('stream') === 'cut') {
        check.forget();
        return socket.terminate();
      }
    }
  });
}

async function answer(
  check: BoxCheck,
  now: () => number,
  finish: () => void,
  request: IncomingMessage,
  response: ServerResponse,
): Promise<void> {
  if (request.method !== 'POST' || request.url !== LINES) {
    response.writeHead(404).end(`There is only ${LINES} and ${STREAM} here.\n`);
    return;
  }
  let text = '';
  for await (const piece of request) text += String(piece);
  const trial = check.next('request');
  if (trial === 'refuse') {
    check.expectAgain();
    response.writeHead(503, { 'Content-Type': 'application/json' });
    response.end(JSON.stringify({ error: { code: 'busy', message: 'Try again in a moment.' } }));
    return;
  }
  if (trial === 'silence') {
    check.expectAgain();
    response.destroy();
    return;
  }
  const read = check.connect();
  const said = text.split('\n').flatMap((line) => read(line, now()));
  const bad = said.map(({ line }) => (line as { bad?: object }).bad).filter((one) => one !== undefined);
  response.writeHead(200, { 'Content-Type': 'application/json' });
  response.end(JSON.stringify({ session: '', next: check.keptUpTo + 1, stored: 0, duplicates: 0, bad }), () => {
    if (check.isOver) finish();
  });
}
