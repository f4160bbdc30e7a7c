import { EventEmitter } from 'node:events';
import type { ExecutionContext } from '@nestjs/common';
import type { Request } from 'express';
import { AccessGuard } from './access.guard.js';
import type { Who } from './account.repository.js';
import { Door } from './door.js';

const BRAM: Who = { id: '01900000-0000-7000-8000-00000000000a', name: 'Bram Tellow', role: 'tester' };

beforeEach(() => jest.useFakeTimers());
afterEach(() => jest.useRealTimers());

/** A closed door with one account behind it, which may be changed, and a session that may end. */
function house() {
  const state: { who: Who | undefined; isSessionThere: boolean; isAway: boolean } = {
    who: BRAM,
    isSessionThere: true,
    isAway: false,
  };
  const door = new Door(
    {
      isAnyThere: () => Promise.resolve(true),
      findOpen: () => (state.isAway ? Promise.reject(new Error('away')) : Promise.resolve(state.who)),
    } as unknown as ConstructorParameters<typeof Door>[0],
    { find: () => undefined } as unknown as ConstructorParameters<typeof Door>[1],
  );
  const open = async (path: string): Promise<{ destroyed: boolean; close: () => void }> => {
    await door.onModuleInit();
    const response = Object.assign(new EventEmitter(), {
      destroyed: false,
      destroy: () => {
        response.destroyed = true;
        response.emit('close');
      },
    });
    const request = {
      method: 'GET',
      route: { path },
      query: {},
      headers: {},
      socket: { remoteAddress: '127.0.0.1' },
      session: {
        accountId: BRAM.id,
        reload: (done: (error: unknown) => void) => done(state.isSessionThere ? undefined : new Error('gone')),
      },
    } as unknown as Request;
    const context = { switchToHttp: () => ({ getRequest: () => request, getResponse: () => response }) };
    await new AccessGuard(door).canActivate(context as unknown as ExecutionContext);
    return {
      get destroyed() {
        return response.destroyed;
      },
      close: () => response.emit('close'),
    };
  };
  return { state, open };
}
const EVENTS = '/api/rides/:id/events';

describe('a stream that is open for long', () => {
  it('goes on while its reader may hear it', async () => {
    const stream = await house().open(EVENTS);
    await jest.advanceTimersByTimeAsync(3_600_000);
    expect(stream.destroyed).toBe(false);
    stream.close();
    expect(jest.getTimerCount()).toBe(0);
  });
  it.each([
    ['signed out everywhere', { isSessionThere: false }],
    ['blocked', { who: undefined }],
  ])('ends within seconds once the reader is %s', async (_, change) => {
    const { state, open } = house();
    const stream = await open(EVENTS);
    Object.assign(state, change);
    await jest.advanceTimersByTimeAsync(10_000);
    expect(stream.destroyed).toBe(true);
    expect(jest.getTimerCount()).toBe(0);
  });
  it('is not cut while the database cannot be asked', async () => {
    const { state, open } = house();
    const stream = await open(EVENTS);
    state.isAway = true;
    await jest.advanceTimersByTimeAsync(60_000);
    expect(stream.destroyed).toBe(false);
    stream.close();
  });
  it('costs other requests nothing', async () => {
    await house().open('/api/setups');
    expect(jest.getTimerCount()).toBe(0);
  });
});
