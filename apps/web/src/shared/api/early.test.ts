import { fakeApi } from '../../testing/fake-api.js';
import { askEarly, fetchOrTake } from './early.js';

const address = (path: string) => new URL(`/api/${path}`, location.origin).href;
const read = async (path: string): Promise<unknown> => {
  const answer = await fetchOrTake(new Request(address(path)));
  return answer.json();
};

describe('what is asked for early', () => {
  it('is asked for once and taken once; after that it is asked for anew', async () => {
    let times = 0;
    const { requests } = fakeApi({ 'setups/a': () => ({ times: ++times }) });
    askEarly('getSetup', { params: { id: 'a' } });
    askEarly('getSetup', { params: { id: 'a' } });
    expect(await read('setups/a')).toEqual({ times: 1 });
    expect(requests.map(({ method, path }) => `${method} ${path}`)).toEqual(['GET setups/a']);
    expect(await read('setups/a')).toEqual({ times: 2 });
  });

  it('answers nothing else, and holds no longer once something was changed', async () => {
    let now = 'a';
    const { requests } = fakeApi({
      'setups/a': () => ({ is: now }),
      'setups/b': { is: 'b' },
      'PUT setups/a': ({ body }: { body: unknown }) => {
        now = 'changed';
        return { took: body };
      },
    });
    askEarly('getSetup', { params: { id: 'a' } });
    expect(await read('setups/b')).toEqual({ is: 'b' });
    const change = await fetchOrTake(new Request(address('setups/a'), { method: 'PUT', body: '{"x":1}' }));
    expect(await change.json()).toEqual({ took: { x: 1 } });
    expect(await read('setups/a')).toEqual({ is: 'changed' });
    expect(requests).toHaveLength(4);
  });

  it('fails where it is taken when nothing answers, and may be asked for again', async () => {
    globalThis.fetch = () => Promise.reject(new TypeError('nothing answers'));
    askEarly('getSetup', { params: { id: 'c' } });
    await expect(read('setups/c')).rejects.toThrow('nothing answers');
    fakeApi({ 'setups/c': { is: 'there' } });
    expect(await read('setups/c')).toEqual({ is: 'there' });
  });
});
