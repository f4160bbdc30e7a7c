import { Button, Progress } from 'antd';
import { Link, useNavigate } from 'react-router';
import { LETTERS, trialInputSchema, type NotebookAnswer } from '@ebrix/contract';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useListImportsQuery } from '../import/index.js';
import { useSaveTrialMutation } from './api.js';

const LONGEST_QUESTION = 160;

interface Props {
  readonly answer: NotebookAnswer;
  /** What another beginning is called. */
  readonly more: string;
  readonly onMore: () => void;
}

/** What became of the rides, and what to do with them: two setups or more can be compared at once. */
export function StoredRides({ answer, more, onMore }: Props) {
  const navigate = useNavigate();
  const { failure } = useNotices();
  const { data: files = [] } = useListImportsQuery();
  const [save, { isLoading }] = useSaveTrialMutation();
  const own = files.filter(({ id }) => answer.importIds.includes(id));
  const count = (status: string): number => own.filter((file) => file.status === status).length;
  const [done, known, failed] = [count('done'), count('known'), count('failed')];
  const total = answer.importIds.length;
  const isOver = done + known + failed === total;
  const setups = [...new Map(answer.setups.map((one) => [one.revisionId, one])).values()].slice(0, LETTERS.length);
  const compare = async (): Promise<void> => {
    const names = setups.map(({ name }) => name);
    const input = trialInputSchema.parse({
      question:
        `Which uses less energy per km, bike and kit together: ${names.slice(0, -1).join(', ')} or ${names.at(-1)}?`.slice(
          0,
          LONGEST_QUESTION,
        ),
      decidingFigure: 'netConsumption',
      smallestDifference: { kind: 'relative', value: 0.05 },
      arms: setups.map(({ revisionId }) => ({ revisionId })),
      // A notebook names whole bikes with their kits: the bike is part of what is compared.
      meantToDiffer: ['bike'],
    });
    const made = await save({ input });
    if (failure(made)) return;
    if (made.data) void navigate(`/trials/${made.data.id}/verdict`);
  };
  return (
    <div className="max-w-760 grid gap-12 justify-items-start">
      {!isOver && (
        <div className="w-340">
          <p>
            Reading {total} rides: {done + known} done
          </p>
          <Progress percent={Math.round((100 * (done + known)) / total)} showInfo={false} aria-label="Rides" />
        </div>
      )}
      {isOver && (
        <p className="text-16">
          {done} {done === 1 ? 'ride is' : 'rides are'} stored as runs.
          {known > 0 && ` ${known} ${known === 1 ? 'was' : 'were'} here already and not taken twice.`}
        </p>
      )}
      {failed > 0 && (
        <p className="problem" role="alert">
          {failed} could not be read: see <Link to="/import">the import</Link>.
        </p>
      )}
      <div className="actions">
        {setups.length > 1 && (
          <Button type="primary" disabled={!isOver} loading={isLoading} onClick={() => void compare()}>
            Compare {setups.map(({ name }) => name).join(', ')}
          </Button>
        )}
        <Button onClick={() => void navigate('/runs')}>Look at the runs</Button>
        <Button onClick={onMore}>{more}</Button>
      </div>
    </div>
  );
}
