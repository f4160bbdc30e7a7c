import { lazy, Suspense, useDeferredValue, useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { pairSentence, ridingText } from '@ebrix/core/compare';
import { voiceOf } from './verdict-voice.js';
import type { TrialListItem } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { PlainButton } from '../../shared/ui/PlainButton.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Page } from '../../shared/ui/Page.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { StartChoices } from '../../entities/demo/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useListTrialsInfiniteQuery } from '../../entities/trial/index.js';
import { nextStepOf } from './next-step.js';
import { figureChoice } from './figure-choices.js';

/** For those with many trials: the first page goes without it. */
const QuestionSearch = lazy(() => import('./QuestionSearch.js'));

export default function TrialsPage() {
  const [text, setText] = useState('');
  const { data, currentData, ...query } = useListTrialsInfiniteQuery({ text: useDeferredValue(text.trim()) });
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  // The box stays where it was, also while what it found is one piece.
  const [isLong, setLong] = useState(false);
  if (hasNextPage && !isLong) setLong(true);
  const navigate = useNavigate();
  useShortcut('n', 'New trial', () => void navigate('/trials/new/question'));
  return (
    <Page title="Trials" actions={<LinkButton isMain to="/trials/new/question" label="New trial" />}>
      {isLong && (
        <Suspense fallback={<div className="search-place" />}>
          <QuestionSearch text={text} onText={setText} />
        </Suspense>
      )}
      <QueryView query={{ ...query, data: data?.pages.flat(), currentData: currentData?.pages.flat() }} keepPrevious>
        {(trials) =>
          trials.length === 0 && text !== '' ? (
            <p className="quiet">No question holds “{text.trim()}”.</p>
          ) : trials.length === 0 ? (
            <StartChoices />
          ) : (
            <>
              <ul className="list-plain m-0 p-0 line-above">
                {trials.map((trial) => (
                  <TrialRow key={trial.id} trial={trial} />
                ))}
              </ul>
              {hasNextPage && (
                <PlainButton className="mt-12" isBusy={isFetchingNextPage} onClick={() => void fetchNextPage()}>
                  Earlier trials
                </PlainButton>
              )}
            </>
          )
        }
      </QueryView>
    </Page>
  );
}

function TrialRow({ trial }: { readonly trial: TrialListItem }) {
  const system = useUnits();
  const runs = trial.setups.reduce((sum, { countedRuns }) => sum + countedRuns, 0);
  const next = nextStepOf(trial);
  const excluded = trial.setups.reduce((sum, { excludedRuns }) => sum + excludedRuns, 0);
  const headline = trial.leading
    ? pairSentence(trial.leading, { ...voiceOf(trial, system), isSoFar: trial.isSoFar })
    : trial.headline;
  return (
    <li
      className={trial.archivedAt ? 'quiet' : ''}
      style={{
        padding: '16px 0',
        borderBottom: '1px solid var(--hairline)',
        display: 'grid',
        gap: 5,
      }}
    >
      <Link to={`/trials/${trial.id}/verdict`} style={{ fontSize: 18, fontWeight: 650, fontStretch: '112%' }}>
        {trial.question}
      </Link>
      <p className="text-15 max-w-900">{headline}</p>
      <p style={{ display: 'flex', gap: '4px 18px', flexWrap: 'wrap' }}>
        {trial.setups.map(({ letter, name, riding }) => (
          <SetupMark key={letter} letter={letter} label={[name, ridingText(riding)].filter(Boolean).join(', ')} />
        ))}
      </p>
      <p className="quiet">
        {figureChoice(trial.decidingFigure).label}
        {trial.course && `, ${trial.course.name}`}, {runs} {runs === 1 ? 'run' : 'runs'}
        {excluded > 0 && `, ${excluded} left out`}
        {trial.archivedAt && ', archived'}
      </p>
      {next && (
        <p>
          {next.words} <Link to={next.to}>{next.label}</Link>
        </p>
      )}
    </li>
  );
}
