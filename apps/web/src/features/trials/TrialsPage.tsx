import { Link, useNavigate } from 'react-router';
import type { TrialListItem } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { Page } from '../../shared/ui/Page.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { EmptyStart } from '../../entities/demo/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useListTrialsQuery } from '../../entities/trial/index.js';
import { figureChoice } from './figure-choices.js';

export default function TrialsPage() {
  const query = useListTrialsQuery();
  const navigate = useNavigate();
  useShortcut('n', 'New trial', () => void navigate('/trials/new/question'));
  return (
    <Page title="Trials" actions={<LinkButton isMain to="/trials/new/question" label="New trial" />}>
      <QueryView query={query}>
        {(trials) =>
          trials.length === 0 ? (
            <EmptyStart
              what="A trial is a question worth riding for: which of two or more setups does better by one figure, by how much, and how sure that is."
              action={{ to: '/trials/new/question', label: 'Ask a question' }}
            />
          ) : (
            <ul style={{ listStyle: 'none', margin: 0, padding: 0, borderTop: '1px solid var(--hairline)' }}>
              {trials.map((trial) => (
                <TrialRow key={trial.id} trial={trial} />
              ))}
            </ul>
          )
        }
      </QueryView>
    </Page>
  );
}

function TrialRow({ trial }: { readonly trial: TrialListItem }) {
  const system = useUnits();
  const runs = trial.setups.reduce((sum, { countedRuns }) => sum + countedRuns, 0);
  const excluded = trial.setups.reduce((sum, { excludedRuns }) => sum + excludedRuns, 0);
  const headline =
    system === 'imperial' ? trial.headline.replaceAll('energy per km', 'energy per mile') : trial.headline;
  return (
    <li
      style={{
        padding: '16px 0',
        borderBottom: '1px solid var(--hairline)',
        display: 'grid',
        gap: 5,
        opacity: trial.archivedAt ? 0.6 : 1,
      }}
    >
      <Link to={`/trials/${trial.id}/verdict`} style={{ fontSize: 18, fontWeight: 650, fontStretch: '112%' }}>
        {trial.question}
      </Link>
      <p style={{ fontSize: 15, maxWidth: 900 }}>{headline}</p>
      <p style={{ display: 'flex', gap: '4px 18px', flexWrap: 'wrap' }}>
        {trial.setups.map(({ letter, name, revisionId }) => (
          <SetupMark key={revisionId} letter={letter} label={name} />
        ))}
      </p>
      <p className="quiet">
        {figureChoice(trial.decidingFigure).label}
        {trial.course && `, ${trial.course.name}`}, {runs} {runs === 1 ? 'run' : 'runs'}
        {excluded > 0 && `, ${excluded} left out`}
        {trial.archivedAt && ', archived'}
      </p>
    </li>
  );
}
