import { ROUTES, type Route } from '@ebrix/contract';
import { makeBench } from '../testing/make-bench.js';
import { makeRideCsv } from '../testing/make-ride.js';
import { ODD_VALUES, OddRequests } from '../testing/odd-values.js';
import { startTestApp, type TestApp } from '../testing/test-app.js';

/** More of them with EBRIX_FUZZ: requests a route. */
const A_ROUTE = Number(process.env['EBRIX_FUZZ'] ?? 8);
/** They go on for ever, or end what the others stand on. */
const NOT_ASKED: ReadonlySet<string> = new Set([
  'streamImports',
  'streamRide',
  'loadDemo',
  'addAccount',
  'simulateRide',
]);

let server: TestApp;
let ids: string[];
beforeAll(async () => {
  server = await startTestApp();
  const bench = await makeBench(server);
  const setup = await bench.addSetup('Round');
  const runId = await bench.addRun(makeRideCsv({ minutes: 2 }), setup);
  const trial = await bench.addTrial('Which?', [setup, await bench.addSetup('Second')]);
  ids = [
    setup.id,
    setup.revisions[0]!.id,
    runId,
    trial.id,
    bench.course.id,
    bench.outing.id,
    bench.bike.id,
    bench.kit.id,
  ];
  ids.push('01900000-0000-7000-8000-000000000001');
});
afterAll(() => server.close());

const routes = Object.entries<Route>(ROUTES).filter(
  ([name, { answer }]) => answer !== 'text/event-stream' && !NOT_ASKED.has(name),
);

describe('whatever is sent to any route', () => {
  it('is answered by a result or a sentence, never by a failure of the server', async () => {
    const odd = new OddRequests(20261130, ids);
    const failures: string[] = [];
    let asked = 0;
    for (let turn = 0; turn < A_ROUTE; turn++)
      for (const [name, { method, path, query, body, multipart }] of routes) {
        const address = `/api/${path.replaceAll(/\{(\w+)\}/g, (_, part: string) => odd.pathPart(part))}`;
        let request = server.api[method](query ? `${address}?${odd.query(query).toString()}` : address);
        if (multipart)
          for (const part of multipart) {
            if (part.startsWith('file')) {
              const bytes = Buffer.from(
                odd.pick(['', 'time,speed\n0,1\n', '\u0000\u0001', '<gpx>', '{"a":', 'PK\u0003\u0004']),
              );
              request = request.attach(part, bytes, odd.pick(['a.csv', '../b.gpx', 'c.zip', 'ü.jpg']));
            } else if (odd.chance(0.7)) {
              const value = odd.pick(ODD_VALUES);
              request = request.field(part, typeof value === 'string' ? value : JSON.stringify(value));
            }
          }
        else if (body) request = request.type('json').send(JSON.stringify(odd.body(body)) ?? '');
        const { status, text } = await request;
        asked++;
        // Busy, and no disk, are answers too; here neither is the case.
        if (status >= 500) failures.push(`${name}: ${status} ${method} ${address.slice(0, 120)} ${text.slice(0, 200)}`);
        else if (status >= 400 && method !== 'get') expect(text).toMatch(/"message":"[^"]{8,}/);
      }
    expect(asked).toBe(A_ROUTE * routes.length);
    expect(failures).toEqual([]);
  });
});
