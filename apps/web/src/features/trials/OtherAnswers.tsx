import { Link } from 'react-router';
import { figureVocabulary, pairSentence, type VerdictVoice } from '@ebrix/core/compare';
import type { Letter, PairDto, Trial, Verdict } from '@ebrix/contract';
import { convertUnitDifference, displayUnit, type UnitName } from '@ebrix/core/units';
import { plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { VERDICT_LABELS } from '../../entities/comparison/index.js';
import { voiceOf } from './verdict-voice.js';

/** Runs that do not count although nobody left them out, with the reason; many of one reason are told as one. */
export function Apart({ verdict }: { readonly verdict: Verdict }) {
  const byReason = new Map<string, typeof verdict.points>();
  for (const point of verdict.points)
    if (point.apart && !point.isExcluded)
      byReason.set(point.apart.text, [...(byReason.get(point.apart.text) ?? []), point]);
  if (byReason.size === 0) return null;
  const isUnsaid = verdict.points.some(({ apart }) => apart?.kind === 'not-said');
  return (
    <div className="mt-14" role="region" aria-label="Runs that do not count">
      <h3>Apart, and not counted</h3>
      <ul className="mt-6 mb-6 mx-0 pl-18">
        {[...byReason].map(([text, points]) => (
          <li key={text}>
            {points.length} {points.length === 1 ? 'run' : 'runs'}: {text}.{' '}
            {points.slice(0, MOST_LINKS).map(({ runId, letter, outing }, k) => (
              <span key={runId}>
                {k > 0 && ' · '}
                <Link to={`/runs/${runId}`}>
                  {letter}, {outing}
                </Link>
              </span>
            ))}
          </li>
        ))}
      </ul>
      {isUnsaid && (
        <p>
          <Link to="/runs?way=unsaid">Write down how these runs were ridden</Link>, many at once.
        </p>
      )}
    </div>
  );
}
const MOST_LINKS = 6;

/** The same runs by the other figures, as if conditions had been alike, and at reference conditions. */
export function OtherAnswers({
  trial,
  verdict,
  letterOf,
}: {
  readonly trial: Trial;
  readonly verdict: Verdict;
  readonly letterOf: ReadonlyMap<string, Letter>;
}) {
  const system = useUnits();
  const { further, adjusted, atReference, figure } = verdict;
  const own = voiceOf(trial, system);
  return (
    <>
      {further.length > 0 && (
        <>
          <h2 className="mt-22 mb-8 mx-0">All that was asked</h2>
          <div className="scroll-x">
            <table className="rows" aria-label="Other figures">
              <thead>
                <tr>
                  <th scope="col">Figure</th>
                  <th scope="col">Pair</th>
                  <th scope="col" className="number">
                    Difference
                  </th>
                  <th scope="col" className="number">
                    95 % interval
                  </th>
                  <th scope="col">By itself it would say</th>
                </tr>
              </thead>
              <tbody>
                <Rows
                  letterOf={letterOf}
                  label={figure.label}
                  unit={figure.unit}
                  pairs={verdict.comparison?.pairs ?? []}
                  note="decides"
                />
                {further.map((one) => (
                  <Rows
                    key={one.figure.key}
                    letterOf={letterOf}
                    label={one.figure.label}
                    unit={one.figure.unit}
                    pairs={one.pairs}
                    note="a look, not a decision"
                    reason={one.reason}
                  />
                ))}
              </tbody>
            </table>
          </div>
        </>
      )}
      {(atReference !== null || adjusted.length > 0) && (
        <>
          <h2 className="mt-22 mb-8 mx-0">As if conditions had been alike</h2>
          <p className="quiet max-w-760">
            As ridden decides. This is what else the runs say, should a condition have played a part.
          </p>
          <ul className="mt-6 mb-6 mx-0 pl-18">
            {atReference && (
              <li>
                At reference conditions:{' '}
                {answerText(atReference, verdict, {
                  ...own,
                  words: figureVocabulary('netConsumptionAtReference', '', figure.better, system),
                })}{' '}
                <span className="quiet">{correctionText(atReference)}</span>
              </li>
            )}
            {adjusted.map(({ key, slopesDifferP, ...answer }) => (
              <li key={key}>
                At the same {answer.label}: {answerText(answer, verdict, own)}
                {slopesDifferP !== null && slopesDifferP < 0.05 && (
                  <> The setups answer to it differently, so this holds near its mean only.</>
                )}
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** What the correction did to each setup, and what it leans on that the two sides do not have in common. */
function correctionText({ moved, pairs }: NonNullable<Verdict['atReference']>): string {
  const shift = (factor: number): string => `${factor < 1 ? '−' : '+'}${plain(100 * Math.abs(factor - 1), 2)} %`;
  const own = Math.max(0, ...pairs.map(({ correctionUncertainty }) => correctionUncertainty ?? 0));
  const by = moved.map(({ letter, factor }) => `${letter} by ${shift(factor)}`).join(', ');
  return [
    moved.length > 0 && `The correction moves ${by}.`,
    own > 0 &&
      `It leans on the drag and rolling of the bikes: what the sides do not share of their doubt, ${plain(100 * own, 2)} %, is in the intervals.`,
  ]
    .filter(Boolean)
    .join(' ');
}

/** What an answer says that the one as ridden does not; in a few words where both say the same. */
function answerText(
  { pairs, reason }: Pick<NonNullable<Verdict['atReference']>, 'pairs' | 'reason'>,
  { comparison }: Verdict,
  voice: VerdictVoice,
): string {
  if (reason !== null) return reason;
  const asRidden = new Map((comparison?.pairs ?? []).map((pair) => [`${pair.a} ${pair.b}`, pair]));
  const isAlike = (pair: PairDto): boolean => {
    const other = asRidden.get(`${pair.a} ${pair.b}`);
    const isAbove = (one: PairDto | undefined): boolean => (one?.difference?.estimate ?? 0) > 0;
    return pair.verdict === other?.verdict && isAbove(pair) === isAbove(other);
  };
  const differing = pairs.filter((pair) => !isAlike(pair));
  const same = differing.length === 0 ? 'the same verdicts as ridden. ' : '';
  const shown = differing.length > 0 ? differing : pairs.filter(({ verdict }) => verdict.startsWith('better'));
  return same + shown.map((pair) => pairSentence(pair, voice)).join(' ');
}

interface RowsProps {
  readonly letterOf: ReadonlyMap<string, Letter>;
  readonly label: string;
  readonly unit: UnitName;
  readonly pairs: readonly PairDto[];
  readonly note: string;
  readonly reason?: string | null;
}

function Rows({ letterOf, label, unit, pairs, note, reason }: RowsProps) {
  const system = useUnits();
  const shown = displayUnit(unit, system);
  const text = (value: number): string => plain(convertUnitDifference(value, unit, shown), 3);
  if (pairs.length === 0)
    return (
      <tr>
        <td>{label}</td>
        <td colSpan={4} className="quiet">
          {reason ?? 'no answer'}
        </td>
      </tr>
    );
  return (
    <>
      {pairs.map(({ a, b, difference, verdict, refusal }) => (
        <tr key={a + b}>
          <td>
            {label}
            <div className="quiet text-12-5">{note}</div>
          </td>
          <td>
            {letterOf.get(a) ?? a} − {letterOf.get(b) ?? b}
          </td>
          <td className="number">{difference ? `${text(difference.estimate)} ${shown}` : '–'}</td>
          <td className="number">{difference ? `${text(difference.lower)} … ${text(difference.upper)}` : '–'}</td>
          <td>{refusal ? 'cannot be told apart' : VERDICT_LABELS[verdict]}</td>
        </tr>
      ))}
    </>
  );
}
