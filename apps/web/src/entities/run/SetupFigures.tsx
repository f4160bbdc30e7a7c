import { repeatsOf } from '@ebrix/core/planning';
import { fitPeukert } from '@ebrix/core/statistics';
import { TEST_KINDS } from '@ebrix/core/analysis';
import {
  DECIDING_FIGURES,
  figureOverTime,
  figureVocabulary,
  pairSentence,
  type DecidingFigureKey,
  type GroupOfRuns,
} from '@ebrix/core/compare';
import { EFFORTS } from '@ebrix/core/ride-model';
import type { UnitName } from '@ebrix/core/units';
import { Link } from 'react-router';
import type { RepeatedFigure } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, formatQuantity } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useRepeatedFiguresQuery } from './api.js';
import { LearnedGauge } from './LearnedGauge.js';

interface Props {
  readonly setupId: string;
}

/** All figures of a setup with how repeatable each is between its runs: what further runs can and cannot show. */
export function SetupFigures({ setupId }: Props) {
  const query = useRepeatedFiguresQuery(setupId);
  return (
    <QueryView query={query}>
      {(figures) =>
        figures.length === 0 ? (
          <p className="quiet">
            No counted run of this setup yet. Ride one, or import a log, and its figures appear here, with their
            repeatability.
          </p>
        ) : (
          <>
            <p className="quiet max-w-760 mb-10">
              Counted runs only, each course and way of riding separately. 95 in 100 pairs of like runs differ by less
              than “Two runs differ by”; the last columns give the difference between two setups that would be spotted 8
              times in 10.
            </p>
            {groupsOf(figures).map(({ title, courseId, rows }) => (
              <Group key={title} title={title} courseId={courseId} rows={rows} />
            ))}
            <LearnedGauge setupId={setupId} />
            <Peukert figures={figures} />
          </>
        )
      }
    </QueryView>
  );
}

interface GroupOfFigures {
  readonly title: string;
  readonly courseId: string;
  readonly rows: readonly RepeatedFigure[];
}

function groupsOf(figures: readonly RepeatedFigure[]): GroupOfFigures[] {
  const groups = new Map<string, { courseId: string; rows: RepeatedFigure[] }>();
  for (const figure of figures) {
    const way = figure.way === null ? '' : `, ${EFFORTS[figure.way].label.toLowerCase()}`;
    const title = `${TEST_KINDS[figure.testKind].label}, ${figure.course.name}${way}`;
    const group = groups.get(title) ?? { courseId: figure.course.id, rows: [] };
    group.rows.push(figure);
    groups.set(title, group);
  }
  return [...groups].map(([title, group]) => ({ title, ...group }));
}

function Group({ title, courseId, rows }: GroupOfFigures) {
  const main = rows.find(({ key, testKind }) => key === TEST_KINDS[testKind].headline);
  return (
    <div className="scroll-x mb-18">
      <table className="rows">
        <caption className="align-left weight-650">
          <Link to={`/courses/${courseId}`}>{title}</Link>
        </caption>
        <thead>
          <tr>
            <th scope="col" className="w-30-pct">
              Figure
            </th>
            <th scope="col" className="number w-5-pct">
              Runs
            </th>
            <th scope="col" className="number w-17-pct">
              Mean, 95 %
            </th>
            <th scope="col" className="number w-15-pct">
              Between runs (sd)
            </th>
            <th scope="col" className="number">
              Two runs differ by
            </th>
            <th scope="col" className="number">
              Spotted with 3 each
            </th>
            <th scope="col" className="number">
              with 5
            </th>
            <th scope="col" className="number">
              with 10
            </th>
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <Row key={row.key} row={row} />
          ))}
        </tbody>
      </table>
      {main && main.runs.length > 2 && <OverTime row={main} />}
    </div>
  );
}

const SMALLEST_SHARE = 0.05;

/** The main figure of the test by month and temperature, and whether this year repeats the last. */
function OverTime({ row }: { readonly row: RepeatedFigure }) {
  const system = useUnits();
  const known = Object.hasOwn(DECIDING_FIGURES, row.key) ? DECIDING_FIGURES[row.key as DecidingFigureKey] : undefined;
  const words = figureVocabulary(row.key, row.label.toLowerCase(), known?.better ?? 'less', system);
  const { byMonth, byTemperature, years } = figureOverTime(row.runs, {
    words,
    unit: row.unit,
    smallestShare: SMALLEST_SHARE,
  });
  const lines = (title: string, groups: readonly GroupOfRuns[]) => (
    <table className="rows mb-10 max-w-640">
      <caption className="align-left quiet">{title}</caption>
      <tbody>
        {groups.map(({ name, runs, outings, mean, interval }) => (
          <tr key={name}>
            <th scope="row">{name}</th>
            <td className="number">
              {runs} {runs === 1 ? 'run' : 'runs'}, {outings} {outings === 1 ? 'outing' : 'outings'}
            </td>
            <td className="number">
              {interval
                ? formatFigure(mean, (interval.upper - interval.lower) / 2, row.unit, system)
                : formatQuantity(mean, row.unit, system)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
  return (
    <details className="mt-6">
      <summary className="quiet">{row.label} over time and temperature</summary>
      {years.map(({ year, before, pair }) => (
        <p key={year} className="mt-6">
          {pair.verdict === 'no-difference-that-matters'
            ? `${year} repeats ${before}: no difference that matters.`
            : pairSentence(pair, {
                words,
                smallestDifference: { kind: 'relative', value: SMALLEST_SHARE },
                unit: row.unit,
                system,
              })}
        </p>
      ))}
      {lines('By month', byMonth)}
      {byTemperature.length > 0 && lines('By air temperature', byTemperature)}
    </details>
  );
}

const halfOf = ([lower, upper]: readonly [number, number]): number => (upper - lower) / 2;

function Row({ row }: { readonly row: RepeatedFigure }) {
  const system = useUnits();
  const repeats = repeatsOf(row.runs.map(({ value }) => value));
  const [only] = row.runs;
  // A difference of temperatures is never shifted by the zero of its scale.
  const unit: UnitName = row.unit === '°C' ? 'K' : row.unit;
  const size = (value: number): string => formatQuantity(value, unit, system, 2);
  return (
    <tr>
      <td>
        {row.label}
        {row.revisionNumbers.length > 1 && (
          <span className="quiet">, revisions {row.revisionNumbers.join(', ')} together</span>
        )}
      </td>
      <td className="number">{row.runs.length}</td>
      {repeats ? (
        <>
          <td className="number">{formatFigure(repeats.mean, repeats.plusMinus, row.unit, system)}</td>
          <td className="number">
            {size(repeats.sd)}
            {repeats.mean > 0 && <span className="quiet"> {((100 * repeats.sd) / repeats.mean).toPrecision(2)} %</span>}
            <div className="quiet text-12-5">
              {size(repeats.sdInterval.lower)} to {size(repeats.sdInterval.upper)}
            </div>
          </td>
          <td className="number">{size(repeats.repeatability)}</td>
          {repeats.detectable.map(({ runs, difference }) => (
            <td key={runs} className="number">
              {size(difference)}
            </td>
          ))}
        </>
      ) : (
        <>
          <td className="number">{formatFigure(only!.value, halfOf(only!.interval95), row.unit, system)}</td>
          <td colSpan={5} className="quiet">
            {row.runs.length === 1 ? 'one run can’t show repeatability' : 'all runs were identical'}
          </td>
        </>
      )}
    </tr>
  );
}

/** Peukert exponent of a pack from its discharges at different currents: lead-acid above all. */
function Peukert({ figures }: { readonly figures: readonly RepeatedFigure[] }) {
  const of = (key: string): RepeatedFigure['runs'] => figures.find((figure) => figure.key === key)?.runs ?? [];
  const capacities = new Map(of('capacity').map(({ id, value }) => [id, value]));
  const discharges = of('meanDischargeCurrent').flatMap(({ id, value }) => {
    const capacityAh = capacities.get(id);
    return capacityAh === undefined ? [] : [{ currentA: value, capacityAh }];
  });
  if (discharges.length < 3) return null;
  const fit = fitPeukert(discharges);
  return (
    <p>
      Peukert exponent:{' '}
      {fit.ok
        ? `${fit.value.exponent.toFixed(2)} (${fit.value.lower.toFixed(2)} to ${fit.value.upper.toFixed(2)}), from ${discharges.length} discharges at different currents`
        : 'the discharges were all at the same current, so it cannot be worked out'}
      .
    </p>
  );
}
