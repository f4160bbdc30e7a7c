import { FOLLOW_UP_KEYS, FOLLOW_UP_SCALES, LIFE_PARTS } from '@ebrix/core/life';
import { Link } from 'react-router';
import { LETTERS, type ReliabilityDto } from '@ebrix/contract';
import { useLogbookSettingsQuery } from '../../entities/life/index.js';
import { CurveChart } from '../../shared/charts/index.js';
import { distanceAxis, formatQuantity, plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { Wide } from '../../shared/ui/Wide.js';

/** How long parts lasted, those still running cut off. */
export function Lives({ lives }: { readonly lives: ReliabilityDto['lives'] }) {
  const axis = distanceAxis(useUnits());
  if (lives.length === 0) return null;
  return (
    <section className="section" aria-label="Lives of parts">
      <h2 className="mb-8">How long parts last</h2>
      {lives.map(({ part, words }) => (
        <p key={part}>
          <strong>{LIFE_PARTS[part].label}:</strong> {words}
        </p>
      ))}
      {lives.some(({ points }) => points.length > 2) && (
        <CurveChart
          title="Still running"
          xLabel={`${axis.unit} since it was new`}
          yLabel="% of them"
          to={100}
          curves={lives.slice(0, LETTERS.length).map(({ part, points }, k) => ({
            letter: LETTERS[k]!,
            label: LIFE_PARTS[part].label,
            isStep: true,
            points: [
              { x: 0, y: 100, band: [100, 100] as const },
              ...points.map(({ at, surviving, interval }) => ({
                x: axis.of(at),
                y: 100 * surviving,
                band: [100 * interval[0], 100 * interval[1]] as const,
              })),
            ],
          }))}
        />
      )}
      {lives.length > 1 && (
        <p>
          {lives.slice(0, LETTERS.length).map(({ part }, k) => (
            <span key={part} className="mr-12">
              <SetupMark letter={LETTERS[k]!} label={LIFE_PARTS[part].label} />{' '}
            </span>
          ))}
        </p>
      )}
    </section>
  );
}

/** What riders said when asked again, kit by kit: rows are scales, columns kit and time. */
export function Said({ said }: { readonly said: ReliabilityDto['said'] }) {
  const { data: settings } = useLogbookSettingsQuery();
  if (said.length === 0) return null;
  const columns = [...new Map(said.map(({ kit, stage }) => [`${kit}|${stage}`, { kit, stage }])).values()];
  const labelOf = (stage: string): string => settings?.stages.find(({ id }) => id === stage)?.label ?? stage;
  return (
    <section className="section" aria-label="What riders say">
      <h2 className="mb-8">What riders say, kit by kit</h2>
      <Wide label="What riders said">
        <table className="rows">
          <caption className="quiet">
            Middle step from 1, the worse, to 5, the better; in brackets lowest, highest and bikes
          </caption>
          <thead>
            <tr>
              <th scope="col">Scale</th>
              {columns.map(({ kit, stage }) => (
                <th key={kit + stage} scope="col" className="number">
                  {kit || 'kit not known'}, {labelOf(stage).toLowerCase()}
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
                {columns.map(({ kit, stage }) => {
                  const one = said.find((entry) => entry.kit === kit && entry.stage === stage && entry.key === key);
                  return (
                    <td key={kit + stage} className="number">
                      {one ? `${plain(one.median, 2)} (${one.lowest} to ${one.highest}, ${one.bikes})` : '–'}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

/** Every fitted kit, and whether it counts. */
export function Counted({ conversions }: { readonly conversions: ReliabilityDto['conversions'] }) {
  const system = useUnits();
  return (
    <details className="section">
      <summary>
        What was counted: {conversions.filter(({ km, isKept }) => km > 0 && isKept).length} of {conversions.length}{' '}
        fitted kits
      </summary>
      <Wide label="Conversions counted">
        <table className="rows">
          <thead>
            <tr>
              <th scope="col">Bike</th>
              <th scope="col">Kit</th>
              <th scope="col">Pack</th>
              <th scope="col">Use</th>
              <th scope="col" className="number">
                Ridden
              </th>
              <th scope="col" className="number">
                Faults
              </th>
            </tr>
          </thead>
          <tbody>
            {conversions.map(({ subject, name, groups, km, faults, isKept }) => (
              <tr key={subject?.id ?? name}>
                <th scope="row" className="pair">
                  {subject ? (
                    <Link
                      to={
                        subject.kind === 'setup'
                          ? `/bench/setups/${subject.id}/life`
                          : `/logbook/conversions/${subject.id}`
                      }
                    >
                      {name}
                    </Link>
                  ) : (
                    name
                  )}
                </th>
                <td>{groups.kit || '–'}</td>
                <td>{groups.pack || '–'}</td>
                <td>{groups.use || '–'}</td>
                <td className="number">
                  {km === 0
                    ? 'not known: does not count'
                    : `${formatQuantity(km, 'km', system, 4)}${isKept ? '' : ', no entries: does not count'}`}
                </td>
                <td className="number">{faults}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
    </details>
  );
}
