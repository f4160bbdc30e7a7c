import { ROUTES, type Route } from '@ebrix/contract';
import { startTestApp, type TestApp } from '../testing/test-app.js';

let server: TestApp;
beforeAll(async () => (server = await startTestApp()));
afterAll(() => server.close());

interface Layer {
  readonly route?: { readonly path: string; readonly methods: Readonly<Record<string, boolean>> };
}
/** What the server's router answers to, as the table writes it. */
function routed(): string[] {
  const express: unknown = server.app.getHttpAdapter().getInstance();
  // The bare '/api' is the answer for addresses that do not exist.
  const { router } = express as { router: { stack: readonly Layer[] } };
  return router.stack.flatMap(({ route }) =>
    route && route.path !== '/api'
      ? Object.keys(route.methods).map((method) => `${method} ${route.path.replaceAll(/:(\w+)/g, '{$1}')}`)
      : [],
  );
}

describe('the table of routes', () => {
  it('holds every address the server answers to, and none that it does not', () => {
    const listed = Object.values<Route>(ROUTES).map(({ method, path }) => `${method} /api/${path}`);
    const withoutNames = (path: string): string => path.replaceAll(/\{\w+\}/g, '{}');
    expect([...new Set(routed().map(withoutNames))].sort()).toEqual(listed.map(withoutNames).sort());
  });

  it('is the API description, every one of them with its answer', async () => {
    const { body } = await server.api.get('/api/openapi.json').expect(200);
    const { paths } = body as { paths: Record<string, Record<string, { operationId: string; responses: object }>> };
    const operations = Object.values(paths).flatMap((methods) => Object.values(methods));
    expect(operations.map(({ operationId }) => operationId).sort()).toEqual(Object.keys(ROUTES).sort());
    for (const { responses } of operations) expect(Object.keys(responses)).toEqual(['2XX', 'default']);
  });
});
