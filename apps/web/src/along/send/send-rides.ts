import { isOver } from '@ebrix/core/ride';
import { channelsOf, phoneClock } from '../log/phone-log.js';
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

/** Brought, and yet no run: neither a line nor a reading came with it. */
const NO_RUN = {
  code: 'no-run',
  message:
    'Ebrix has it as finished, but nothing to make a run of. Open it there under Ride and write down what was read.',
};

/** Rides that are over and not yet with the server; practice stays here. */
export function waiting(rides: readonly CarriedRide[]): CarriedRide[] {
  return rides.filter(({ state, sent, isPractice }) => isOver(state) && sent === null && !isPractice);
}

/**
 * Sends what waits, ride by ride: first its lines in pieces, from where the server has them, then what became of it. Cut off anywhere it goes on
 * the next time; sent twice it is once.
 */
export async function sendRides(store: PhoneStore, server: Server, nowMs: () => number = phoneClock): Promise<Sent> {
  let [sent, refused] = [0, 0];
  for (const ride of waiting(await store.rides())) {
    try {
      const hasLines = await sendLines(store, server, ride);
      const { runId, state } = await server.bring(ride.id, asInput(ride, hasLines, nowMs()));
      const at = new Date(nowMs()).toISOString();
      const problem = state === ride.state ? null : NO_RUN;
      await store.change(ride.id, (now) => ({ ...now, sent: { at, runId }, problem }));
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
  return { sent, refused, ...(await sendPhotos(store, server)) };
}

/** Photos of rides that were thrown away go too: what was seen was seen. */
async function sendPhotos(store: PhoneStore, server: Server): Promise<Pick<Sent, 'isCutOff' | 'isSignedOut'>> {
  for (const photo of await store.photos()) {
    try {
      await server.photo(photo);
      await store.dropPhoto(photo.id);
    } catch (error) {
      if (error instanceof NobodyThere) return { isCutOff: true };
      if (!(error instanceof ServerRefusal)) throw error;
      if (error.status === 401) return { isCutOff: false, isSignedOut: true };
      await store.keepPhoto({ ...photo, problem: error.message });
    }
  }
  return { isCutOff: false };
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
      channels: channelsOf(ride),
    },
  });
  const end = await store.nextLine(ride.id);
  if (end === 0) return false;
  // A hello alone tells where the server is; from there on this phone goes by its own numbers, so that a line the server cannot use holds up none.
  let { next } = await server.sendLines(hello);
  while (next < end) {
    const first = await store.chunkAt(ride.id, next);
    // A second of a log holds one line or sixty: no more of it is looked up than goes with one request.
    const seconds = Math.ceil(LINES_AT_ONCE / Math.max(1, first?.lines.length ?? 1)) + 1;
    const chunks = await store.chunks(ride.id, first?.fromN ?? next, seconds);
    const lines = chunks
      .flatMap((chunk) => chunk.lines)
      .filter(([n]) => n! >= next)
      .slice(0, LINES_AT_ONCE);
    const last = lines.at(-1);
    if (!last) break;
    await server.sendLines([hello, ...lines.map((line) => JSON.stringify(line))].join('\n'));
    next = last[0]! + 1;
  }
  return true;
}
