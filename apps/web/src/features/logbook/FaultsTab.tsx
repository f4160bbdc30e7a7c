import { GROUP_BY, LIFE_PART_KEYS, LIFE_PARTS } from '@ebrix/core/life';
import { Segmented, Select } from 'antd';
import { Link, useSearchParams } from 'react-router';
import { LETTERS, type ReliabilityDto } from '@ebrix/contract';
import { useReliabilityQuery } from '../../entities/life/index.js';
import { CurveChart } from '../../shared/charts/index.js';
import { distanceAxis, plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Counted, Lives, Said } from './FaultParts.js';
import { RateRows } from './RateRows.js';
import { Wide } from '../../shared/ui/Wide.js';

/** Faults over all that was fitted: rates with intervals, pairs, trend, the curve over kilometres, lives of parts. */
export function FaultsTab() {
  const [params, setParams] = useSearchParams();
  const by = params.get('by') ?? 'kit';
  const part = params.get('part') ?? undefined;
  const query = useReliabilityQuery({ by, part });
  const set = (key: string, value: string | undefined): void =>
    setParams(
      (now) => {
        if (value) now.set(key, value);
        else now.delete(key);
        return now;
      },
      { replace: true },
    );
  return (
    <>
      <div className="entry-filters">
        <Segmented
          aria-label="By"
          options={Object.entries(GROUP_BY).map(([value, label]) => ({ value, label }))}
          value={by}
          onChange={(value) => set('by', value)}
        />
        <Select
          aria-label="Which part"
          allowClear
          placeholder="All parts"
          value={part}
          options={LIFE_PART_KEYS.map((value) => ({ value, label: LIFE_PARTS[value].label }))}
          onChange={(value: string | undefined) => set('part', value)}
        />
      </div>
      <QueryView query={query} keepPrevious>
        {(found) => <Found found={found} />}
      </QueryView>
    </>
  );
}

function Found({ found }: { readonly found: ReliabilityDto }) {
  const axis = distanceAxis(useUnits());
  const { all, groups, comparisons, trend, parts, curves, lives, said, conversions } = found;
  if (!all)
    return (
      <div className="teach">
        <p>
          Faults are counted over kilometres. So far no fitted kit has any: rides add theirs, and entries say what the
          odometer shows.
        </p>
        <Link to="/logbook/entries">To the entries</Link>
      </div>
    );
  // The upper end of a span from one bike runs away; the shade is cut off where it would squash the curves.
  const highest = 3 * Math.max(...curves.flatMap(({ points }) => points.map(({ mean }) => mean)), 0);
  const lettered = groups.slice(0, LETTERS.length).map((group, k) => ({ group, letter: LETTERS[k]! }));
  return (
    <>
      <section aria-label="Answer" className="mt-12">
        <p className="use-answer">
          {all.conversions} {all.conversions === 1 ? 'conversion' : 'conversions'}: {all.words}
        </p>
        {trend && <p>{trend.words}</p>}
      </section>
      <section className="section" aria-label="By group">
        <h2 className="mb-8">In 1 000 km</h2>
        <RateRows rows={lettered.map(({ group, letter }) => ({ rate: group, letter }))} />
        {groups.length > LETTERS.length && (
          <RateRows rows={groups.slice(LETTERS.length).map((rate) => ({ rate, letter: undefined }))} />
        )}
        <Pairs comparisons={comparisons} />
      </section>
      {curves.some(({ points }) => points.length > 1) && (
        <section className="section" aria-label="Over kilometres">
          <CurveChart
            title="Faults of one bike so far, on average"
            xLabel={`${axis.unit} since the kit was fitted`}
            yLabel="faults"
            curves={curves.slice(0, LETTERS.length).map(({ label, points }, k) => ({
              letter: LETTERS[k]!,
              label,
              isStep: true,
              end: axis.of(
                Math.max(
                  ...conversions
                    .filter(({ groups: own, isKept }) => isKept && Object.values(own).includes(label))
                    .map(({ km }) => km),
                  points.at(-1)?.at ?? 0,
                ),
              ),
              points: [
                { x: 0, y: 0, band: [0, 0] as const },
                ...points.map(({ at, mean, interval }) => ({
                  x: axis.of(at),
                  y: mean,
                  band: [interval[0], Math.min(interval[1], highest)] as const,
                })),
              ],
            }))}
          />
          <p className="quiet">
            The shade is where the average lies, 95 in 100; steep early and flat later is trouble that settles, the
            other way round is something wearing out.
          </p>
        </section>
      )}
      <section className="section" aria-label="By part">
        <h2 className="mb-8">Part by part</h2>
        {parts.length === 0 ? (
          <p className="quiet">No fault was written down.</p>
        ) : (
          <Wide label="Part by part">
            <table className="rows">
              <thead>
                <tr>
                  <th scope="col">Part</th>
                  <th scope="col" className="number">
                    Faults
                  </th>
                  <th scope="col" className="number">
                    In 1 000 km
                  </th>
                  <th scope="col">Over the kilometres</th>
                </tr>
              </thead>
              <tbody>
                {parts.map(({ part, faults, rate, interval95, trend: own }) => (
                  <tr key={part}>
                    <th scope="row" className="pair">
                      {LIFE_PARTS[part].label}
                    </th>
                    <td className="number">{faults}</td>
                    <td className="number">
                      {plain(rate, 2)}{' '}
                      <span className="quiet">
                        ({plain(interval95[0], 2)} to {plain(interval95[1], 2)})
                      </span>
                    </td>
                    <td className="rate-words">{own.words}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </Wide>
        )}
      </section>
      <Lives lives={lives} />
      <Said said={said} />
      <Counted conversions={conversions} />
    </>
  );
}

/** Pairs that are told apart, and behind a click those that are not. */
function Pairs({ comparisons }: { readonly comparisons: ReliabilityDto['comparisons'] }) {
  const told = comparisons.filter(({ verdict }) => verdict !== 'open');
  const open = comparisons.filter(({ verdict }) => verdict === 'open');
  const list = (pairs: typeof comparisons) => (
    <ul className="left-out">
      {pairs.map(({ a, b, words }) => (
        <li key={`${a}|${b}`}>{words}</li>
      ))}
    </ul>
  );
  return (
    <>
      {told.length > 0 && list(told)}
      {open.length > 0 && (
        <details className="mt-8">
          <summary>
            {open.length === 1 ? 'One pair' : `${open.length} pairs`} of which it cannot be told which has fewer
          </summary>
          {list(open)}
        </details>
      )}
    </>
  );
}
