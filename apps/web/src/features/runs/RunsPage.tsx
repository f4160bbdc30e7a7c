import { Button, Input, Select, type InputRef } from 'antd';
import { useCallback, useDeferredValue, useEffect, useMemo, useRef, useState, type Ref } from 'react';
import { useNavigate, useSearchParams } from 'react-router';
import { runQuerySchema, type RunSummary } from '@ebrix/contract';
import { TEST_KINDS, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Page } from '../../shared/ui/Page.js';
import { useOpened } from '../../shared/ui/piece.js';
import { useListSetupsQuery } from '../../entities/setup/index.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { EmptyStart } from '../../entities/demo/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import {
  useDeleteRunsMutation,
  useListRunsQuery,
  useRestoreRunsMutation,
  WAY_OPTIONS,
} from '../../entities/run/index.js';
import { correctRuns } from './forms.js';
import { ReanalysisLine } from './ReanalysisLine.js';
import { RunPager, RunsTable, type Changes } from './RunsTable.js';

const PAGE_SIZE = 50;
const TYPING_PAUSE_MS = 250;

/** Keeps what is typed to itself until there is a pause: the list is drawn anew for a word, not for a letter. */
function SearchBox({
  box,
  known,
  onText,
}: {
  readonly box: Ref<InputRef>;
  readonly known: string;
  readonly onText: (text: string) => void;
}) {
  const [text, setText] = useState(known);
  const [before, setBefore] = useState({ known, sent: known });
  if (known !== before.known) {
    setBefore({ ...before, known });
    // The address was changed by something else: a way back, or the list as a whole.
    if (known !== before.sent) setText(known);
  }
  useEffect(() => {
    if (text === known) return undefined;
    const timer = setTimeout(() => {
      setBefore({ known, sent: text });
      onText(text);
    }, TYPING_PAUSE_MS);
    return () => clearTimeout(timer);
  });
  return (
    <Input
      ref={box}
      aria-label="Search"
      placeholder="Search setup, course, outing, file"
      className="w-270"
      allowClear
      value={text}
      onChange={({ target }) => setText(target.value)}
    />
  );
}

function addressOf(asked: Readonly<Record<string, number | string | undefined>>): string {
  return new URLSearchParams(
    Object.entries(asked).flatMap(([key, value]) => (value === undefined ? [] : [[key, String(value)]])),
  ).toString();
}

export default function RunsPage() {
  const [params] = useSearchParams();
  // An address with nonsense in it shows all runs rather than an error.
  const parsed = runQuerySchema.safeParse(Object.fromEntries(params));
  const filters = parsed.success ? parsed.data : runQuerySchema.parse({});
  const { after, before, ...wanted } = filters;
  const search = addressOf({ ...wanted, pageSize: PAGE_SIZE, after, before });
  const query = useListRunsQuery(search);
  const { data: setups } = useListSetupsQuery();
  const { data: courses } = useListCoursesQuery();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const writing = useOpened(correctRuns);
  /** Also those chosen on another page of the list. */
  const [picked, setPicked] = useState<ReadonlyMap<string, RunSummary>>(new Map());
  const [deleteRuns] = useDeleteRunsMutation();
  const [restore] = useRestoreRunsMutation();
  const notices = useNotices();
  const choose = useCallback((runs: readonly RunSummary[], isChosen: boolean): void => {
    const ids = runs.map(({ id }) => id);
    setChosen((before) => [...before.filter((id) => !ids.includes(id)), ...(isChosen ? ids : [])]);
    setPicked((known) => new Map([...known, ...runs.map((run): [string, RunSummary] => [run.id, run])]));
  }, []);
  const bringBack = async (ids: readonly string[]): Promise<void> => {
    if (!notices.failure(await restore(ids))) setChosen([]);
  };
  const remove = async (): Promise<void> => {
    const result = await deleteRuns(chosen);
    if (notices.failure(result)) return;
    const gone = chosen;
    setChosen([]);
    notices.undoable(
      'deleted',
      gone.length === 1 ? 'Run deleted.' : `${gone.length} runs deleted.`,
      () => void bringBack(gone),
    );
  };
  const searchBox = useRef<InputRef>(null);
  useShortcut('/', 'Search the runs', () => searchBox.current?.focus());

  const navigate = useNavigate();
  const change = useCallback(
    (changes: Changes): void => {
      // The address as it is now: what this render knows may be a moment old, and would undo the change before.
      const known = new URLSearchParams(globalThis.location.search);
      for (const [key, value] of Object.entries({ after: undefined, before: undefined, ...changes })) {
        if (value === undefined || value === '') known.delete(key);
        else known.set(key, String(value));
      }
      void navigate({ search: known.toString() }, { replace: true });
    },
    [navigate],
  );
  // Fifty rows are drawn when there is time, and never between a hand and what it types.
  const { data, isFetching } = query;
  const { sort, order } = filters;
  const shown = useDeferredValue(useMemo(() => ({ data, isFetching, sort, order }), [data, isFetching, sort, order]));
  return (
    <Page
      title="Runs"
      actions={
        <>
          <Button href={`/api/runs.csv?${addressOf(wanted)}`}>Save as CSV</Button>
          <LinkButton to="/notebook" label="From my notebook" />
          <LinkButton isMain to="/import" label="Import rides" />
        </>
      }
    >
      <ReanalysisLine />
      {writing.value && (
        <correctRuns.Part
          runs={[...picked.values()].filter(({ id }) => chosen.includes(id))}
          onDone={() => {
            writing.close();
            setChosen([]);
          }}
          onCancel={writing.close}
        />
      )}
      <div className="actions mb-12" role="search">
        <SearchBox box={searchBox} known={filters.text ?? ''} onText={(text) => change({ text })} />
        <Select
          aria-label="Setup"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="All setups"
          allowClear
          className="min-w-220"
          value={filters.setup ?? null}
          onChange={(setup: string | null) => change({ setup: setup ?? undefined })}
          options={(setups ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        />
        <Select
          aria-label="Course"
          showSearch={{ optionFilterProp: 'label' }}
          placeholder="All courses"
          allowClear
          className="min-w-160"
          value={filters.course ?? null}
          onChange={(course: string | null) => change({ course: course ?? undefined })}
          options={(courses ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        />
        <Select
          aria-label="Test"
          placeholder="All tests"
          allowClear
          className="min-w-160"
          value={filters.kind ?? null}
          onChange={(kind: string | null) => change({ kind: kind ?? undefined })}
          options={TEST_KIND_NAMES.map((value) => ({ value, label: TEST_KINDS[value].label }))}
        />
        <Select
          aria-label="Counted or left out"
          placeholder="Counted and left out"
          allowClear
          className="min-w-170"
          value={filters.state ?? null}
          onChange={(state: string | null) => change({ state: state ?? undefined })}
          options={[
            { value: 'counted', label: 'Counted only' },
            { value: 'excluded', label: 'Left out only' },
            { value: 'simulated', label: 'Simulated only' },
            { value: 'deleted', label: 'Deleted' },
          ]}
        />
        <Select
          aria-label="Way of riding"
          placeholder="Ridden any way"
          allowClear
          className="min-w-170"
          value={filters.way ?? null}
          onChange={(way: string | null) => change({ way: way ?? undefined })}
          options={[...WAY_OPTIONS, { value: 'unsaid', label: 'Not written down' }]}
        />
        {query.data && query.data.items.length > 0 && (
          <Button onClick={() => (chosen.length > 0 ? setChosen([]) : choose(query.data!.items, true))}>
            {chosen.length > 0 ? 'Choose none' : `Choose all ${query.data.items.length} shown`}
          </Button>
        )}
        {chosen.length > 0 && filters.state !== 'deleted' && (
          <>
            <Button onClick={() => void writing.open(true)}>
              {chosen.length === 1 ? 'Correct its details' : `Correct details of these ${chosen.length}`}
            </Button>
            <Button onClick={() => void remove()}>
              {chosen.length === 1 ? 'Delete it' : `Delete these ${chosen.length}`}
            </Button>
          </>
        )}
        {chosen.length > 0 && filters.state === 'deleted' && (
          <Button onClick={() => void bringBack(chosen)}>
            {chosen.length === 1 ? 'Bring it back' : `Bring these ${chosen.length} back`}
          </Button>
        )}
      </div>
      <QueryView query={query} keepPrevious>
        {({ total }) =>
          total === 0 && params.size === 0 ? (
            <EmptyStart
              what="No runs yet. Drop your ride logs, or type in what stands in your notebook, and Ebrix turns them into runs."
              action={{ to: '/import', label: 'Import rides' }}
            />
          ) : (
            shown.data && <RunsTable {...shown} data={shown.data} chosen={chosen} onChoose={choose} onChange={change} />
          )
        }
      </QueryView>
      {shown.data && shown.data.total > 0 && (
        <RunPager page={shown.data} pageSize={PAGE_SIZE} isFirst={!after && !before} onChange={change} />
      )}
    </Page>
  );
}
