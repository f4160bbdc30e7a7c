import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:https';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Door } from './accounts/door.js';
import type { Config } from './common/config.js';
import { LoggerSocket } from './loggers/logger-socket.js';

const LOOK_EVERY_MS = 1000;
const LOOPBACK: ReadonlySet<string> = new Set(['127.0.0.1', '::1', 'localhost']);

/** Plain http beyond this machine would carry passwords in the open: only a proxy that was named may be in front. */
export function requireSafeHost({ HOST, EBRIX_PROXIES }: Config): void {
  if (LOOPBACK.has(HOST) || EBRIX_PROXIES.length > 0) return;
  throw new Error(
    `HOST=${HOST} would answer other machines without encryption. Start with --share instead, or name the proxy in front in EBRIX_PROXIES.`,
  );
}

/** Answers other devices over TLS from the moment on that there is an account; `said` tells when. */
export function shareWhenClosed(
  app: NestExpressApplication,
  { EBRIX_SHARE_PORT: port, EBRIX_TLS_CERT: certificate, EBRIX_TLS_KEY: key, EBRIX_SHARED: addresses }: Config,
  said: (note: string) => void,
): { close(): void } {
  let server: Server | undefined;
  if (port === undefined || certificate === undefined || key === undefined) return { close: () => undefined };
  const door = app.get(Door);
  const begin = (): void => {
    const handler = app.getHttpAdapter().getInstance() as Parameters<typeof createServer>[1];
    server = createServer({ cert: readFileSync(certificate), key: readFileSync(key) }, handler);
    app.get(LoggerSocket).attach(server);
    server.on('error', (error) => said(`Other devices cannot be answered on port ${port}: ${error.message}`));
    server.listen(port, '0.0.0.0', () => said(`Shared on this network:\n  ${addresses.join('\n  ')}`));
  };
  if (door.isClosed()) begin();
  else said('Not shared yet: Ebrix has no accounts. Add the first: npm run account -- add NAME');
  const timer = setInterval(() => {
    if (server || !door.isClosed()) return;
    begin();
  }, LOOK_EVERY_MS);
  timer.unref();
  return {
    close: () => {
      clearInterval(timer);
      server?.close();
      server?.closeAllConnections();
    },
  };
}
