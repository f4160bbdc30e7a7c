import { useEffect, useState } from 'react';
import { convertUnit, displayUnit, type UnitSystem } from '@ebrix/core/units';
import { MOST_FELT, phoneClock } from '../log/phone-log.js';
import type { CarriedMark, CarriedRide } from '../store/carried-ride.js';
import { MarkSheet, type SheetKind } from './MarkSheet.js';
import type { Live } from '../log/led-ride.js';
import type { PhoneApp } from './phone-app.js';
import { Photos } from './Photos.js';
import { canKeepAwake } from './signals.js';
import { asTyped, inUnits, useUnitSystem } from './units.js';
import { clockWords } from './words.js';

/** Ready: it begins when the bike moves. */
export function Armed({ ride, live }: { readonly ride: CarriedRide; readonly live: Live }) {
  return (
    <section className="along-form">
      <p className="along-what">It starts by itself when you ride off, or by the button.</p>
      {ride.planned.course.cautions && <p className="caution">{ride.planned.course.cautions}</p>}
      <p className="caution">
        Mount the phone so that you need not look at it, and do not read it while you ride: it sounds and shakes where
        something matters. What the road and the law ask goes first.
      </p>
      <Position live={live} />
      {ride.feels && <Felt live={live} />}
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
  const system = useUnitSystem();
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
  return <p className="quiet">Position to within {inUnits(Math.ceil(live.accuracyM), 'm', system)}.</p>;
}

/** Slower than this, nothing can be said of starts, a second. */
const LEAST_FELT = 10;

function Felt({ live: { felt } }: { readonly live: Live }) {
  if (!felt) return <p className="quiet">Nothing is felt yet: not every phone lets a page feel its movement.</p>;
  if (felt.lines >= MOST_FELT)
    return <p className="quiet">Pushes and braking were written down for the first six hours; positions go on.</p>;
  return (
    <p className={felt.perSecond < LEAST_FELT ? 'caution' : 'quiet'}>
      Feels {felt.perSecond} times a second{felt.perSecond < LEAST_FELT && ': too slow for starts and stops'}.
    </p>
  );
}

/** The run under way: one great number, the way, and marks by a tap. */
export function Running({
  app,
  ride,
  live,
}: {
  readonly app: PhoneApp;
  readonly ride: CarriedRide;
  readonly live: Live;
}) {
  const [sheet, setSheet] = useState<SheetKind>();
  const elapsed = useElapsed(ride);
  const { course, laps } = ride.planned;
  const riddenM = Math.max(0, live.distanceM - ride.startDistanceM);
  const wayM = course.lengthM === null ? null : (course.finishM ?? course.lengthM) + (laps - 1) * course.lengthM;
  const mark = (given: Parameters<PhoneApp['mark']>[1]): void => void app.mark(ride.id, given);
  const system = useUnitSystem();
  const hasSpeed = live.speedKmh !== undefined;
  return (
    <section className="along-form">
      <div className="along-big">
        <span className="figures">
          {hasSpeed ? convertUnit(live.speedKmh, 'km/h', displayUnit('km/h', system)).toFixed(0) : clockWords(elapsed)}
        </span>
        <span>{hasSpeed ? displayUnit('km/h', system) : ''}</span>
      </div>
      <dl className="along-grid">
        <div>
          <dt>Time</dt>
          <dd className="figures">{clockWords(elapsed)}</dd>
        </div>
        <div>
          <dt>Way</dt>
          <dd className="figures">{inUnits(riddenM / 1000, 'km', system, 2)}</dd>
        </div>
        {wayM !== null && (
          <div>
            <dt>To finish</dt>
            <dd className="figures">{inUnits(Math.max(0, wayM - riddenM) / 1000, 'km', system, 2)}</dd>
          </div>
        )}
        {live.next && (
          <div>
            <dt>{live.next.name}</dt>
            <dd className="figures">{inUnits(live.next.awayM, 'm', system)}</dd>
          </div>
        )}
      </dl>
      <Position live={live} />
      {ride.feels && <Felt live={live} />}
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
      <Photos app={app} ride={ride} />
    </section>
  );
}

function Newest({ app, ride }: { readonly app: PhoneApp; readonly ride: CarriedRide }) {
  const system = useUnitSystem();
  const newest = ride.marks.filter(({ isUndone }) => !isUndone).at(-1);
  if (!newest) return null;
  return (
    <p className="along-newest">
      {markWords(newest, ride, system)}{' '}
      <button type="button" className="along-plain" onClick={() => void app.undo(ride.id, newest.id)}>
        Undo
      </button>
    </p>
  );
}

function markWords(mark: CarriedMark, { startedAt }: CarriedRide, system: UnitSystem): string {
  const at = startedAt === null ? '' : `${clockWords((Date.parse(mark.at) - Date.parse(startedAt)) / 1000)} `;
  const unit = mark.kind === 'temperature' ? '°C' : mark.kind === 'voltage' ? 'V' : undefined;
  const value =
    mark.value === null
      ? ''
      : unit
        ? ` ${asTyped(mark.value, unit, system)} ${displayUnit(unit, system)}`
        : ` ${mark.value}`;
  const place = mark.place === null ? '' : ` ${mark.place}`;
  return `${at}${mark.kind.replace('-', ' ')}${place}${value}${mark.text ? ` ${mark.text}` : ''}`;
}

function useElapsed({ startedAt, finishedAt }: CarriedRide): number {
  const [now, setNow] = useState(() => Date.now());
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 500);
    return () => clearInterval(timer);
  }, []);
  return startedAt === null ? 0 : ((finishedAt ? Date.parse(finishedAt) : now) - Date.parse(startedAt)) / 1000;
}
