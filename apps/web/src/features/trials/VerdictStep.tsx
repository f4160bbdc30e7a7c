import { useMemo } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { ComparisonDto, Letter, Trial, Verdict } from '@ebrix/contract';
import { pairSentences, ridingText, smallestDifferenceText } from '@ebrix/core/compare';
import { standardErrorOfMean } from '@ebrix/core/statistics';
import { convertUnit, displayUnit } from '@ebrix/core/units';
import { useUnits } from '../../shared/preferences/index.js';
import { formatFigure, keepTogether, plain } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import {
  ComparisonDetails,
  DifferenceStrips,
  RunPoints,
  stripsOf,
  type PairScale,
  type PointGroup,
} from '../../entities/comparison/index.js';
import { HowItFelt, useRatingsOfTrialQuery } from '../../entities/experience/index.js';
import { useGetVerdictQuery } from '../../entities/trial/index.js';
import { ElsewhereStudies } from './ElsewhereStudies.js';
import { OpenQuestion } from './OpenQuestion.js';
import { Apart, OtherAnswers } from './OtherAnswers.js';
import { DesignChoice } from './DesignChoice.js';
import { VerdictAside } from './VerdictAside.js';
import { voiceOf } from './verdict-voice.js';

/** What can be concluded and what cannot. */
export function VerdictStep({ trial }: { readonly trial: Trial }) {
  const query = useGetVerdictQuery(trial.id);
  return <QueryView query={query}>{(verdict) => <VerdictView trial={trial} verdict={verdict} />}</QueryView>;
}

function VerdictView({ trial, verdict }: { readonly trial: Trial; readonly verdict: Verdict }) {
  const system = useUnits();
  const { comparison, figure } = verdict;
  const { data: ratings } = useRatingsOfTrialQuery(trial.id);
  const names = useMemo(() => namesOf(trial, comparison), [trial, comparison]);
  const shown = displayUnit(figure.unit, system);
  const groups = trial.setups.map((setup, k): PointGroup => {
    const described = comparison?.setups[k] as
      | { mean: number; intervalOfMean?: { lower: number; upper: number } }
      | undefined;
    const convert = (value: number): number => convertUnit(value, figure.unit, shown);
    return {
      name: setup.name,
      letter: setup.letter,
      note: `${ridingText(setup.riding) && `${ridingText(setup.riding)}; `}${setup.countedRuns} ${setup.countedRuns === 1 ? 'run' : 'runs'}${setup.excludedRuns > 0 ? `, ${setup.excludedRuns} left out` : ''}`,
      ...(described && { mean: convert(described.mean) }),
      ...(described?.intervalOfMean && {
        interval: [convert(described.intervalOfMean.lower), convert(described.intervalOfMean.upper)] as const,
      }),
      points: verdict.points
        .filter(({ letter }) => letter === setup.letter)
        .map(({ value, standardUncertainty, isExcluded, apart, outing, runId }) => ({
          value: convert(value),
          isExcluded: isExcluded || apart !== null,
          to: `/runs/${runId}`,
          text: `${setup.letter}, ${outing}: ${formatFigure(value, standardUncertainty, figure.unit, system)}${isExcluded ? ', left out' : apart ? `, does not count: ${apart.text}` : ''}`,
        })),
    };
  });
  return (
    <>
      {comparison ? (
        <Sentences trial={trial} comparison={comparison} verdict={verdict} />
      ) : verdict.open ? (
        <OpenQuestion trial={trial} open={verdict.open} />
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
          <Apart verdict={verdict} />
          <ElsewhereStudies trial={trial} />
          <HowItFelt sides={sidesOf(trial)} ratings={ratings ?? []} />
          {comparison && (
            <div className="mt-14">
              <OtherAnswers trial={trial} verdict={verdict} letterOf={names} />
              <SetupTable trial={trial} comparison={comparison} verdict={verdict} />
              <ComparisonDetails comparison={comparison} />
            </div>
          )}
        </div>
        {comparison && <VerdictAside trial={trial} comparison={comparison} verdict={verdict} />}
      </div>
    </>
  );
}

/** Each setup once, however many ways of riding it has in the trial. */
function sidesOf({ setups }: Trial): Trial['setups'] {
  return setups.filter(({ revisionId }, k) => setups.findIndex((other) => other.revisionId === revisionId) === k);
}

function Sentences({
  trial,
  comparison,
  verdict,
}: {
  readonly trial: Trial;
  readonly comparison: ComparisonDto;
  readonly verdict: Verdict;
}) {
  const isSoFar = verdict.look?.isLast === false;
  const voice = { ...voiceOf(trial, useUnits()), isSoFar };
  const sentences = pairSentences(comparison.pairs, voice);
  return (
    <div aria-live="polite">
      {sentences.map((sentence, k) => (
        <p key={sentence} className={k === 0 ? 'verdict-line' : 'verdict-line second'}>
          {keepTogether(sentence)}
        </p>
      ))}
      <p className="quiet mt-8 max-w-860">
        {comparison.method.reason}{' '}
        {verdict.look && comparison.pairs.some(({ difference }) => difference) && lookText(verdict.look)}
      </p>
      <DesignChoice trial={trial} comparison={comparison} />
    </div>
  );
}

/** Why an interval may be wider than 95 %: looking often must not find what is not there. */
function lookText({ number, of, countedRuns, isLast, level }: NonNullable<Verdict['look']>): string {
  if (number === 1 && isLast) return '';
  const share = plain(100 * (1 - level), 3);
  const where =
    of === null ? `Look ${number}, without a plan` : `Look ${number}, ${countedRuns} of ${of} planned runs in`;
  return `${where}: intervals hold ${share} % here, so that looking often does not find what is not there.`;
}

/** Of the only look, or the last. */
const LAST_LEVEL = 0.05;

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
        <h2>Difference, with its {plain(100 * (1 - (verdict.look?.level ?? LAST_LEVEL)), 3)} % interval</h2>
        <nav className="choice" aria-label="Scale of the differences">
          <Link {...choose('percent')}>ratio, %</Link>
          <Link {...choose('unit')}>{shown}</Link>
        </nav>
      </div>
      {strips.length > 0 ? (
        <DifferenceStrips strips={strips} letterOf={names} unit={scale === 'percent' ? '%' : shown} bandText={band} />
      ) : (
        <p className="quiet">
          {comparison.pairs.some((pair) => pair.difference)
            ? 'A ratio needs values above zero.'
            : 'No difference is shown where the setups cannot be told apart.'}
        </p>
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

/** Letters by the names the comparison uses, which follow the order of the setups. */
function namesOf(trial: Trial, comparison: ComparisonDto | null): Map<string, Letter> {
  return new Map(trial.setups.map(({ letter, name }, k) => [comparison?.setups[k]?.name ?? name, letter]));
}
