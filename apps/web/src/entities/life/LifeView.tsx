import { summariseRatings } from '@ebrix/core/experience';
import { FOLLOW_UP_KEYS, FOLLOW_UP_SCALES, LIFE_PARTS, yearOnYear, type LifeKind } from '@ebrix/core/life';
import type { UnitSystem } from '@ebrix/core/units';
import { Button } from 'antd';
import { useState } from 'react';
import type { Life, Subject } from '@ebrix/contract';
import { CurveChart } from '../../shared/charts/index.js';
import {
  distanceAxis,
  formatDay,
  formatMoney,
  formatQuantity,
  plain,
  showQuantity,
} from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { FigureCells, type FigureCell } from '../../shared/ui/FigureCells.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useRatingsOfSetupQuery } from '../experience/index.js';
import { useRepeatedFiguresQuery } from '../run/index.js';
import { useGetLifeQuery } from './api.js';
import { DueRows } from './DueRows.js';
import { EntryForm } from './EntryForm.js';
import { EntryList } from './EntryList.js';
import { Wide } from '../../shared/ui/Wide.js';

/** One bike in use, whole: what was ridden, what failed, what wears, what is due, and all that was written down. */
export function LifeView({ subject }: { readonly subject: Subject }) {
  const query = useGetLifeQuery(subject);
  return <QueryView query={query}>{(life) => <Shown life={life} />}</QueryView>;
}

function Shown({ life }: { readonly life: Life }) {
  const [asked, setAsked] = useState<{ kind: LifeKind; stage?: string; n: number }>({ kind: 'odometer', n: 0 });
  const choices = [{ subject: life.subject, name: life.name }];
  const isRidden = life.km > 0;
  return (
    <div className="life">
      <Sums life={life} />
      {life.problems.length > 0 && (
        <ul className="forecast-warnings" aria-label="Odometer">
          {life.problems.map(({ day, code, message }) => (
            <li key={day + code}>{message}</li>
          ))}
        </ul>
      )}
      <section className="section" aria-label="Write it down">
        <h2 className="mb-8">Write it down</h2>
        <EntryForm
          key={`${asked.kind}${asked.n}`}
          choices={choices}
          kind={asked.kind}
          {...(asked.stage !== undefined && { stage: asked.stage })}
        />
      </section>
      {isRidden && life.takenOff === null && (
        <section className="section" aria-label="Service">
          <h2 className="mb-8">Service</h2>
          {life.due.length > 0 ? (
            <DueRows subject={life.subject} due={life.due} />
          ) : (
            <p className="quiet">What is due is worked out once its fitting, or a first service, is written down.</p>
          )}
        </section>
      )}
      <Wear life={life} />
      <Pack life={life} />
      <FollowUps life={life} onAsk={(stage) => setAsked({ kind: 'follow-up', stage, n: asked.n + 1 })} />
      {life.subject.kind === 'setup' && <Repeats setupId={life.subject.id} />}
      {life.points.length > 2 && <Distance life={life} />}
      <section className="section" aria-label="What was written down">
        <h2 className="mb-8">What was written down</h2>
        <EntryList subject={life.subject} choices={choices} />
      </section>
    </div>
  );
}

function Sums({ life }: { readonly life: Life }) {
  const system = useUnits();
  const cells: FigureCell[] = [
    {
      label: life.subject.kind === 'bike' ? 'Ridden' : 'Ridden with this kit',
      value: formatQuantity(life.km, 'km', system, 4),
      note:
        life.fittedOn === null
          ? 'no entry and no ride yet'
          : `since ${formatDay(life.fittedOn)}${life.takenOff === null ? '' : `, taken off ${formatDay(life.takenOff)}`}`,
    },
    {
      label: 'Lately',
      value: life.kmPerWeek === null ? '–' : `${formatQuantity(life.kmPerWeek, 'km', system, 2)} a week`,
      note: life.kmPerWeek === null ? 'needs entries a week apart' : 'over the last eight weeks, or since fitting',
    },
    {
      label: 'Faults',
      value: String(life.faults.length),
      note: life.rate === null ? 'needs kilometres' : life.rate.words,
    },
    {
      label: 'From the socket',
      value: life.socket === null ? '–' : `${plain(life.socket.kWhPer100Km, 3)} kWh for 100 km`,
      note: socketNote(life.socket, system),
    },
  ];
  if (life.costs.length > 0)
    cells.push({ label: 'Spent since', value: life.costs.map(formatMoney).join(' + '), note: 'as entries name it' });
  return <FigureCells label="Life in figures" cells={cells} />;
}

function socketNote(socket: Life['socket'], system: UnitSystem): string {
  if (socket === null) return 'needs two full charges with a meter';
  const { interval95, km, oddSpans } = socket;
  const way = formatQuantity(km, 'km', system, 3);
  const known =
    interval95 === null
      ? `over ${way}; three spans from full to full make an interval`
      : `${plain(interval95[0], 3)} to ${plain(interval95[1], 3)}, over ${way}`;
  if (oddSpans === 0) return known;
  return `${known}; ${oddSpans === 1 ? 'one span' : `${oddSpans} spans`} above 12 kWh for 100 km left out: look at these charges and the odometer`;
}

function Wear({ life: { wear } }: { readonly life: Life }) {
  const system = useUnits();
  if (wear.length === 0) return null;
  return (
    <section className="section" aria-label="Wear">
      <h2 className="mb-8">Wear</h2>
      <Wide label="Wear of parts">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Part</th>
              <th scope="col" className="number">
                Last reading
              </th>
              <th scope="col" className="number">
                Goes at
              </th>
              <th scope="col">Left</th>
              <th scope="col" className="number">
                Readings
              </th>
            </tr>
          </thead>
          <tbody>
            {wear.map(({ part, value, limit, unit, kmLeft, interval95: [low, high], per1000Km, readings }) => (
              <tr key={part}>
                <th scope="row" className="pair">
                  {LIFE_PARTS[part].label}
                </th>
                <td className="number">
                  {plain(value, 3)} {unit}
                </td>
                <td className="number">
                  {plain(limit, 3)} {unit}
                </td>
                <td>
                  {kmLeft === 0 ? (
                    <strong>to be replaced now</strong>
                  ) : per1000Km === null ? (
                    'it was on the bike before: a second reading tells how fast it wears'
                  ) : kmLeft === null ? (
                    'no wear to be seen'
                  ) : (
                    <>
                      <span className="figures">{formatQuantity(kmLeft, 'km', system, 2)}</span>{' '}
                      <span className="quiet">
                        ({showQuantity(low, 'km', system, 2)}{' '}
                        {high === null ? 'or more' : `to ${showQuantity(high, 'km', system, 2)}`})
                      </span>
                    </>
                  )}
                </td>
                <td className="number">{readings}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

function Pack({ life: { cycles, capacity, ageing, resistance, km } }: { readonly life: Life }) {
  if (cycles === null || km === 0) return null;
  return (
    <section className="section" aria-label="Pack">
      <h2 className="mb-8">Pack</h2>
      <p>
        Some {Math.round(cycles)} full cycles by what was ridden.{' '}
        {ageing?.words ??
          (capacity.length === 0
            ? 'Whether it fades is told by battery tests, or by rides from full to cut-off.'
            : 'One reading tells nothing of fading; repeat it later.')}
        {resistance && ` ${resistance.words}`}
      </p>
      {capacity.length > 1 && (
        <CurveChart
          title="What the pack gave"
          xLabel="full cycles"
          yLabel="% of its label"
          from={50}
          curves={(['test', 'ride'] as const).map((kind, k) => ({
            letter: k === 0 ? 'A' : 'B',
            label: kind === 'test' ? 'battery tests' : 'rides to cut-off',
            isDots: true,
            points: capacity.filter((one) => one.kind === kind).map(({ cycles: x, share }) => ({ x, y: 100 * share })),
          }))}
        />
      )}
    </section>
  );
}

/** What riders had said after their first rides, where a scale of then asks the same. */
function useFirstImpression({ kind, id }: Subject): ReadonlyMap<string, number> | undefined {
  const { currentData } = useRatingsOfSetupQuery(id, { skip: kind !== 'setup' });
  if (!currentData || currentData.length === 0) return undefined;
  const felt = summariseRatings(currentData).map(({ key, median }): [string, number] => [key, median]);
  return felt.length === 0 ? undefined : new Map(felt);
}

const STATE_WORDS = { answered: 'answered', due: 'due now', later: 'later' } as const;
function FollowUps({ life, onAsk }: { readonly life: Life; readonly onAsk: (stage: string) => void }) {
  const { followUps, answers } = life;
  const first = useFirstImpression(life.subject);
  if (followUps.length === 0 && answers.length === 0) return null;
  const asked = [...answers].sort((a, b) => a.day.localeCompare(b.day));
  return (
    <section className="section" aria-label="Follow-ups">
      <h2 className="mb-8">Follow-ups</h2>
      <ul className="follow-ups">
        {followUps.map(({ stage, state, day }) => (
          <li key={stage.id}>
            <strong>{stage.label}</strong>
            <span className={state === 'due' ? 'due-state of-due' : 'quiet'}>
              {STATE_WORDS[state]}
              {state === 'later' && day !== null && `, about ${formatDay(day)}`}
            </span>
            {state === 'due' && (
              <Button size="small" aria-label={`Ask: ${stage.label}`} onClick={() => onAsk(stage.id)}>
                Ask
              </Button>
            )}
          </li>
        ))}
      </ul>
      {asked.length > 0 && (
        <Wide label="Answers">
          <table className="rows">
            <caption className="quiet">From 1, the worse, to 5, the better</caption>
            <thead>
              <tr>
                <th scope="col">Scale</th>
                {first && (
                  <th scope="col" className="number">
                    First rides
                  </th>
                )}
                {asked.map(({ day, stage }) => (
                  <th key={day + stage} scope="col" className="number">
                    {formatDay(day)}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {FOLLOW_UP_KEYS.map((key) => (
                <tr key={key}>
                  <th scope="row" className="pair">
                    {FOLLOW_UP_SCALES[key].label}
                  </th>
                  {first && <td className="number">{first.get(key) ?? '–'}</td>}
                  {asked.map(({ day, stage, answers: said }) => (
                    <td key={day + stage} className="number">
                      {said[key] ?? '–'}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
          {asked
            .filter(({ words, changed }) => words !== '' || changed !== '')
            .map(({ day, words, changed, by }) => (
              <p key={day} className="mt-6">
                <span className="quiet">
                  {formatDay(day)}
                  {by && `, ${by}`}:
                </span>{' '}
                {words}
                {changed && <span className="quiet"> Changed: {changed}</span>}
              </p>
            ))}
        </Wide>
      )}
    </section>
  );
}

const REPEAT_WORDS = {
  'as-before': 'as the year before, within a tenth',
  more: 'more than the year before',
  less: 'less than the year before',
  'cannot-tell': 'cannot be told from the year before yet',
} as const;
/** Whether this year's rides repeat last year's: what the same ride took, course by course and way by way. */
function Repeats({ setupId }: { readonly setupId: string }) {
  const { currentData } = useRepeatedFiguresQuery(setupId);
  const found = (currentData ?? []).flatMap(({ key, label, testKind, course, way, runs }) => {
    const years = key === 'netConsumption' ? yearOnYear(runs) : undefined;
    return years ? [{ name: `${label}, ${course.name}${way === null ? '' : `, ${way}`}`, testKind, years }] : [];
  });
  if (found.length === 0) return null;
  return (
    <section className="section" aria-label="This year and last year">
      <h2 className="mb-8">This year and last year</h2>
      <ul className="left-out">
        {found.map(({ name, testKind, years: { before, after, ratio, interval95, verdict } }) => (
          <li key={name + testKind}>
            {name}: {after} took {plain(ratio, 3)} times what {before} took ({plain(interval95[0], 3)} to{' '}
            {plain(interval95[1], 3)}): <strong>{REPEAT_WORDS[verdict]}</strong>.
          </li>
        ))}
      </ul>
    </section>
  );
}

const DAY_MS = 86_400_000;
function Distance({ life: { points } }: { readonly life: Life }) {
  const axis = distanceAxis(useUnits());
  return (
    <section className="section" aria-label="Distance">
      <CurveChart
        title="Distance"
        xLabel="day"
        yLabel={axis.unit}
        from={axis.of(Math.min(...points.map(({ km }) => km)))}
        xText={(x) => formatDay(new Date(x * DAY_MS).toISOString().slice(0, 10))}
        curves={[
          {
            letter: 'A',
            label: 'distance',
            points: points.map(({ day, km }) => ({ x: Date.parse(day) / DAY_MS, y: axis.of(km) })),
          },
        ]}
      />
    </section>
  );
}
