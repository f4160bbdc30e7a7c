import { isOver } from '@ebrix/core/ride';
import { PHONE_CHANNELS } from '../log/phone-log.js';
import { asInput, sessionOf, type CarriedRide } from '../store/carried-ride.js';
import type { PhoneStore } from '../store/phone-store.js';
import { NobodyThere, ServerRefusal, type Server } from './server.js';

const LINES_AT_ONCE = 5000;

export interface Sent {
  readonly sent: number;
  /** Rides the server said no to: shown, and chosen about. */
  readonly refused: number;
  /** Nobody answered: the rest waits. */
  readonly isCutOff: boolean;
  /** Ebrix wants to know who this is first. */
  readonly isSignedOut?: boolean;
}

/** Rides that are over and not yet with the server. */
export function waiting(rides: readonly CarriedRide[]): CarriedRide[] {
  return rides.filter(({ state, sent }) => isOver(state) && sent === null);
}

/**
 * Sends what waits, ride by ride: first its lines in pieces, from where the server has them, then what became of it. Cut off anywhere it goes on
 * the next time; sent twice it is once.
 */
export async function sendRides(store: PhoneStore, server: Server, nowMs: () => number = Date.now): Promise<Sent> {
  let [sent, refused] = [0, 0];
  for (const ride of waiting(await store.rides())) {
    try {
      const hasLines = await sendLines(store, server, ride);
      const { runId } = await server.bring(ride.id, asInput(ride, hasLines, nowMs()));
      const at = new Date(nowMs()).toISOString();
      await store.change(ride.id, (now) => ({ ...now, sent: { at, runId }, problem: null }));
      sent++;
    } catch (error) {
      if (error instanceof NobodyThere) return { sent, refused, isCutOff: true };
      if (!(error instanceof ServerRefusal)) throw error;
      const { code, message } = error;
      // Nothing of this ride: the rest waits until somebody has signed in.
      if (error.status === 401) return { sent, refused, isCutOff: false, isSignedOut: true };
      await store.change(ride.id, (now) => ({ ...now, problem: { code, message } }));
      refused++;
    }
  }
  return { sent, refused, isCutOff: false };
}

/** False where the ride has no lines. */
async function sendLines(store: PhoneStore, server: Server, ride: CarriedRide): Promise<boolean> {
  if (!ride.log) return false;
  const hello = JSON.stringify({
    hello: {
      protocol: 1,
      logger: ride.log.loggerId,
      secret: ride.log.secret,
      session: sessionOf(ride),
      channels: PHONE_CHANNELS,
    },
  });
  const end = await store.nextLine(ride.id);
  if (end === 0) return false;
  // A hello alone tells where the server is.
  let { next } = await server.sendLines(hello);
  while (next < end) {
    const chunks = await store.chunks(ride.id, await chunkOf(store, ride.id, next), 600);
    const lines = chunks.flatMap((chunk) => chunk.lines).filter(([n]) => n! >= next);
    const some = lines.slice(0, LINES_AT_ONCE);
    if (some.length === 0) break;
    const { next: after } = await server.sendLines([hello, ...some.map((line) => JSON.stringify(line))].join('\n'));
    // Nothing went: a server that does not take them is asked no further.
    if (after <= next) break;
    next = after;
  }
  return true;
}

/** Where the chunk begins that holds a line: a chunk is a second, so it lies within the last few lines. */
async function chunkOf(store: PhoneStore, rideId: string, n: number): Promise<number> {
  const before = await store.chunks(rideId, Math.max(0, n - 300), 300);
  return before.find(({ fromN, lines }) => fromN + lines.length > n)?.fromN ?? n;
}
