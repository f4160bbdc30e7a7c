import { ROUTES, type Route } from '@ebrix/contract';
import { answerOf, requestTo } from './route.js';

describe('a request by the table', () => {
  it('has the method and address of the table, with what stands in braces', () => {
    expect(requestTo('getRun', { params: { id: 'abc' } })).toEqual({ url: 'runs/abc', method: 'GET' });
  });

  it('lets nothing typed escape from its place in the address', () => {
    expect(requestTo('getRun', { params: { id: '../trials?x=1#y' } }).url).toBe('runs/..%2Ftrials%3Fx%3D1%23y');
  });

  it('takes filters as they stand in the address of the page, and none as none', () => {
    expect(requestTo('listRuns', { query: 'kind=range&text=quay' }).url).toBe('runs?kind=range&text=quay');
    expect(requestTo('listRuns', { query: '' }).url).toBe('runs');
    expect(requestTo('listRuns', { query: { page: 2 } })).toMatchObject({ url: 'runs', params: { page: 2 } });
  });

  it('sends files as a form, without what is empty', () => {
    const files = [new File(['a'], 'a.csv'), new File(['b'], 'b.csv')];
    const { body } = requestTo('stageFiles', { form: { file: files, note: '', other: undefined, name: 'x' } });
    const form = body as FormData;
    expect(form.getAll('file')).toHaveLength(2);
    expect([form.has('note'), form.has('other'), form.get('name')]).toEqual([false, false, 'x']);
  });

  it('keeps a body that is null or false: only an absent one is left out', () => {
    expect(requestTo('getRun', { params: { id: 'a' }, body: null })).toMatchObject({ body: null });
    expect(requestTo('getRun', { params: { id: 'a' } })).not.toHaveProperty('body');
  });

  it('names every brace of every route once', () => {
    for (const { path } of Object.values<Route>(ROUTES)) {
      const names = [...path.matchAll(/\{(\w+)\}/g)].map(([, name]) => name);
      expect(new Set(names).size).toBe(names.length);
      expect(path).not.toMatch(/^\/|:|\/$/);
    }
  });
});

describe('an answer', () => {
  const state = { isEmpty: true, loading: { done: 1, total: 3 }, problem: null };
  it('that is not what the table says is refused at the door', () => {
    expect(() => answerOf('getDemo')({ ...state, isEmpty: 'yes' })).toThrow();
    expect(answerOf('getDemo')(state)).toEqual(state);
  });

  it('that has no body is nothing', () => {
    expect(ROUTES.deleteOuting.answer).toBeNull();
    expect(answerOf('deleteOuting')('')).toBeUndefined();
  });

  it('waits for the schemas, unless it is one of the first page: that is checked when they come', async () => {
    jest.resetModules();
    const early = await import('./route.js');
    const waiting = early.answerOf('getSetup')({ odd: true });
    const first = early.answerOf('dueEverywhere')({ odd: true });
    expect(first).toEqual({ odd: true });
    await expect(waiting).rejects.toThrow();
    const odd: string[] = [];
    await early.checkFirstAnswers((name) => odd.push(name));
    await early.checkFirstAnswers((name) => odd.push(name));
    expect(odd).toEqual(['dueEverywhere']);
    expect(() => early.answerOf('dueEverywhere')({ odd: true })).toThrow();
    // Later the other answer of the first page waits too.
    await expect(early.answerOf('listTrials')({ odd: true })).rejects.toThrow();
  });

  it('waits for the schemas of its own room alone', async () => {
    jest.resetModules();
    const early = await import('./route.js');
    await early.loadSchemas('meta');
    expect(early.answerOf('getDemo')(state)).toEqual(state);
    const waiting = early.answerOf('getSetup')({ odd: true });
    expect(waiting).toBeInstanceOf(Promise);
    await expect(waiting).rejects.toThrow();
  });
});
