import { Button } from 'antd';
import { Link, Navigate, useNavigate, useParams } from 'react-router';
import type { Plan, Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity, plain } from '../../shared/format/format-quantity.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, StaleNotice } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetPlanQuery } from '../../entities/plan/index.js';
import { useArchiveTrialMutation, useGetTrialInBriefQuery, useGetTrialQuery } from '../../entities/trial/index.js';
import { figureChoice } from './figure-choices.js';
import { steps } from './steps.js';

const CRUMB = <Link to="/trials">Trials</Link>;
const STEPS = ['question', 'setups', 'plan', 'runs', 'verdict'] as const;
type Step = (typeof STEPS)[number];
const { Part: QuestionForm } = steps.question;

export default function TrialPage() {
  const { id = '', step = 'verdict' } = useParams();
  const navigate = useNavigate();
  if (id === 'new')
    return (
      <Page title="New trial" crumb={CRUMB}>
        <QuestionForm onSaved={(saved) => void navigate(`/trials/${saved.id}/setups`)} />
      </Page>
    );
  if (!STEPS.includes(step as Step)) return <Navigate to={`/trials/${id}/verdict`} replace />;
  return <Stored id={id} step={step as Step} />;
}

function Stored({ id, step }: { readonly id: string; readonly step: Step }) {
  const query = useGetTrialQuery(id);
  if (query.currentData)
    return (
      <>
        <StaleNotice query={query} />
        <TrialView key={query.currentData.id} trial={query.currentData} step={step} />
      </>
    );
  return (
    <Page title="Trial" crumb={CRUMB}>
      <QueryView query={query}>{() => null}</QueryView>
    </Page>
  );
}

function TrialView({ trial, step }: { readonly trial: Trial; readonly step: Step }) {
  const navigate = useNavigate();
  const [archive] = useArchiveTrialMutation();
  const { failure } = useNotices();
  const words = useStepTexts(trial);
  STEPS.forEach((name, k) => {
    // The number of steps never changes, so neither does the order of hooks.
    // oxlint-disable-next-line react/rules-of-hooks
    useShortcut(String(k + 1), `To ${name}`, () => void navigate(`/trials/${trial.id}/${name}`));
  });
  return (
    <Page
      title={trial.question}
      crumb={CRUMB}
      actions={
        <>
          <Button onClick={() => void archive({ stored: trial, archived: trial.archivedAt === null }).then(failure)}>
            {trial.archivedAt ? 'Restore' : 'Archive'}
          </Button>
          <Button onClick={() => window.print()}>Print</Button>
        </>
      }
    >
      <nav className="steps" aria-label="Steps of the trial">
        {STEPS.map((name) => (
          <Link
            key={name}
            to={`/trials/${trial.id}/${name}`}
            className={name === step ? 'here' : ''}
            aria-current={name === step ? 'step' : undefined}
          >
            <strong>{name[0]!.toUpperCase() + name.slice(1)}</strong>
            <span>{words[name]}</span>
          </Link>
        ))}
      </nav>
      {step === 'question' && (
        <QuestionForm key={trial.version} trial={trial} onSaved={() => void navigate(`/trials/${trial.id}/setups`)} />
      )}
      {step === 'setups' && <steps.setups.Part trial={trial} />}
      {step === 'plan' && <steps.plan.Part trial={trial} />}
      {step === 'runs' && <steps.runs.Part trial={trial} />}
      {step === 'verdict' && <steps.verdict.Part trial={trial} />}
    </Page>
  );
}

function planText(plan: Plan | null): string {
  if (!plan) return 'none yet';
  const ridden = plan.slots.filter(({ state }) => state === 'ridden').length;
  return ridden === plan.slots.length ? `all ${ridden} ridden` : `${ridden} of ${plan.slots.length} ridden`;
}

/** What each step holds, or what it still lacks. */
function useStepTexts(trial: Trial): Record<Step, string> {
  const system = useUnits();
  const { data: brief } = useGetTrialInBriefQuery(trial.id);
  const { currentData: plan } = useGetPlanQuery(trial.id);
  const kinds = brief?.verdictKinds ?? [];
  const { kind, value } = trial.smallestDifference;
  const { label, unit } = figureChoice(trial.decidingFigure);
  const counted = trial.setups.reduce((sum, { countedRuns }) => sum + countedRuns, 0);
  const excluded = trial.setups.reduce((sum, { excludedRuns }) => sum + excludedRuns, 0);
  const short = trial.setups.filter(({ countedRuns }) => countedRuns < 2);
  const open = kinds.filter((one) => one === 'cannot-tell').length;
  return {
    question: `${label}, ${kind === 'relative' ? `${plain(value * 100, 3)} %` : formatQuantity(value, unit, system)} matters`,
    setups: trial.setups.length < 2 ? 'at least two needed' : trial.setups.map(({ letter }) => letter).join(', '),
    plan: planText(plan?.plan ?? null),
    runs: `${counted} counted${excluded > 0 ? `, ${excluded} left out` : ''}${short.length > 0 ? `; ${short.map(({ letter }) => letter).join(', ')} needs more` : ''}`,
    verdict:
      kinds.length === 0
        ? 'not yet'
        : open === 0
          ? 'decided'
          : open === kinds.length
            ? 'cannot tell yet'
            : `decided except for ${open} ${open === 1 ? 'pair' : 'pairs'}`,
  };
}
