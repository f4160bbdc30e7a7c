import { Link } from 'react-router';
import type { ComparisonDto, Trial, Verdict } from '@ebrix/contract';
import { moreText, pairSentences, smallestDifferenceText } from '@ebrix/core/compare';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { plain } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { MeantToDiffer } from './MeantToDiffer.js';
import { voiceOf } from './verdict-voice.js';

/** What would settle it, how far the next ride goes, and what to keep in mind. */
export function VerdictAside({
  trial,
  comparison,
  verdict,
}: {
  readonly trial: Trial;
  readonly comparison: ComparisonDto;
  readonly verdict: Verdict;
}) {
  const open = comparison.pairs.filter(({ more, refusal }) => more !== undefined || refusal !== undefined);
  const system = useUnits();
  const { smallestDifference } = comparison;
  const size = smallestDifferenceText({ smallestDifference, unit: verdict.figure.unit, system });
  return (
    <aside style={{ display: 'grid', gap: 16, alignContent: 'start' }}>
      {open.length > 0 && (
        <div>
          <h2>What would settle it</h2>
          {open.map(({ a, b, more, refusal }) => (
            <p key={a + b} className="mt-6">
              {a} against {b}:{' '}
              {more
                ? `${moreText(more)} would show a ${size} difference 8 times in 10, if there is one.`
                : refusal?.mend}
            </p>
          ))}
          <MeantToDiffer trial={trial} confounded={verdict.confounded} />
          <div className="actions mt-10">
            <LinkButton isMain to={`/trials/${trial.id}/plan?more=${moreRounds(open)}`} label="Plan the next outing" />
            <LinkButton to="/import" label="Import more rides" />
          </div>
        </div>
      )}
      <NextRides trial={trial} verdict={verdict} />
      {verdict.withExcluded && (
        <div>
          <h2>Runs left out</h2>
          <p className="mt-6">
            {verdict.withExcluded.isSame
              ? 'Including the left-out runs, the verdict stays the same.'
              : 'Including the left-out runs, it would read:'}
          </p>
          {!verdict.withExcluded.isSame &&
            pairSentences(verdict.withExcluded.pairs, voiceOf(trial, system)).map((sentence) => (
              <p key={sentence} className="quiet">
                {sentence}
              </p>
            ))}
          <p className="mt-6">
            <Link to={`/trials/${trial.id}/runs`}>See the reasons</Link>
          </p>
        </div>
      )}
      {verdict.runsWithoutFigure > 0 && (
        <p className="caution">
          {verdict.runsWithoutFigure} {verdict.runsWithoutFigure === 1 ? 'run has' : 'runs have'} no{' '}
          {verdict.figure.label.toLowerCase()} and cannot count. Their pages say why.
        </p>
      )}
      {comparison.notes.length > 0 && (
        <div>
          <h2>Keep in mind</h2>
          {comparison.notes.map((note) => (
            <p key={note} className="mt-6">
              {note}
            </p>
          ))}
        </div>
      )}
      <div>
        <h2>From here</h2>
        <p className="mt-6">
          <Link to={`/decide/uses?with=${revisionsOf(trial)}`}>Which one for which use</Link>
        </p>
        <p className="mt-6">
          <Link to={`/forecast?with=${[...new Set(trial.setups.map(({ setupId }) => setupId))].slice(0, 3).join(',')}`}>
            What would it be elsewhere, loaded, in winter?
          </Link>
        </p>
        <p className="mt-6">
          <Link to={`/decide/reports/new?trial=${trial.id}`}>Write a report</Link>
        </p>
      </div>
      {trial.notes && (
        <div>
          <h2>Notes</h2>
          <p className="mt-6">{trial.notes}</p>
        </div>
      )}
    </aside>
  );
}

/** Each setup once, however many ways of riding it has in the trial. */
function revisionsOf({ setups }: Trial): string {
  return [...new Set(setups.map(({ revisionId }) => revisionId))].join(',');
}

/** Rounds that the next outing is to hold: as many as would settle it, and no more than an outing takes. */
function moreRounds(open: ComparisonDto['pairs']): number {
  const wanted = Math.max(...open.map(({ more }) => more?.about ?? 2));
  return Math.min(MOST_ROUNDS, wanted);
}
const MOST_ROUNDS = 6;

/** Where the next ride of each setup will end: for one ride, not for the mean. */
function NextRides({ trial, verdict }: { readonly trial: Trial; readonly verdict: Verdict }) {
  const system = useUnits();
  const km = (value: number): string => plain(convertUnit(value, 'km', displayUnit('km', system)), 2);
  return (
    <div>
      <h2>Range next ride, 20 % reserve</h2>
      {verdict.ranges.map(({ letter, nextRide, reason, riddenToEmpty }) => (
        <div key={letter} className="mt-6">
          <SetupMark letter={letter} />{' '}
          {nextRide ? (
            <span className="figures">
              {km(nextRide.lower)} to {km(nextRide.upper)} {displayUnit('km', system)}
            </span>
          ) : (
            <span className="quiet">{reason}</span>
          )}
          {riddenToEmpty && (
            <div className="quiet text-12-5">
              ridden to empty: median {km(riddenToEmpty.lower)} to {km(riddenToEmpty.upper)} {displayUnit('km', system)}
              , from {riddenToEmpty.ridesToEmpty} full rides and {riddenToEmpty.rides - riddenToEmpty.ridesToEmpty}{' '}
              stopped early
            </div>
          )}
        </div>
      ))}
      <p className="quiet mt-4 text-12-5">
        95 rides in 100 end within, on {trial.course ? 'this course' : 'such courses'}.
      </p>
    </div>
  );
}
