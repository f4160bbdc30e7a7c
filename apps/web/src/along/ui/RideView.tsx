import { useEffect, useState } from 'react';
import { isOver, type RideState } from '@ebrix/core/ride';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { phoneClock } from '../log/phone-log.js';
import type { CarriedMark, CarriedRide } from '../store/carried-ride.js';
import { MarkSheet, type SheetKind } from './MarkSheet.js';
import { NumberField } from './NumberField.js';
import type { Live, PhoneApp } from './phone-app.js';
import { Sensors } from './Sensors.js';
import { allowSound, canKeepAwake } from './signals.js';
import { clockWords, STATE_WORDS, stopWords, testWords } from './words.js';

interface Props {
  readonly app: PhoneApp;
  readonly ride: CarriedRide;
  readonly live: Live;
  readonly onClose: () => void;
}

/** One ride on the phone, from the first check to what becomes of it. */
export function RideView({ app, ride, live, onClose }: Props) {
  const [refusal, setRefusal] = useState<string>();
  const [asks, setAsks] = useState<'aborted' | 'repeated'>();
  const { planned, state } = ride;
  const go = async (to: RideState, reason?: string): Promise<void> => {
    allowSound();
    const refused = await app.step(ride.id, to, reason);
    setRefusal(refused?.message);
    if (!refused) setAsks(undefined);
    if (!refused && (to === 'kept' || to === 'repeated' || to === 'aborted')) {
      onClose();
      void app.send();
    }
  };
  const stops = app.stopsOf(ride.id);
  return (
    <main className="along" data-state={state}>
      <header className="along-head">
        <h1>{STATE_WORDS[state]}</h1>
        {(state === 'preparing' || isOver(state)) && (
          <button type="button" className="along-plain" onClick={onClose}>
            Back
          </button>
        )}
      </header>
      <p className="along-what">
        {planned.slot && <SetupMark letter={planned.slot.letter} />} {planned.setup.name}: {testWords(planned.testKind)}
        , {planned.course.name}
        {planned.direction === -1 && ', reversed'}
        {planned.level && `, level ${planned.level}`}
      </p>
      {stops.map((stop) => (
        <p key={stop.code} role="alert" className={stop.severity === 'stop' ? 'along-alarm' : 'caution'}>
          {stopWords(stop)}
        </p>
      ))}
      {refusal !== undefined && (
        <p className="problem" role="alert">
          {refusal}
        </p>
      )}
      {state === 'preparing' && <Preparing app={app} ride={ride} />}
      {state === 'armed' && (
        <>
          <Armed ride={ride} live={live} />
          <Sensors app={app} />
        </>
      )}
      {state === 'running' && <Running app={app} ride={ride} live={live} />}
      {state === 'finished' && <Finished app={app} ride={ride} />}
      {asks ? (
        <Reason what={asks} onDone={(reason) => (reason === undefined ? setAsks(undefined) : void go(asks, reason))} />
      ) : (
        <Foot state={state} onGo={(to) => void go(to)} onAsk={setAsks} />
      )}
    </main>
  );
}

function Foot({
  state,
  onGo,
  onAsk,
}: {
  readonly state: RideState;
  readonly onGo: (to: RideState) => void;
  readonly onAsk: (what: 'aborted' | 'repeated') => void;
}) {
  const next = { preparing: 'armed', armed: 'running', running: 'finished', finished: 'kept' }[state as string] as
    RideState | undefined;
  const label = { preparing: 'Ready', armed: 'Start', running: 'Finished', finished: 'Keep it' }[state as string];
  if (!next) return null;
  return (
    <div className="along-foot">
      <button type="button" className="along-stop" onClick={() => onAsk('aborted')}>
        Abort
      </button>
      {state === 'finished' && (
        <>
          <button type="button" onClick={() => onAsk('repeated')}>
            Repeat it
          </button>
          <button type="button" onClick={() => onGo('running')}>
            Go on riding
          </button>
        </>
      )}
      {state === 'armed' && (
        <button type="button" onClick={() => onGo('preparing')}>
          Not yet
        </button>
      )}
      <button type="button" className="along-main" onClick={() => onGo(next)}>
        {label}
      </button>
    </div>
  );
}

function Reason({
  what,
  onDone,
}: {
  readonly what: 'aborted' | 'repeated';
  readonly onDone: (reason?: string) => void;
}) {
  const [text, setText] = useState('');
  return (
    <form
      className="along-form"
      aria-label="Why"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.trim() !== '') onDone(text.trim());
      }}
    >
      <label>
        {what === 'aborted' ? 'Why is it broken off?' : 'Why is it ridden again?'}
        <input value={text} maxLength={400} onChange={({ target }) => setText(target.value)} />
      </label>
      <div className="along-pair">
        <button type="button" onClick={() => onDone()}>
          Back
        </button>
        <button type="submit" className="along-stop" disabled={text.trim() === ''}>
          {what === 'aborted' ? 'Abort it' : 'Repeat it'}
        </button>
      </div>
    </form>
  );
}

function Preparing({
  app,
  ride: { id, planned, preparation, riderId },
}: {
  readonly app: PhoneApp;
  readonly ride: CarriedRide;
}) {
  const change = (by: Partial<CarriedRide['preparation']>): void =>
    void app.change(id, { preparation: { ...preparation, ...by } });
  const tick = (key: 'isChargedAndRested' | 'isClearanceConfirmed' | 'isLevelSet', label: string) => (
    <label className="along-tick">
      <input type="checkbox" checked={preparation[key]} onChange={({ target }) => change({ [key]: target.checked })} />
      {label}
    </label>
  );
  const riders = app.state().outings.flatMap(({ bundle }) => bundle.riders);
  return (
    <section className="along-form">
      {planned.openClearance > 0 && (
        <p className="along-alarm" role="alert">
          Safety checks of this setup were still to do when it was taken along: {planned.openClearance}. Nobody rides
          before they are passed. Pass them in Ebrix and take the outing along again.
        </p>
      )}
      {planned.course.cautions && <p className="caution">{planned.course.cautions}</p>}
      {tick(
        'isChargedAndRested',
        preparation.isPartWay ? 'Half an hour of rest, no load' : 'Charged full, then half an hour of rest',
      )}
      {tick(
        'isClearanceConfirmed',
        'Checked again: nuts, torque arm, both brakes, cut-off, cables, battery strapped, helmet',
      )}
      {tick('isLevelSet', `Level ${planned.level || 'as programmed'} set, display shows no error`)}
      <div className="along-pair">
        <NumberField
          label={`Start voltage${planned.fullVoltageV === null ? '' : ` (full ${planned.fullVoltageV.toFixed(1)})`}`}
          unit="V"
          value={preparation.startVoltageV}
          onChange={(startVoltageV) => change({ startVoltageV })}
        />
        <NumberField
          label="Tyres"
          unit="bar"
          value={preparation.tyrePressureBar}
          onChange={(tyrePressureBar) => change({ tyrePressureBar })}
        />
        <NumberField
          label="Bars lit"
          unit=""
          value={preparation.gaugeStart}
          onChange={(gaugeStart) => change({ gaugeStart })}
        />
        <NumberField label="of" unit="" value={preparation.gaugeBars} onChange={(gaugeBars) => change({ gaugeBars })} />
        <NumberField
          label="Air"
          unit="°C"
          value={preparation.airTemperatureC}
          onChange={(airTemperatureC) => change({ airTemperatureC })}
        />
        <NumberField label="Wind" unit="m/s" value={preparation.windMps} onChange={(windMps) => change({ windMps })} />
      </div>
      {riders.length > 0 && (
        <label>
          Rider
          <select
            value={riderId ?? ''}
            onChange={({ target }) => void app.change(id, { riderId: target.value || null })}
          >
            <option value="">not said</option>
            {[...new Map(riders.map((rider) => [rider.id, rider.name]))].map(([rider, name]) => (
              <option key={rider} value={rider}>
                {name}
              </option>
            ))}
          </select>
        </label>
      )}
    </section>
  );
}

function Armed({ ride, live }: { readonly ride: CarriedRide; readonly live: Live }) {
  return (
    <section className="along-form">
      <p className="along-what">It starts by itself when you ride off, or by the button.</p>
      {ride.planned.course.cautions && <p className="caution">{ride.planned.course.cautions}</p>}
      <p className="caution">
        Mount the phone so that you need not look at it, and do not read it while you ride: it sounds and shakes where
        something matters. What the road and the law ask goes first.
      </p>
      <Position live={live} />
      {!canKeepAwake() && (
        <p className="caution">
          This browser cannot keep the screen on. When it goes dark, positions stop: set the phone so that it stays on.
        </p>
      )}
    </section>
  );
}

/** Positions come once a second; a gap this long is one. */
const SILENT_S = 10;
const TROUBLE = {
  'none-here': 'This browser gives no positions. Marks and readings work without them.',
  'not-allowed':
    'Positions are not allowed for this page. Allow them in the browser’s settings, or ride with marks alone.',
  'no-signal': 'No position yet: stand in the open.',
} as const;

function Position({ live }: { readonly live: Live }) {
  if (live.trouble) return <p className="caution">{TROUBLE[live.trouble]}</p>;
  if (live.accuracyM === undefined) return <p className="quiet">Looking for the position.</p>;
  const silentS = live.atMs === undefined ? 0 : (phoneClock() - live.atMs) / 1000;
  if (silentS > SILENT_S)
    return (
      <p className="caution" role="alert">
        No position for {10 * Math.floor(silentS / 10)} s: the log has a gap. Stop where it is safe and look whether the
        screen went dark or the sky is covered.
      </p>
    );
  return <p className="quiet">Position to within {Math.ceil(live.accuracyM)} m.</p>;
}

function Running({ app, ride, live }: { readonly app: PhoneApp; readonly ride: CarriedRide; readonly live: Live }) {
  const [sheet, setSheet] = useState<SheetKind>();
  const elapsed = useElapsed(ride);
  const { course, laps } = ride.planned;
  const wayM = course.lengthM === null ? null : (course.finishM ?? course.lengthM) + (laps - 1) * course.lengthM;
  const mark = (given: Parameters<PhoneApp['mark']>[1]): void => void app.mark(ride.id, given);
  const hasSpeed = live.speedKmh !== undefined;
  return (
    <section className="along-form">
      <div className="along-big">
        <span className="figures">{hasSpeed ? live.speedKmh.toFixed(0) : clockWords(elapsed)}</span>
        <span>{hasSpeed ? 'km/h' : ''}</span>
      </div>
      <dl className="along-grid">
        <div>
          <dt>Time</dt>
          <dd className="figures">{clockWords(elapsed)}</dd>
        </div>
        <div>
          <dt>Way</dt>
          <dd className="figures">{(live.distanceM / 1000).toFixed(2)} km</dd>
        </div>
        {wayM !== null && (
          <div>
            <dt>To finish</dt>
            <dd className="figures">{(Math.max(0, wayM - live.distanceM) / 1000).toFixed(2)} km</dd>
          </div>
        )}
        {live.next && (
          <div>
            <dt>{live.next.name}</dt>
            <dd className="figures">{Math.round(live.next.awayM)} m</dd>
          </div>
        )}
      </dl>
      <Position live={live} />
      {live.problem !== undefined && (
        <p className="along-alarm" role="alert">
          The log cannot be written: {live.problem}. Make room on the phone; what was measured waits in memory.
        </p>
      )}
      {sheet ? (
        <MarkSheet
          kind={sheet}
          onDone={(given) => {
            setSheet(undefined);
            if (given) mark(given);
          }}
        />
      ) : (
        <div className="along-marks">
          <button type="button" className="along-stop" onClick={() => mark({ kind: 'brake-trouble' })}>
            Brake!
          </button>
          <button type="button" onClick={() => mark({ kind: 'lap' })}>
            Gate
          </button>
          <button type="button" onClick={() => mark({ kind: 'event' })}>
            Event
          </button>
          <button type="button" onClick={() => setSheet('temperature')}>
            Temp.
          </button>
          <button type="button" onClick={() => setSheet('voltage')}>
            Volts
          </button>
          <button type="button" onClick={() => setSheet('gauge')}>
            Bars
          </button>
          <button type="button" onClick={() => setSheet('note')}>
            Note
          </button>
        </div>
      )}
      <Newest app={app} ride={ride} />
    </section>
  );
}

function Newest({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const newest = ride.marks.filter(({ isUndone }) => !isUndone).at(-1);
  if (!newest) return null;
  return (
    <p className="along-newest">
      {markWords(newest, ride)}{' '}
      <button type="button" className="along-plain" onClick={() => void app.undo(ride.id, newest.id)}>
        Undo
      </button>
    </p>
  );
}

function markWords(mark: CarriedMark, { startedAt }: CarriedRide): string {
  const at = startedAt === null ? '' : `${clockWords((Date.parse(mark.at) - Date.parse(startedAt)) / 1000)} `;
  const value = mark.value === null ? '' : ` ${mark.value}`;
  const place = mark.place === null ? '' : ` ${mark.place}`;
  return `${at}${mark.kind.replace('-', ' ')}${place}${value}${mark.text ? ` ${mark.text}` : ''}`;
}

function Finished({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const { after } = ride;
  const change = (by: Partial<CarriedRide['after']>): void => void app.change(ride.id, { after: { ...after, ...by } });
  const field = (
    key: 'displayMeanKmh' | 'endVoltageV' | 'gaugeEnd' | 'perceivedEffort' | 'tripDistanceKm' | 'wallEnergyWh',
    label: string,
    unit: string,
  ) => <NumberField label={label} unit={unit} value={after[key]} onChange={(value) => change({ [key]: value })} />;
  const seconds =
    ride.startedAt && ride.finishedAt ? (Date.parse(ride.finishedAt) - Date.parse(ride.startedAt)) / 1000 : 0;
  return (
    <section className="along-form">
      <p>
        Ran for <strong className="figures">{clockWords(seconds)}</strong>.
      </p>
      <div className="along-pair">
        {field('tripDistanceKm', 'Trip distance', 'km')}
        {field('displayMeanKmh', 'Average on display', 'km/h')}
        {field('gaugeEnd', 'Bars left', '')}
        {field('endVoltageV', 'Voltage after rest', 'V')}
        {field('wallEnergyWh', 'Socket energy to refill', 'Wh')}
        {field('perceivedEffort', 'Felt, 0 to 10', '')}
      </div>
      <label className="along-tick">
        <input
          type="checkbox"
          checked={after.isEmptied}
          onChange={({ target }) => change({ isEmptied: target.checked })}
        />
        Ridden until the pack was empty
      </label>
      <label>
        Notes
        <textarea
          rows={2}
          value={after.notes}
          maxLength={2000}
          onChange={({ target }) => change({ notes: target.value })}
        />
      </label>
    </section>
  );
}

function useElapsed({ startedAt, finishedAt }: CarriedRide): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  return startedAt === null ? 0 : ((finishedAt ? Date.parse(finishedAt) : now) - Date.parse(startedAt)) / 1000;
}
