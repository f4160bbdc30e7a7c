import { Button, Select } from 'antd';
import { Link, useNavigate, useSearchParams } from 'react-router';
import type { Setup, UseDto } from '@ebrix/contract';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { useListUsesQuery } from './api.js';
import { UseEditor } from './UseEditor.js';

const MOST = 6;

/** Uses by name, the setups that are weighed, and one use opened. Which ones the address says. */
export function UsesTab({ id }: { readonly id: string | undefined }) {
  const uses = useListUsesQuery();
  const setups = useListSetupsQuery();
  return (
    <QueryView query={uses}>
      {(list) => <QueryView query={setups}>{(all) => <Chosen id={id} uses={list} setups={all} />}</QueryView>}
    </QueryView>
  );
}

interface Props {
  readonly id: string | undefined;
  readonly uses: readonly UseDto[];
  readonly setups: readonly Setup[];
}
function Chosen({ id, uses, setups }: Props) {
  const navigate = useNavigate();
  const [params, setParams] = useSearchParams();
  const ridden = riddenRevisions(setups);
  const named = (params.get('with') ?? '').split(',').filter((one) => ridden.some(({ value }) => value === one));
  const chosen = (named.length > 0 ? named : ridden.map(({ value }) => value)).slice(0, MOST);
  const shown = uses.filter(({ archivedAt, id: own }) => archivedAt === null || own === id);
  const open = id === 'new' ? undefined : (shown.find((use) => use.id === id) ?? shown[0]);
  const search = params.toString() === '' ? '' : `?${params.toString()}`;
  if (ridden.length === 0)
    return (
      <div className="teach">
        <p>No setup has been ridden yet: there is nothing to weigh.</p>
        <Link to="/bench/setups">To the setups</Link>
      </div>
    );
  return (
    <>
      <div className="use-choice">
        <nav aria-label="Uses">
          {shown.map((use) => (
            <Link
              key={use.id}
              to={`/decide/uses/${use.id}${search}`}
              aria-current={use.id === open?.id && id !== 'new' ? 'page' : undefined}
            >
              {use.name}
              {use.archivedAt !== null && ' (archived)'}
            </Link>
          ))}
          <Button onClick={() => void navigate(`/decide/uses/new${search}`)}>New use</Button>
        </nav>
        <label className="setups-weighed">
          <span>Setups weighed, six at most</span>
          <Select
            mode="multiple"
            value={chosen}
            maxCount={MOST}
            maxTagCount="responsive"
            options={ridden}
            optionFilterProp="label"
            aria-label="Setups weighed"
            onChange={(list: string[]) => setParams(list.length > 0 ? { with: list.join(',') } : {}, { replace: true })}
          />
        </label>
      </div>
      {open || id === 'new' ? (
        <UseEditor key={open?.id ?? 'new'} stored={open} revisionIds={chosen} />
      ) : (
        <div className="teach mt-12">
          <p>
            A use says what a setup has to keep and what counts how much: a commute, a hilly errand with a child seat, a
            long round. The same runs can have another winner for each.
          </p>
          <Button type="primary" onClick={() => void navigate(`/decide/uses/new${search}`)}>
            Add the first use
          </Button>
        </div>
      )}
    </>
  );
}

/** The newest revision of each setup that has runs; most runs first. */
function riddenRevisions(setups: readonly Setup[]): { value: string; label: string; runs: number }[] {
  return setups
    .filter(({ archivedAt }) => archivedAt === null)
    .flatMap(({ name, revisions }) => {
      const ridden = revisions.find(({ runCount }) => runCount > 0);
      return ridden ? [{ value: ridden.id, label: name, runs: ridden.runCount }] : [];
    })
    .sort((a, b) => b.runs - a.runs);
}
