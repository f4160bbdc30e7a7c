import { useEffect, useRef, useState } from 'react';
import type { AnsweredHere, AskedHere } from './forecast-here.js';

/** Few paths at once, so that a slider is followed; then as many as an interval needs. */
const FIRST = 24;
const ALL = 400;
const PAUSE_MS = 120;

export interface Answered {
  readonly answer: AnsweredHere | undefined;
  /** Fewer paths than an interval needs: its ends still move. */
  readonly isRough: boolean;
}

/** Answers of the newest question; while it is worked out, those of the one before. */
export function useForecast(setups: AskedHere['setups'] | undefined): Answered {
  const [answer, setAnswer] = useState<AnsweredHere>();
  const worker = useRef<Worker>(undefined);
  const number = useRef(0);
  const isBusy = useRef(false);
  useEffect(() => () => worker.current?.terminate(), []);
  useEffect(() => {
    if (!setups || setups.length === 0) {
      setAnswer(undefined);
      return undefined;
    }
    const own = ++number.current;
    // A question that nobody asks any more is not worked out to its end.
    if (isBusy.current) {
      worker.current?.terminate();
      worker.current = undefined;
      isBusy.current = false;
    }
    const ask = (samples: number): void => {
      const current = (worker.current ??= startWorker());
      current.onmessage = ({ data }: MessageEvent<AnsweredHere>) => {
        if (data.samples === ALL) isBusy.current = false;
        if (data.number === number.current) setAnswer(data);
      };
      if (samples === ALL) isBusy.current = true;
      current.postMessage({ number: own, setups, samples } satisfies AskedHere);
    };
    ask(FIRST);
    const rest = setTimeout(() => ask(ALL), PAUSE_MS);
    return () => clearTimeout(rest);
  }, [setups]);
  return { answer, isRough: answer !== undefined && (answer.samples < ALL || answer.number !== number.current) };
}

function startWorker(): Worker {
  return new Worker(new URL('./forecast.worker.ts', import.meta.url), { type: 'module' });
}
