import { useCallback, useEffect, useRef, useState } from 'react';
import { rideSchema, type Ride, type RideChange } from '@ebrix/contract';
import { errorDetails } from '../../shared/api/base-api.js';
import { useChangeRideMutation } from './api.js';

type Part = 'after' | 'limits' | 'preparation';
const PARTS = ['after', 'limits', 'preparation'] as const;
/** What is typed and chosen on the console; parts hold only the fields that were touched. */
export type RidePatch = { readonly [P in Part]?: Partial<Ride[P]> } & {
  readonly riderId?: string | null;
  readonly loggerId?: string | null;
  readonly outingId?: string | null;
};

export interface RideSaver {
  /** A part as it is shown: stored, with what is typed over it. */
  readonly values: <P extends Part>(part: P) => Ride[P];
  readonly change: (patch: RidePatch) => void;
  /** Stores what is typed now; false when it could not be. */
  readonly flush: () => Promise<boolean>;
  /** False while a typed number cannot be read. */
  readonly isReadable: boolean;
  readonly error: unknown;
}

export const SAVE_AFTER_MS = 500;
const MAX_TRIES = 4;

/**
 * The one way in which the console changes its ride. Changes are stored one after the other, each on the version that the one
 * before left, so that two fields left quickly cannot refuse each other. What another phone stored meanwhile is taken in: only
 * fields that were touched here are written over it.
 */
export function useRideSaver(ride: Ride): RideSaver {
  const [typed, setTyped] = useState<RidePatch>({});
  const [error, setError] = useState<unknown>();
  const [save] = useChangeRideMutation();
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const running = useRef<Promise<boolean>>(undefined);
  const pending = useRef<RidePatch>({});
  const newest = useRef(ride);
  useEffect(() => {
    if (ride.id !== newest.current.id || ride.version >= newest.current.version) newest.current = ride;
  }, [ride]);

  const sendAll = useCallback(async (): Promise<boolean> => {
    for (;;) {
      const patch = readablePart(pending.current);
      if (isEmpty(patch)) return true;
      const stored = await send(save, newest.current, patch);
      if ('error' in stored) {
        setError(stored.error);
        return false;
      }
      newest.current = stored.ride;
      pending.current = without(pending.current, patch);
      setTyped(pending.current);
      setError(undefined);
    }
  }, [save]);

  const flush = useCallback((): Promise<boolean> => {
    clearTimeout(timer.current);
    running.current = (running.current ?? Promise.resolve(true)).then(sendAll, sendAll);
    return running.current;
  }, [sendAll]);

  // What was typed last is stored when the console is left, too.
  useEffect(() => () => void flush(), [flush]);

  const change = useCallback(
    (patch: RidePatch): void => {
      pending.current = merged(pending.current, patch);
      setTyped(pending.current);
      clearTimeout(timer.current);
      timer.current = setTimeout(() => void flush(), SAVE_AFTER_MS);
    },
    [flush],
  );
  return {
    values: (part) => ({ ...ride[part], ...typed[part] }),
    change,
    flush,
    isReadable: PARTS.every((part) => Object.values(typed[part] ?? {}).every(isReadableValue)),
    error,
  };
}

/** A step that waits for all that was typed. What is being stored as it is pressed takes nothing from the press; a second press is the same one. */
export function useStoredStep(
  saver: RideSaver,
  go: () => void,
): { readonly take: () => void; readonly isTaken: boolean } {
  const [isTaken, setTaken] = useState(false);
  const take = async (): Promise<void> => {
    setTaken(true);
    try {
      if (await saver.flush()) go();
    } finally {
      setTaken(false);
    }
  };
  return { take: () => void take(), isTaken };
}

/** One change; on another version than the stored one it is tried again on that. */
async function send(
  save: ReturnType<typeof useChangeRideMutation>[0],
  from: Ride,
  patch: RidePatch,
): Promise<{ ride: Ride } | { error: unknown }> {
  let current = from;
  for (let tries = 1; ; tries++) {
    const result = await save({ id: current.id, version: current.version, ...changeOf(current, patch) });
    if (result.data) return { ride: result.data };
    const details = errorDetails(result.error, 'changed-meanwhile') as { current?: unknown } | undefined;
    const stored = rideSchema.safeParse(details?.current);
    if (!stored.success || tries >= MAX_TRIES) return { error: result.error };
    current = stored.data;
  }
}

function changeOf(ride: Ride, { after, limits, preparation, ...choices }: RidePatch): Omit<RideChange, 'version'> {
  return {
    ...choices,
    ...(after && { after: { ...ride.after, ...after } }),
    ...(limits && { limits: { ...ride.limits, ...limits } }),
    ...(preparation && { preparation: { ...ride.preparation, ...preparation } }),
  };
}

function merged(before: RidePatch, patch: RidePatch): RidePatch {
  const parts = PARTS.filter((part) => before[part] ?? patch[part]);
  return {
    ...before,
    ...patch,
    ...Object.fromEntries(parts.map((part) => [part, { ...before[part], ...patch[part] }])),
  };
}

/** What is still to be stored after `sent` was; a field that was changed again meanwhile stays. */
function without(patch: RidePatch, sent: RidePatch): RidePatch {
  const rest = Object.entries(patch).flatMap(([key, value]): [string, unknown][] => {
    const was = sent[key as keyof RidePatch];
    if (typeof value !== 'object' || value === null) return value === was && key in sent ? [] : [[key, value]];
    const fields = Object.entries(value).filter(
      ([field, one]) => (was as Record<string, unknown> | undefined)?.[field] !== one,
    );
    return fields.length > 0 ? [[key, Object.fromEntries(fields)]] : [];
  });
  return Object.fromEntries(rest);
}

function readablePart(patch: RidePatch): RidePatch {
  return Object.fromEntries(
    Object.entries(patch).flatMap(([key, value]): [string, unknown][] => {
      if (typeof value !== 'object' || value === null) return [[key, value]];
      const fields = Object.entries(value).filter(([, one]) => isReadableValue(one));
      return fields.length > 0 ? [[key, Object.fromEntries(fields)]] : [];
    }),
  );
}

function isEmpty(patch: RidePatch): boolean {
  return Object.keys(patch).length === 0;
}

function isReadableValue(value: unknown): boolean {
  return !(typeof value === 'number' && Number.isNaN(value));
}
