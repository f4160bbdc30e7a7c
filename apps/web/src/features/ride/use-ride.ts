import { useCallback, useEffect, useRef, useState } from 'react';
import { useDispatch } from 'react-redux';
import { liveSchema, rideSchema, type Live, type Ride, type RideMarkInput } from '@ebrix/contract';
import { mayPass, type ApiDispatch } from '../../shared/api/base-api.js';
import { hearEvents } from '../../shared/api/event-stream.js';
import { takeRide, useSendMarksMutation } from './api.js';
import { dropMarks, keepMark, waitingMarks } from './mark-queue.js';

const RETRY_MS = 1500;

/** The ride as it changes anywhere, its newest readings, and whether the server is heard. */
export function useRideEvents(rideId: string): { live: Live | undefined; isConnected: boolean } {
  const dispatch = useDispatch<ApiDispatch>();
  const [live, setLive] = useState<Live>();
  const [isConnected, setConnected] = useState(true);
  useEffect(() => {
    return hearEvents(
      `/api/rides/${rideId}/events`,
      {
        ride: (data) => {
          const parsed = rideSchema.safeParse(JSON.parse(data));
          if (parsed.success) void dispatch(takeRide(parsed.data));
        },
        live: (data) => {
          const parsed = liveSchema.safeParse(JSON.parse(data));
          if (parsed.success) setLive(parsed.data);
        },
      },
      setConnected,
    );
  }, [rideId, dispatch]);
  return { live, isConnected };
}

/** Marks go to the server when it is there, and wait in the browser while it is not. */
export function useMarks(rideId: string): {
  waiting: readonly RideMarkInput[];
  /** Why marks were refused; they are not kept then. */
  problem: unknown;
  mark: (
    mark: Omit<RideMarkInput, 'at' | 'direction' | 'elapsedS' | 'id' | 'place' | 'text' | 'value'> &
      Partial<RideMarkInput>,
  ) => void;
} {
  const [send] = useSendMarksMutation();
  const [waiting, setWaiting] = useState<readonly RideMarkInput[]>(() => waitingMarks(localStorage, rideId));
  const [problem, setProblem] = useState<unknown>();
  const isSending = useRef(false);
  const flush = useCallback(async (): Promise<void> => {
    const marks = waitingMarks(localStorage, rideId);
    if (isSending.current || marks.length === 0) return;
    isSending.current = true;
    const result = await send({ id: rideId, marks, sentAt: new Date().toISOString() });
    isSending.current = false;
    const status = (result.error as { status?: unknown } | undefined)?.status;
    // Refused for good: asking again would not help; the console says so. Who is signed out sends them after signing in.
    const isRefused = typeof status === 'number' && status < 500 && !mayPass(result.error);
    if (isRefused) setProblem(result.error);
    if (result.data || isRefused) {
      dropMarks(
        localStorage,
        rideId,
        marks.map(({ id }) => id),
      );
    }
    setWaiting(waitingMarks(localStorage, rideId));
  }, [rideId, send]);
  useEffect(() => {
    const timer = setInterval(() => void flush(), RETRY_MS);
    void flush();
    return () => clearInterval(timer);
  }, [flush]);
  const mark: ReturnType<typeof useMarks>['mark'] = (input) => {
    keepMark(localStorage, rideId, {
      id: crypto.randomUUID(),
      at: new Date().toISOString(),
      elapsedS: null,
      direction: null,
      place: null,
      value: null,
      text: '',
      ...input,
    });
    setWaiting(waitingMarks(localStorage, rideId));
    void flush();
  };
  return { waiting, problem, mark };
}

/** Seconds since the start by this device's clock, for rides without a logger. */
export function useElapsed(ride: Ride): number | null {
  const [now, setNow] = useState(() => Date.now());
  const isRunning = ride.state === 'running';
  useEffect(() => {
    if (!isRunning) return;
    const timer = setInterval(() => setNow(Date.now()), 100);
    return () => clearInterval(timer);
  }, [isRunning]);
  if (ride.startedAt === null) return null;
  const end = ride.finishedAt === null ? now : Date.parse(ride.finishedAt);
  return Math.max(0, (end - Date.parse(ride.startedAt)) / 1000);
}
