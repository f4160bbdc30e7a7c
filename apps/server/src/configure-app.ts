import { existsSync } from 'node:fs';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import express, { type NextFunction, type Request, type Response } from 'express';
import helmet from 'helmet';
import { LoggerSocket } from './loggers/logger-socket.js';
import { endWithClient } from './common/client-gone.js';
import { CONFIG, type Config } from './common/config.js';
import { ErrorFilter } from './common/error.filter.js';
import { Sessions } from './accounts/sessions.js';
import { uploadBudget } from './common/upload-budget.js';
import { RequestGuard } from './common/request-guard.js';

const ONE_YEAR_S = 31_536_000;

/** All that stands before and behind the controllers: headers, limits, pages, errors. */
export function configureApp(app: NestExpressApplication, webFolder: string | undefined): void {
  app.setGlobalPrefix('api');
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          // Ant Design writes its styles while running.
          'style-src': ["'self'", "'unsafe-inline'"],
          'worker-src': ["'self'", 'blob:'],
          'connect-src': ["'self'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          // Plain http on loopback.
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use((request: Request, _response: Response, next: NextFunction) =>
    next(app.get(RequestGuard).refusalOf(request.method, request.headers)),
  );
  app.use('/api', (_request: Request, response: Response, next: NextFunction) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  const { EBRIX_PROXIES: proxies } = app.get<Config>(CONFIG);
  if (proxies.length > 0) app.set('trust proxy', proxies);
  app.use((request: Request, response: Response, next: NextFunction) => app.get(Sessions).use(request, response, next));
  app.use(uploadBudget());
  app.use('/api/quick-look', endWithClient);
  app.useBodyParser('json', { limit: '1mb' });
  app.useBodyParser('text', { type: ['application/x-ndjson', 'text/plain'], limit: '16mb' });
  app.get(LoggerSocket).attach(app.getHttpServer());
  app.useGlobalFilters(new ErrorFilter());
  app.enableShutdownHooks();
  if (webFolder && existsSync(join(webFolder, 'index.html'))) servePages(app, webFolder);
}

function servePages(app: NestExpressApplication, folder: string): void {
  app.use(
    '/assets',
    express.static(join(folder, 'assets'), { immutable: true, maxAge: ONE_YEAR_S * 1000, fallthrough: false }),
  );
  app.use(express.static(folder, { index: false }));
  app.use((request: Request, response: Response, next: NextFunction) => {
    if (request.path.startsWith('/api') || (request.method !== 'GET' && request.method !== 'HEAD')) return next();
    // Every address of the pages survives a reload; the phone's app has a page of its own.
    const page = /^\/along(\/|$)/.test(request.path) ? 'along.html' : 'index.html';
    response.setHeader('Cache-Control', 'no-cache').sendFile(join(folder, page));
  });
}
