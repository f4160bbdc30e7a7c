import { Button, Input, Select, Table, type InputRef, type TableProps } from 'antd';
import { memo, useCallback, useDeferredValue, useEffect, useMemo, useRef, useState, type Ref } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import { runQuerySchema, type ListedFigure, type RunSummary } from '@ebrix/contract';
import { displayUnit } from '@ebrix/core/units';
import { ridingText } from '@ebrix/core/compare';
import { TEST_KINDS, TEST_KIND_NAMES } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { formatDay, formatFigure } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { MeasuredCell } from '../../shared/ui/Measured.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { Page } from '../../shared/ui/Page.js';
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
import { CorrectRuns } from './CorrectRuns.js';
import { ReanalysisLine } from './ReanalysisLine.js';

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

export default function RunsPage() {
  const [params] = useSearchParams();
  // An address with nonsense in it shows all runs rather than an error.
  const parsed = runQuerySchema.safeParse(Object.fromEntries(params));
  const filters = parsed.success ? parsed.data : runQuerySchema.parse({});
  const search = new URLSearchParams(
    Object.entries({ ...filters, pageSize: PAGE_SIZE }).flatMap(([key, value]) =>
      value === undefined ? [] : [[key, String(value)]],
    ),
  ).toString();
  const query = useListRunsQuery(search);
  const { data: setups } = useListSetupsQuery();
  const { data: courses } = useListCoursesQuery();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [isWriting, setWriting] = useState(false);
  /** Also those chosen on another page of the list. */
  const [picked, setPicked] = useState<ReadonlyMap<string, RunSummary>>(new Map());
  const [deleteRuns] = useDeleteRunsMutation();
  const [restore] = useRestoreRunsMutation();
  const notices = useNotices();
  const choose = useCallback((ids: readonly string[], among: readonly RunSummary[]): void => {
    setChosen(ids);
    setPicked((known) => new Map([...known, ...among.map((run): [string, RunSummary] => [run.id, run])]));
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
      for (const [key, value] of Object.entries({ page: undefined, ...changes })) {
        if (value === undefined || value === '') known.delete(key);
        else known.set(key, String(value));
      }
      void navigate({ search: known.toString() }, { replace: true });
    },
    [navigate],
  );
  // Fifty rows are drawn when there is time, and never between a hand and what it types.
  const { data, isFetching } = query;
  const { page, sort, order } = filters;
  const shown = useDeferredValue(
    useMemo(() => ({ data, isFetching, page, sort, order }), [data, isFetching, page, sort, order]),
  );
  return (
    <Page
      title="Runs"
      actions={
        <>
          <Button href={`/api/runs.csv?${search}`}>Save as CSV</Button>
          <LinkButton to="/notebook" label="From my notebook" />
          <LinkButton isMain to="/import" label="Import rides" />
        </>
      }
    >
      <ReanalysisLine />
      {isWriting && (
        <CorrectRuns
          runs={[...picked.values()].filter(({ id }) => chosen.includes(id))}
          onDone={() => {
            setWriting(false);
            setChosen([]);
          }}
          onCancel={() => setWriting(false)}
        />
      )}
      <div className="actions mb-12" role="search">
        <SearchBox box={searchBox} known={filters.text ?? ''} onText={(text) => change({ text })} />
        <Select
          aria-label="Setup"
          placeholder="All setups"
          allowClear
          className="min-w-220"
          value={filters.setup ?? null}
          onChange={(setup: string | null) => change({ setup: setup ?? undefined })}
          options={(setups ?? []).map(({ id, name }) => ({ value: id, label: name }))}
        />
        <Select
          aria-label="Course"
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
          <Button
            onClick={() => choose(chosen.length > 0 ? [] : query.data!.items.map(({ id }) => id), query.data!.items)}
          >
            {chosen.length > 0 ? 'Choose none' : `Choose all ${query.data.items.length} shown`}
          </Button>
        )}
        {chosen.length > 0 && filters.state !== 'deleted' && (
          <>
            <Button onClick={() => setWriting(true)}>
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
        <p className="quiet mt-8">
          {shown.data.total.toLocaleString()} {shown.data.total === 1 ? 'run' : 'runs'}
        </p>
      )}
    </Page>
  );
}

type Changes = Readonly<Record<string, string | number | undefined>>;

const RunsTable = memo(function RunsTable({
  data: { items, total },
  isFetching,
  chosen,
  page,
  sort,
  order,
  onChoose,
  onChange,
}: {
  readonly data: { readonly items: readonly RunSummary[]; readonly total: number };
  readonly isFetching: boolean;
  readonly chosen: readonly string[];
  readonly page: number;
  readonly sort: string;
  readonly order: 'down' | 'up';
  readonly onChoose: (ids: readonly string[], among: readonly RunSummary[]) => void;
  readonly onChange: (changes: Changes) => void;
}) {
  const system = useUnits();
  const figureColumn = (key: ListedFigure, title: string, unit: 'Wh/km' | 'km' | 'km/h') => ({
    key,
    dataIndex: key,
    title: `${title}, ${displayUnit(unit, system)}`,
    sorter: true,
    align: 'right' as const,
    sortOrder: orderOf(key),
    render: (_: unknown, run: RunSummary) => <MeasuredCell figure={run.figures[key]} />,
  });
  const orderOf = (key: string) =>
    sort === key ? (order === 'up' ? ('ascend' as const) : ('descend' as const)) : null;
  const columns: TableProps<RunSummary>['columns'] = [
    {
      key: 'date',
      title: 'Day',
      sorter: true,
      sortOrder: orderOf('date'),
      width: 108,
      render: (_, run) => <Link to={`/runs/${run.id}`}>{formatDay(run.outing.date)}</Link>,
    },
    {
      key: 'setup',
      title: 'Setup',
      width: 182,
      sorter: true,
      sortOrder: orderOf('setup'),
      render: (_, run) => (
        <>
          {run.setup.name}
          {run.setup.revisionNumber > 1 && <span className="quiet">, revision {run.setup.revisionNumber}</span>}
          {run.exclusion && <div className="quiet text-12-5">left out: {run.exclusion.reason}</div>}
        </>
      ),
    },
    {
      key: 'course',
      title: 'Course, outing',
      width: 150,
      sorter: true,
      sortOrder: orderOf('course'),
      render: (_, run) => (
        <>
          {run.course.name}
          <div className="quiet text-12-5">{run.outing.title}</div>
        </>
      ),
    },
    {
      key: 'test',
      title: 'Test and result',
      width: 186,
      render: (_, run) => (
        <>
          {TEST_KINDS[run.testKind].label}
          {run.isSimulated && <span className="tag"> simulated</span>}
          <div className="quiet text-12-5">{ridingText(run.riding)}</div>
          {run.testKind !== 'range' && run.headline && (
            <div className="text-12-5">
              <span className="quiet">{run.headline.label}</span>
              <div className="figures">
                {formatFigure(run.headline.value, run.headline.standardUncertainty, run.headline.unit, system)}
              </div>
            </div>
          )}
        </>
      ),
    },
    figureColumn('netConsumption', 'Net', 'Wh/km'),
    figureColumn('distance', 'Distance', 'km'),
    figureColumn('meanMovingSpeed', 'Speed', 'km/h'),
    figureColumn('rangeWithReserve', 'Range with reserve', 'km'),
  ];
  return (
    <Table
      rowKey="id"
      size="small"
      columns={columns}
      dataSource={[...items]}
      loading={isFetching}
      showSorterTooltip={false}
      scroll={{ x: 1080 }}
      rowSelection={{
        // The table measures its columns by a hidden copy of its head, in which nothing may be reached by keys.
        hideSelectAll: true,
        selectedRowKeys: [...chosen],
        onChange: (keys) => onChoose(keys.map(String), items),
        preserveSelectedRowKeys: true,
        getCheckboxProps: (run) => ({
          'aria-label': `Choose the run of ${formatDay(run.outing.date)}, ${run.setup.name}`,
        }),
      }}
      locale={{ emptyText: 'No matching runs. Clear a filter.' }}
      pagination={{
        current: page,
        pageSize: PAGE_SIZE,
        total,
        showSizeChanger: false,
        hideOnSinglePage: true,
        showTotal: (count) => `${count.toLocaleString()} runs`,
      }}
      onChange={(pagination, _filters, sorter, { action }) => {
        if (action === 'paginate') return onChange({ page: pagination.current });
        const { columnKey, order: turned } = Array.isArray(sorter) ? sorter[0]! : sorter;
        onChange(
          turned
            ? { sort: String(columnKey), order: turned === 'ascend' ? 'up' : 'down' }
            : { sort: undefined, order: undefined },
        );
      }}
    />
  );
});
