import { makeReady } from './make-ready.js';

describe('what is made ready behind the first page', () => {
  it('comes one after the other, each when nothing else is to be done', async () => {
    const order: string[] = [];
    const piece = (name: string) => async () => {
      order.push(`${name} begins`);
      await Promise.resolve();
      order.push(`${name} is there`);
    };
    await makeReady([piece('a'), piece('b')], () => {
      order.push('idle');
      return Promise.resolve();
    });
    expect(order).toEqual(['idle', 'a begins', 'a is there', 'idle', 'b begins', 'b is there']);
  });

  it('goes on where one of them does not come', async () => {
    const came: string[] = [];
    const pieces = [() => Promise.reject(new Error('no connection')), () => Promise.resolve(came.push('b'))];
    await makeReady(pieces, () => Promise.resolve());
    expect(came).toEqual(['b']);
  });
});
