import { Button, Checkbox, Input, Select } from 'antd';
import { useState } from 'react';
import type { Live, Ride } from '@ebrix/contract';
import { formatClock, formatDay } from '../../shared/format/format-quantity.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { useListOutingsQuery } from '../../entities/outing/index.js';
import { ReadingsFields, type ReadingName } from '../../entities/run/index.js';
import type { Steps } from './steps.js';
import { LoggerLine } from './LoggerLine.js';
import { MarkForm, type MarkFormKind } from './MarkForm.js';
import { MarkList } from './MarkList.js';
import { OddReadings } from './OddReadings.js';
import { useStoredStep, type RideSaver } from './use-ride-saver.js';
import { useElapsed, type useMarks } from './use-ride.js';

interface Props {
  readonly ride: Ride;
  readonly saver: RideSaver;
  readonly live: Live | undefined;
  readonly marks: ReturnType<typeof useMarks>;
  readonly steps: Steps;
  readonly onAbort: () => void;
  readonly onRepeat: () => void;
}

/** Asked by themselves, or before the ride. */
const ASKED_ABOVE: readonly ReadingName[] = [
  'displayMeanKmh',
  'restVoltageEndV',
  'restVoltageStartV',
  'tripDistanceKm',
  'wallEnergyWh',
];

/** The run is over: what the display and the gauge say, what was timed on paper, and whether it counts. */
export function Finished({ ride, saver, live, marks, steps, onAbort, onRepeat }: Props) {
  const clockS = useElapsed(ride);
  const after = saver.values('after');
  const change = (values: Partial<Ride['after']>): void => saver.change({ after: values });
  const [form, setForm] = useState<MarkFormKind>();
  const [hasReadings] = useState(after.readings !== null);
  const { data: outings } = useListOutingsQuery();
  const keep = useStoredStep(saver, () => steps.go('kept'));
  const field = (
    key:
      | 'displayMeanKmh'
      | 'endVoltageV'
      | 'gaugeEnd'
      | 'payloadKg'
      | 'perceivedEffort'
      | 'tripDistanceKm'
      | 'wallEnergyWh',
    label: string,
    unit: Parameters<typeof QuantityInput>[0]['unit'],
  ) => (
    <label>
      {label}
      <QuantityInput unit={unit} value={after[key]} onChange={(value) => change({ [key]: value })} />
    </label>
  );
  const isInLaps = ride.laps > 1 || ride.marks.some(({ kind, isUndone }) => kind === 'lap' && !isUndone);
  return (
    <section className="console-body">
      <p>
        Ran for <strong className="figures">{formatClock(live?.elapsedS ?? clockS ?? 0)}</strong>.
      </p>
      <LoggerLine ride={ride} live={live} />
      <div className="console-pair">
        {field('tripDistanceKm', 'Trip distance', 'km')}
        {field('displayMeanKmh', 'Average speed on display', 'km/h')}
        {field(
          'gaugeEnd',
          ride.preparation.gaugeBars === null ? 'Bars left' : `Bars left of ${ride.preparation.gaugeBars}`,
          'level',
        )}
        {field('endVoltageV', 'Voltage after rest', 'V')}
        {field('wallEnergyWh', 'Socket energy to refill', 'Wh')}
      </div>
      <div className="console-pair">
        <label>
          Gear kept
          <Input value={after.gear} maxLength={20} onChange={({ target }) => change({ gear: target.value })} />
        </label>
        {field('payloadKg', 'Payload', 'kg')}
        {isInLaps && (
          <label>
            Laps ridden
            <QuantityInput
              unit="level"
              placeholder={`${ride.laps}, as planned`}
              value={after.laps}
              onChange={(laps) => change({ laps: laps === null || laps < 1 ? null : Math.round(laps) })}
            />
          </label>
        )}
        {field('perceivedEffort', 'Felt, 0 to 10', 'level')}
      </div>
      <Checkbox checked={after.isEmptied} onChange={({ target }) => change({ isEmptied: target.checked })}>
        Ridden until the pack was empty
      </Checkbox>
      <label>
        Outing
        <Select
          allowClear
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="Today’s"
          value={ride.outing?.id ?? null}
          options={(outings ?? []).map(({ id, title, date }) => ({
            value: id,
            label: `${formatDay(date)}${title ? `, ${title}` : ''}`,
          }))}
          onChange={(outingId: string | undefined) => saver.change({ outingId: outingId ?? null })}
        />
      </label>
      <label>
        Notes
        <Input.TextArea rows={2} value={after.notes} onChange={({ target }) => change({ notes: target.value })} />
      </label>
      <details open={hasReadings}>
        <summary>What the display and your hand said</summary>
        <ReadingsFields
          kind={ride.testKind}
          value={after.readings}
          without={ASKED_ABOVE}
          onChange={(readings) => change({ readings: readings as Ride['after']['readings'] })}
        />
      </details>
      <OddReadings ride={ride} after={after} />
      <PaperLap onGiven={marks.mark} />
      {form ? (
        <MarkForm
          kind={form}
          onDone={(input) => {
            setForm(undefined);
            if (input) marks.mark(input);
          }}
        />
      ) : (
        <div className="console-marks">
          <Button onClick={() => setForm('temperature')}>Temp.</Button>
          <Button onClick={() => setForm('heart-rate')}>Heart</Button>
          <Button onClick={() => setForm('note')}>Note</Button>
        </div>
      )}
      <MarkList ride={ride} waiting={marks.waiting} />
      <div className="console-foot">
        <Button size="large" danger onClick={onAbort}>
          Abort
        </Button>
        <Button size="large" onClick={onRepeat}>
          Repeat
        </Button>
        <Button size="large" onClick={() => steps.go('running')}>
          Resume
        </Button>
        <Button
          size="large"
          type="primary"
          disabled={!saver.isReadable}
          loading={steps.isBusy || keep.isTaken}
          onClick={keep.take}
        >
          Keep it
        </Button>
      </div>
    </section>
  );
}

/** A time from paper: which gate, which way, at which minute and second. */
function PaperLap({ onGiven }: { readonly onGiven: ReturnType<typeof useMarks>['mark'] }) {
  const [gate, setGate] = useState<'finish' | 'lap' | 'start'>('start');
  const [direction, setDirection] = useState<1 | -1>(1);
  const [text, setText] = useState('');
  const seconds = readClock(text);
  return (
    <details>
      <summary>Enter a time from paper</summary>
      <form
        className="console-pair"
        onSubmit={(event) => {
          event.preventDefault();
          if (seconds === undefined) return;
          onGiven({ kind: gate, direction, elapsedS: seconds });
          setText('');
          setGate(gate === 'start' ? 'finish' : 'start');
        }}
      >
        <label>
          Gate
          <Select
            value={gate}
            onChange={setGate}
            options={[
              { value: 'start', label: 'Start' },
              { value: 'lap', label: 'Lap' },
              { value: 'finish', label: 'Finish' },
            ]}
          />
        </label>
        <label>
          Direction
          <Select
            value={direction}
            onChange={setDirection}
            options={[
              { value: 1, label: 'As drawn' },
              { value: -1, label: 'Reversed' },
            ]}
          />
        </label>
        <label>
          Minutes and seconds
          <Input
            value={text}
            placeholder="12:34.5"
            status={text !== '' && seconds === undefined ? 'error' : ''}
            onChange={({ target }) => setText(target.value)}
          />
        </label>
        <Button htmlType="submit" disabled={seconds === undefined} className="self-end">
          Add
        </Button>
      </form>
    </details>
  );
}

/** `1:02:03.4`, `62:03` or `75.5` in seconds; undefined for anything else. */
export function readClock(text: string): number | undefined {
  const match = /^(?:(\d+):)?(?:(\d{1,3}):)?(\d+(?:[.,]\d+)?)$/.exec(text.trim());
  if (!match) return undefined;
  const parts = text.trim().replace(',', '.').split(':').map(Number);
  return parts.reduce((sum, part) => sum * 60 + part, 0);
}
