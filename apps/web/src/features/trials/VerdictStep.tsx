import { useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { ComparisonDto, Letter, Trial, Verdict } from '@ebrix/contract';
import { moreText, pairSentences, smallestDifferenceText } from '@ebrix/core/compare';
import { standardErrorOfMean } from '@ebrix/core/statistics';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, keepTogether, plain } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import {
  ComparisonDetails,
  DifferenceStrips,
  RunPoints,
  stripsOf,
  type PairScale,
  type PointGroup,
} from '../../entities/comparison/index.js';
import { useGetVerdictQuery } from '../../entities/trial/index.js';
import { voiceOf } from './verdict-voice.js';

/** What can be concluded and what cannot. */
export function VerdictStep({ trial }: { readonly trial: Trial }) {
  const query = useGetVerdictQuery(trial.id);
  return <QueryView query={query}>{(verdict) => <VerdictView trial={trial} verdict={verdict} />}</QueryView>;
}

function VerdictView({ trial, verdict }: { readonly trial: Trial; readonly verdict: Verdict }) {
  const system = useUnits();
  const { comparison, figure } = verdict;
  const names = useMemo(() => namesOf(trial, comparison), [trial, comparison]);
  const shown = displayUnit(figure.unit, system);
  const groups = trial.setups.map((setup, k): PointGroup => {
    const described = comparison?.setups[k] as
      { mean: number; intervalOfMean?: { lower: number; upper: number } } | undefined;
    const convert = (value: number): number => convertUnit(value, figure.unit, shown);
    return {
      name: setup.name,
      letter: setup.letter,
      note: `${setup.countedRuns} ${setup.countedRuns === 1 ? 'run' : 'runs'}${setup.excludedRuns > 0 ? `, ${setup.excludedRuns} left out` : ''}`,
      ...(described && { mean: convert(described.mean) }),
      ...(described?.intervalOfMean && {
        interval: [convert(described.intervalOfMean.lower), convert(described.intervalOfMean.upper)] as const,
      }),
      points: verdict.points
        .filter(({ letter }) => letter === setup.letter)
        .map(({ value, standardUncertainty, isExcluded, outing, runId }) => ({
          value: convert(value),
          isExcluded,
          to: `/runs/${runId}`,
          text: `${setup.letter}, ${outing}: ${formatFigure(value, standardUncertainty, figure.unit, system)}${isExcluded ? ', left out' : ''}`,
        })),
    };
  });
  return (
    <>
      {comparison ? (
        <Sentences trial={trial} comparison={comparison} />
      ) : (
        <>
          <p className="verdict-line">{verdict.reason}</p>
          <div className="actions mt-14 mb-14 mx-0">
            {trial.setups.length < 2 ? (
              <LinkButton isMain to={`/trials/${trial.id}/setups`} label="Choose setups" />
            ) : (
              <LinkButton isMain to="/import" label="Import rides" />
            )}
          </div>
        </>
      )}
      <div className={`${comparison ? 'split section' : 'section'} mt-18`}>
        <div>
          {comparison && <Differences comparison={comparison} names={names} verdict={verdict} />}
          <h2 className="mt-22 mb-8 mx-0">Every run</h2>
          <RunPoints
            groups={groups}
            axis={`${figure.label.toLowerCase()}, ${shown}${trial.course ? `, ${trial.course.name}` : ''}`}
          />
          {comparison && (
            <div className="mt-14">
              <SetupTable trial={trial} comparison={comparison} verdict={verdict} />
              <ComparisonDetails comparison={comparison} />
            </div>
          )}
        </div>
        {comparison && <Aside trial={trial} comparison={comparison} verdict={verdict} />}
      </div>
    </>
  );
}

function Sentences({ trial, comparison }: { readonly trial: Trial; readonly comparison: ComparisonDto }) {
  const sentences = pairSentences(comparison.pairs, voiceOf(trial, useUnits()));
  return (
    <div aria-live="polite">
      {sentences.map((sentence, k) => (
        <p key={sentence} className={k === 0 ? 'verdict-line' : 'verdict-line second'}>
          {keepTogether(sentence)}
        </p>
      ))}
      <p className="quiet mt-8 max-w-860">{comparison.method.reason}</p>
    </div>
  );
}

interface DifferencesProps {
  readonly comparison: ComparisonDto;
  readonly names: ReadonlyMap<string, Letter>;
  readonly verdict: Verdict;
}

function Differences({ comparison, names, verdict }: DifferencesProps) {
  const system = useUnits();
  const [params, setParams] = useSearchParams();
  const { smallestDifference } = comparison;
  const unit = verdict.figure.unit;
  const shown = displayUnit(unit, system);
  const scale: PairScale =
    params.get('scale') === 'unit'
      ? 'unit'
      : params.get('scale') === 'percent'
        ? 'percent'
        : smallestDifference.kind === 'absolute'
          ? 'unit'
          : 'percent';
  const strips = stripsOf(comparison, scale, unit, system);
  const band = `less than ${smallestDifferenceText({ smallestDifference, unit, system })} does not matter`;
  const choose = (next: PairScale) => ({
    to: '?',
    className: scale === next ? 'here' : '',
    onClick: (event: React.MouseEvent) => {
      event.preventDefault();
      setParams(
        (known) => {
          known.set('scale', next);
          return known;
        },
        { replace: true },
      );
    },
  });
  return (
    <>
      <div className="flex justify-between items-center gap-12 flex-wrap mb-8">
        <h2>Difference, with its 95 % interval</h2>
        <nav className="choice" aria-label="Scale of the differences">
          <Link {...choose('percent')}>ratio, %</Link>
          <Link {...choose('unit')}>{shown}</Link>
        </nav>
      </div>
      {strips.length > 0 ? (
        <DifferenceStrips strips={strips} letterOf={names} unit={scale === 'percent' ? '%' : shown} bandText={band} />
      ) : (
        <p className="quiet">A ratio needs values above zero.</p>
      )}
    </>
  );
}

function SetupTable({
  trial,
  comparison,
  verdict,
}: {
  readonly trial: Trial;
  readonly comparison: ComparisonDto;
  readonly verdict: Verdict;
}) {
  const system = useUnits();
  const { unit } = verdict.figure;
  return (
    <details>
      <summary className="quiet">Setups as a table</summary>
      <table className="rows">
        <thead>
          <tr>
            <th scope="col">Setup</th>
            <th scope="col" className="number">
              Runs
            </th>
            <th scope="col" className="number">
              Mean ± its standard error
            </th>
            <th scope="col" className="number">
              Scatter of runs
            </th>
          </tr>
        </thead>
        <tbody>
          {comparison.setups.map((described, k) => {
            const { coefficientOfVariation, mean, n } = described;
            const standardError = standardErrorOfMean(described);
            return (
              <tr key={described.name}>
                <td>
                  {trial.setups[k]?.letter} {described.name}
                </td>
                <td className="number">{n}</td>
                <td className="number">
                  {standardError === undefined ? '–' : formatFigure(mean, standardError, unit, system)}
                </td>
                <td className="number">
                  {coefficientOfVariation === undefined ? '–' : `${plain(100 * coefficientOfVariation, 2)} %`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}

function Aside({
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
          <div className="mt-10">
            <LinkButton isMain to="/import" label="Import more rides" />
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
      {trial.notes && (
        <div>
          <h2>Notes</h2>
          <p className="mt-6">{trial.notes}</p>
        </div>
      )}
    </aside>
  );
}

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

/** Letters by the names the comparison uses, which follow the order of the setups. */
function namesOf(trial: Trial, comparison: ComparisonDto | null): Map<string, Letter> {
  return new Map(trial.setups.map(({ letter, name }, k) => [comparison?.setups[k]?.name ?? name, letter]));
}
