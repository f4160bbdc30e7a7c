import { EventEmitter } from 'node:events';
import type { Request } from 'express';
import type { IncomingHttpHeaders } from 'node:http';
import { Writable } from 'node:stream';
import { HttpException, Logger, NotFoundException, type ArgumentsHost } from '@nestjs/common';
import type { Response } from 'express';
import { MulterError } from 'multer';
import { CoreError } from '@ebrix/core/errors';
import { LogProblemError } from '@ebrix/core/logs';
import { z } from 'zod';
import { readConfig } from './config.js';
import { isConnectionLost } from './connection-lost.js';
import { piecesOf } from '../testing/pieces.js';
import { DomainError } from './domain-error.js';
import { ErrorFilter } from './error.filter.js';
import { RequestGuard } from './request-guard.js';
import { toColumnName, withoutNulls } from './row.js';
import { sendCsv } from './send-csv.js';
import { parseJsonField, parseOrRefuse } from './zod.pipe.js';
import { uploadBudget } from './upload-budget.js';

/** What the filter answers to an error. */
function answerTo(error: unknown): { status: number; code: string; message: string; details?: unknown } {
  let status = 0;
  let body: { error: { code: string; message: string; details?: unknown } } | undefined;
  const response = {
    headersSent: false,
    status(given: number) {
      status = given;
      return response;
    },
    json(given: typeof body) {
      body = given;
    },
  };
  const host = { switchToHttp: () => ({ getResponse: () => response }) } as unknown as ArgumentsHost;
  const silent = jest.spyOn(Logger.prototype, 'error').mockImplementation(() => undefined);
  new ErrorFilter().catch(error, host);
  silent.mockRestore();
  return { status, ...body!.error };
}
const pgError = (code: string, detail = '') => Object.assign(new Error('from the database'), { code, detail });

describe('every failure has one shape', () => {
  it.each([
    ['a rule of the trade', new DomainError('wrong-state', 'This ride is over.'), 409, 'wrong-state'],
    ['a value of the core', new CoreError('not-positive', 'mass must be positive'), 422, 'not-positive'],
    ['a file with a fault', new LogProblemError({ code: 'no-time', message: 'No time.' } as never), 422, 'no-time'],
    ['a file beyond a limit', new LogProblemError({ code: 'too-large', message: 'Big.' } as never), 413, 'too-large'],
    ['an upload that is too large', new MulterError('LIMIT_FILE_SIZE'), 413, 'too-large'],
    ['too many files', new MulterError('LIMIT_FILE_COUNT'), 413, 'too-many-files'],
    ['an upload of another kind', new MulterError('LIMIT_UNEXPECTED_FILE'), 400, 'invalid-request'],
    ['an address that is none', new NotFoundException(), 404, 'not-found'],
    ['a method that is none', new HttpException('No.', 405), 405, 'invalid-request'],
    ['a name twice', pgError('23505'), 409, 'already-there'],
    ['a choice that is gone', pgError('23503', 'Key (id) is not present in table "kit".'), 409, 'not-there'],
    ['a part in use', pgError('23503', 'Key (id) is still referenced from table "run".'), 409, 'in-use'],
    ['a text that no column holds', pgError('22021'), 400, 'invalid-request'],
    ['a number beyond its column', pgError('22003'), 400, 'invalid-request'],
    ['a full disk', pgError('53100'), 503, 'disk-full'],
    ['a database that went away', pgError('57P01'), 503, 'database-unreachable'],
    ['a body that is too large', { status: 413, type: 'entity.too.large' }, 413, 'too-large'],
    ['a body that is no JSON', { status: 400, type: 'entity.parse.failed' }, 400, 'invalid-request'],
    ['what nobody thought of', new TypeError('secret path /srv'), 500, 'internal'],
  ])('%s', (_, error, status, code) => expect(answerTo(error)).toMatchObject({ status, code }));

  it('and tells nothing of its insides', () => {
    expect(answerTo(new TypeError('secret path /srv')).message).not.toMatch(/secret|srv/);
    expect(answerTo(pgError('23505', 'Key (name)=(x) exists')).message).not.toContain('Key');
  });
  it('keeps where the fault of a file is', () =>
    expect(
      answerTo(new LogProblemError({ code: 'no-time', message: 'No time.', line: 7 } as never)).details,
    ).toMatchObject({ line: 7 }));
});

describe('a lost connection', () => {
  it.each([
    [{ code: 'ECONNREFUSED' }, true],
    [{ code: '57P03' }, true],
    [{ name: 'KnexTimeoutError' }, true],
    [new Error('Connection terminated unexpectedly'), true],
    [{ code: '23505' }, false],
    [new Error('syntax error'), false],
    [undefined, false],
  ])('%j: %s', (error, isLost) => expect(isConnectionLost(error)).toBe(isLost));
});

describe('the guard at the door', () => {
  const guard = new RequestGuard(['Bench.local']);
  const code = (method: string, headers: IncomingHttpHeaders): string | undefined =>
    guard.refusalOf(method, headers)?.code;

  it('lets the page in by every loopback name and by those that were named', () => {
    for (const host of ['127.0.0.1:4180', 'localhost', '[::1]:4180', 'bench.local:80', 'BENCH.LOCAL'])
      expect(code('PUT', { host, origin: `http://${host}` })).toBeUndefined();
  });
  it('answers under no other name, whatever is asked', () => {
    for (const host of ['evil.example', '127.0.0.1.evil.example', undefined, 'localhost:80:80'])
      for (const method of ['GET', 'POST']) expect(code(method, { host })).toBe('wrong-host');
  });
  it('lets other sites read nothing they could not, and write nothing', () => {
    const host = '127.0.0.1:4180';
    expect(code('POST', { host, origin: 'http://evil.example' })).toBe('foreign-page');
    expect(code('DELETE', { host, 'sec-fetch-site': 'cross-site' })).toBe('foreign-page');
    expect(code('GET', { host, origin: 'http://evil.example' })).toBeUndefined();
    // Streams and downloads that a foreign page loads within itself; a link may lead here.
    expect(code('GET', { host, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'cors' })).toBe('foreign-page');
    expect(code('GET', { host, 'sec-fetch-site': 'cross-site', 'sec-fetch-mode': 'navigate' })).toBeUndefined();
    expect(code('GET', { host, 'sec-fetch-site': 'same-origin', 'sec-fetch-mode': 'cors' })).toBeUndefined();
    expect(guard.refusalOfUpgrade({ host, origin: 'null' })?.code).toBe('foreign-page');
    expect(code('POST', { host })).toBeUndefined();
  });
});

describe('a request that does not fit', () => {
  const schema = z.strictObject({ name: z.string().min(1, 'Give it a name.'), size: z.object({ mm: z.number() }) });
  it('is refused with every place and its mend', () => {
    const refused = ((): DomainError => {
      try {
        parseOrRefuse(schema, { name: '', size: { mm: 'wide' } });
      } catch (error) {
        return error as DomainError;
      }
      throw new Error('it was not refused');
    })();
    expect(refused.code).toBe('invalid-request');
    expect(refused.message).toContain('name: Give it a name.');
    expect((refused.details as { issues: { path: string }[] }).issues.map(({ path }) => path)).toEqual([
      'name',
      'size.mm',
    ]);
  });
  it('may be JSON in a field of a form', () => {
    expect(parseJsonField('mapping', '{"a":1}')).toEqual({ a: 1 });
    expect(parseJsonField('mapping', ' ')).toBeUndefined();
    expect(parseJsonField('mapping', undefined)).toBeUndefined();
    expect(() => parseJsonField('mapping', '{')).toThrow('"mapping"');
  });
});

describe('small translations', () => {
  it('of field names and unknown values', () => {
    expect(['wheelCircumferenceM', 'name', 'maxChargeA'].map(toColumnName)).toEqual([
      'wheel_circumference_m',
      'name',
      'max_charge_a',
    ]);
    expect(withoutNulls({ a: null, b: undefined, c: 0, d: '', e: false })).toEqual({ c: 0, d: '', e: false });
  });
  it('of the environment, with loopback as the default', () => {
    expect(readConfig({ DATABASE_URL: 'postgres://x' })).toMatchObject({
      HOST: '127.0.0.1',
      PORT: 4180,
      EBRIX_HOSTS: [],
      EBRIX_DEMO: 'no',
    });
    expect(readConfig({ DATABASE_URL: 'x', EBRIX_HOSTS: ' a , ,b' }).EBRIX_HOSTS).toEqual(['a', 'b']);
    expect(() => readConfig({})).toThrow();
    expect(() => readConfig({ DATABASE_URL: 'x', PORT: '70000' })).toThrow();
  });
});

describe('a table sent in pieces', () => {
  /** A response that takes what is written, until it is closed after `pieces` of it. */
  const responseOf = (pieces = Infinity) => {
    const headers = new Map<string, string>();
    const taken: string[] = [];
    const stream = new Writable({
      decodeStrings: false,
      write(chunk: string | Buffer, _encoding, done) {
        taken.push(chunk.toString());
        done();
        if (taken.length >= pieces) stream.destroy();
      },
    });
    const response = Object.assign(stream, {
      setHeader(name: string, value: string) {
        headers.set(name.toLowerCase(), value);
        return response;
      },
    });
    return { response: response as unknown as Response, headers, taken };
  };

  it('arrives whole, under its name', async () => {
    const { response, headers, taken } = responseOf();
    await sendCsv(response, 'runs.csv', piecesOf(['a,b\r\n', '1,2\r\n']).pieces);
    expect(taken.join('')).toBe('a,b\r\n1,2\r\n');
    expect(headers.get('content-disposition')).toContain('runs.csv');
    expect(headers.get('content-type')).toMatch(/^text\/csv/);
  });
  it('stops being made when its reader leaves', async () => {
    const source = piecesOf(Array.from({ length: 10_000 }, (_, k) => `${k},`.repeat(2000)));
    await sendCsv(responseOf(2).response, 'runs.csv', source.pieces);
    expect(source.made()).toBeLessThan(200);
  });
  it('that breaks on the way says so', async () => {
    async function* broken(): AsyncGenerator<string> {
      yield 'a,b\r\n';
      await Promise.resolve();
      throw new Error('the query failed');
    }
    await expect(sendCsv(responseOf().response, 'runs.csv', broken())).rejects.toThrow('the query failed');
  });
});

describe('the budget of uploads', () => {
  const request = (length: string | undefined, path = '/api/imports') =>
    ({
      is: () => 'multipart/form-data',
      path,
      headers: { 'content-length': length },
      socket: { bytesRead: 0 },
    }) as unknown as Request;
  const tried = (budget: ReturnType<typeof uploadBudget>, asked: Request) => {
    const response = new EventEmitter();
    let outcome: unknown = 'waits';
    budget(asked, response as unknown as Response, (error?: unknown) => (outcome = error ?? 'in'));
    return { outcome, end: () => response.emit('close') };
  };
  it('lets in what fits beside the others, and gives the room back', () => {
    const budget = uploadBudget({ request: 100, unsaid: 80, together: 150 });
    const first = tried(budget, request('100'));
    expect(first.outcome).toBe('in');
    expect(tried(budget, request('60')).outcome).toMatchObject({ code: 'busy' });
    first.end();
    expect(tried(budget, request('60')).outcome).toBe('in');
  });
  it('refuses one that is too large, and gives one that does not say how large it is a room of its own', () => {
    const budget = uploadBudget({ request: 100, unsaid: 80, together: 150 });
    expect(tried(budget, request('101')).outcome).toMatchObject({ code: 'too-large' });
    const unsaid = tried(budget, request(undefined));
    expect(unsaid.outcome).toBe('in');
    expect(tried(budget, request('80')).outcome).toMatchObject({ code: 'busy' });
    unsaid.end();
    expect(tried(budget, request('5000', '/api/package')).outcome).toBe('in');
  });
});
