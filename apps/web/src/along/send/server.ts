import type { CarriedPhoto } from '../store/carried-photo.js';
import type { AlongBundle, AlongRideInput, Ride, RideOverview, TakeAlong } from '@ebrix/contract';

/** What the server said no to, in its own words. */
export class ServerRefusal extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}
/** Nobody answered: no network, or no server behind it. */
export class NobodyThere extends Error {}

/** The few addresses a phone asks. */
export interface Server {
  take(what: TakeAlong): Promise<AlongBundle>;
  overview(): Promise<RideOverview>;
  sendLines(text: string): Promise<{ next: number }>;
  bring(id: string, ride: AlongRideInput): Promise<Ride>;
  photo(photo: CarriedPhoto): Promise<unknown>;
}

export const httpServer: Server = {
  take: (what) => asked('POST', 'along', JSON.stringify(what)),
  overview: () => asked('GET', 'rides'),
  sendLines: (text) => asked('POST', 'logger/lines', text, 'application/x-ndjson'),
  bring: (id, ride) => asked('PUT', `along/rides/${id}`, JSON.stringify(ride)),
  photo: ({ id, setupId, caption, bytes, type }) => {
    const form = new FormData();
    form.append('id', id);
    form.append('owner', 'setup');
    form.append('ownerId', setupId);
    form.append('caption', caption);
    form.append('file', new Blob([bytes], { type }), 'photo.jpg');
    return asked('POST', 'photos', form, null);
  },
};

async function asked<T>(
  method: string,
  path: string,
  body?: FormData | string,
  type: string | null = 'application/json',
): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(`/api/${path}`, {
      method,
      ...(body !== undefined && { body, ...(type !== null && { headers: { 'Content-Type': type } }) }),
    });
  } catch {
    throw new NobodyThere('Nobody answers: no network here, or Ebrix does not run.');
  }
  if (answer.ok) return (await answer.json()) as T;
  // A gate in front of the server that answers for it is nobody, either.
  const refusal = (await answer.json().catch(() => undefined)) as
    | { error?: { code?: string; message?: string } }
    | undefined;
  if (!refusal?.error) throw new NobodyThere(`Ebrix is not reached (${answer.status}).`);
  throw new ServerRefusal(refusal.error.code ?? '', refusal.error.message ?? '', answer.status);
}
