import { Button, Select } from 'antd';
import { useState } from 'react';
import type { Live, Ride } from '@ebrix/contract';
import { errorMessage } from '../../shared/api/base-api.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useSimulateRideMutation } from './api.js';
import type { Steps } from './steps.js';
import { LoggerLine } from './LoggerLine.js';

const PACES = [1, 5, 20, 60] as const;

/** Everything is set: the run starts with the bike, or by a tap. */
export function Armed({
  ride,
  live,
  steps,
  onAbort,
}: {
  readonly ride: Ride;
  readonly live: Live | undefined;
  readonly steps: Steps;
  readonly onAbort: () => void;
}) {
  const [simulate, { isLoading, error }] = useSimulateRideMutation();
  const [pace, setPace] = useState<number>(1);
  useShortcut('enter', 'Start', () => steps.go('running'));
  return (
    <section className="console-body">
      <p className="text-18">
        {ride.logger
          ? 'The run starts by itself when the bike moves, or by your tap.'
          : 'No logger: tap Start as the front wheel passes the start.'}
      </p>
      {ride.logger && <LoggerLine ride={ride} live={live} />}
      <div className="console-simulate">
        <Button loading={isLoading} onClick={() => void simulate({ id: ride.id, pace })}>
          Ride it simulated
        </Button>
        <Select
          aria-label="How fast"
          showSearch={{ optionFilterProp: 'label' }}
          value={pace}
          onChange={setPace}
          options={PACES.map((value) => ({ value, label: value === 1 ? 'in real time' : `${value} times as fast` }))}
        />
      </div>
      {error !== undefined && <p className="caution">{errorMessage(error)}</p>}
      <div className="console-foot">
        <Button size="large" danger onClick={onAbort}>
          Abort
        </Button>
        <Button size="large" onClick={() => steps.go('preparing')}>
          Back
        </Button>
        <Button size="large" type="primary" loading={steps.isBusy} onClick={() => steps.go('running')}>
          Start
        </Button>
      </div>
    </section>
  );
}
