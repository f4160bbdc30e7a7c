import { Button } from 'antd';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Live, Ride } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatClock, formatLength } from '../../shared/format/format-quantity.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import type { Steps } from './steps.js';
import { LoggerLine } from './LoggerLine.js';
import { MarkForm, type MarkFormKind } from './MarkForm.js';
import { MarkList } from './MarkList.js';
import { nextTimingGate } from './next-timing-gate.js';
import { reading } from './ride-labels.js';
import { useElapsed, type useMarks } from './use-ride.js';

interface Props {
  readonly ride: Ride;
  readonly live: Live | undefined;
  readonly marks: ReturnType<typeof useMarks>;
  readonly steps: Steps;
  readonly onAbort: () => void;
}

const LABELS: Partial<Record<Live['values'][number]['name'], string>> = {
  power: 'Power',
  motorTemperature: 'Motor',
  voltage: 'Pack',
  current: 'Current',
  batteryTemperature: 'Battery',
  controllerTemperature: 'Controller',
  cadence: 'Cadence',
  heartRate: 'Heart',
  assistLevel: 'Level',
  stateOfCharge: 'Charge',
};

const GATE_LABELS = { start: 'Start gate', lap: 'Lap gate', finish: 'Finish gate' } as const;

/** The run under way: one great number, four others, and marks by a tap or a key. */
export function Running({ ride, live, marks, steps, onAbort }: Props) {
  const system = useUnits();
  const clockS = useElapsed(ride);
  const [form, setForm] = useState<MarkFormKind>();
  const [hasMore, setMore] = useState(false);
  const { mark } = marks;
  const gate = nextTimingGate(ride.marks, ride);
  // A lap that was missed, or one more than planned.
  const other = gate.kind === 'lap' ? 'finish' : 'lap';
  useShortcut('space', 'Mark an event', () => mark({ kind: 'event' }));
  useShortcut('g', 'Mark a gate', () => mark(gate));
  useShortcut('t', 'Note a temperature', () => setForm('temperature'));
  useShortcut('f', 'Finished', () => steps.go('finished'));
  useHotkeys('0,1,2,3,4,5,6,7,8,9', (event) => mark({ kind: 'level', value: Number(event.key) }), { useKey: true });
  const speed = live?.values.find(({ name }) => name === 'speed');
  const elapsed = live?.elapsedS ?? clockS;
  const wayM =
    ride.course.lengthM === null
      ? null
      : (ride.course.finishM ?? ride.course.lengthM) + (ride.laps - 1) * ride.course.lengthM;
  const toFinish = live?.distanceM != null && wayM !== null ? Math.max(0, wayM - live.distanceM) : null;
  const next =
    live?.distanceM == null
      ? undefined
      : ride.course.temperatureStopsM.find((at) => at > live.distanceM! && at - live.distanceM! < 150);
  // An even number of cells: no hole in the grid.
  const known = (live?.values ?? []).filter(({ name }) => name in LABELS);
  const fixed = (speed ? 1 : 0) + (toFinish !== null ? 1 : 0);
  const others = known.slice(0, (fixed + Math.min(3, known.length)) % 2 === 0 ? 3 : 4);
  const big = speed ? reading(speed.value, speed.unit, system) : { value: formatClock(elapsed ?? 0), unit: '' };
  return (
    <section className="console-body">
      <div className="console-big" aria-live="off">
        <span className="figures">{big.value}</span>
        <span>{big.unit}</span>
      </div>
      <dl className="console-grid">
        {speed && (
          <div>
            <dt>Time</dt>
            <dd className="figures">{formatClock(elapsed ?? 0)}</dd>
          </div>
        )}
        {others.map(({ name, value, unit }) => {
          const shown = reading(value, unit, system);
          return (
            <div key={name}>
              <dt>{LABELS[name]}</dt>
              <dd className="figures">
                {shown.value} {shown.unit}
              </dd>
            </div>
          );
        })}
        {toFinish !== null && (
          <div>
            <dt>To finish</dt>
            <dd className="figures">{formatLength(toFinish, system)}</dd>
          </div>
        )}
      </dl>
      {next !== undefined && (
        <p className="caution">Temperature stop in {formatLength(Math.round(next - live!.distanceM!), system)}.</p>
      )}
      {live?.silentSensors.map(({ name, silentS }) => (
        <p key={name} className="caution" role="alert">
          {LABELS[name]}: no reading for over {30 * Math.floor(silentS / 30)} s. Stop and check the sensor; its limit
          cannot be watched.
        </p>
      ))}
      <LoggerLine ride={ride} live={live} />
      {form ? (
        <MarkForm
          kind={form}
          onDone={(input) => {
            setForm(undefined);
            if (input) mark(input);
          }}
        />
      ) : (
        <div className="console-marks">
          <Button onClick={() => mark(gate)}>{GATE_LABELS[gate.kind]}</Button>
          <Button onClick={() => setForm('temperature')}>Temp.</Button>
          <Button onClick={() => setForm('note')}>Note</Button>
          <Button onClick={() => mark({ kind: 'event' })}>Event</Button>
          <Button aria-expanded={hasMore} onClick={() => setMore(!hasMore)}>
            {hasMore ? 'Less' : 'More'}
          </Button>
          <Button danger onClick={() => mark({ kind: 'brake-trouble' })}>
            Brake!
          </Button>
          {hasMore && (
            <>
              <Button onClick={() => mark({ ...gate, kind: other })}>{GATE_LABELS[other]}</Button>
              <Button onClick={() => setForm('gauge')}>Bars</Button>
              <Button onClick={() => setForm('heart-rate')}>Heart</Button>
              <Button onClick={() => setForm('voltage')}>Volts</Button>
              <Button onClick={() => setForm('level')}>Level</Button>
            </>
          )}
        </div>
      )}
      <MarkList ride={ride} waiting={marks.waiting} newest={1} />
      <div className="console-foot">
        <Button size="large" danger onClick={onAbort}>
          Abort
        </Button>
        <Button size="large" type="primary" loading={steps.isBusy} onClick={() => steps.go('finished')}>
          Finished
        </Button>
      </div>
    </section>
  );
}
