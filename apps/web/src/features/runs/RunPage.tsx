import { Button } from 'antd';
import { useEffect, useState } from 'react';
import { useDispatch } from 'react-redux';
import { Link, useNavigate, useParams, useSearchParams } from 'react-router';
import type { GivenSpanDto, RunDetail } from '@ebrix/contract';
import { formatBytes, formatClock, formatDay, formatQuantity } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { QueryView, StaleNotice } from '../../shared/ui/QueryView.js';
import { Said } from '../../shared/ui/SentenceText.js';
import { Page } from '../../shared/ui/Page.js';
import { useOpened } from '../../shared/ui/piece.js';
import { TEST_KINDS } from '@ebrix/core/analysis';
import { ridingText } from '@ebrix/core/compare';
import { StripRecorder, StripTable, TestCharts } from '../../shared/charts/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import {
  runsApi,
  useCorrectSpansMutation,
  useDeleteRunsMutation,
  useGetRunQuery,
  useGetStripQuery,
  useIncludeRunMutation,
  useRestoreRunsMutation,
  type TimeSpan,
} from '../../entities/run/index.js';
import { ObjectHistory } from '../../entities/account/index.js';
import { OutingLine } from './OutingLine.js';
import { CleaningReport } from '../../entities/run/index.js';
import { Derivation } from '../../entities/run/index.js';
import { FigureStrip, FigureTable } from '../../entities/run/index.js';
import { excludeForm, reassignForm, splitRun } from './forms.js';
import { ManualReadings } from './ManualReadings.js';
import { ProposedRiding } from './ProposedRiding.js';
import { WheelSuspect } from './WheelSuspect.js';
import { moveText, Spans, spansWith } from './Spans.js';

const BINS = 800;
/** How often a page asks whether its figures are worked out. */
const POLL_MS = 700;

export default function RunPage() {
  const { id = '' } = useParams();
  const [isWaiting, setWaiting] = useState(false);
  const query = useGetRunQuery(id, { pollingInterval: isWaiting ? POLL_MS : 0 });
  const isRecalculating = query.currentData?.isRecalculating ?? false;
  if (isRecalculating !== isWaiting) setWaiting(isRecalculating);
  const dispatch = useDispatch();
  useEffect(() => {
    if (!isWaiting) return undefined;
    // When the figures have come, verdicts and lists that were looked at before are of the old ones.
    return () => void dispatch(runsApi.util.invalidateTags(['Run', 'Trial']));
  }, [isWaiting, dispatch]);
  if (query.currentData)
    return (
      <>
        <StaleNotice query={query} />
        <Run key={query.currentData.id} run={query.currentData} />
      </>
    );
  return (
    <Page title="Run" crumb={<Link to="/runs">Runs</Link>}>
      <QueryView query={query}>{() => null}</QueryView>
    </Page>
  );
}

function Run({ run }: { readonly run: RunDetail }) {
  const [params, setParams] = useSearchParams();
  const excluding = useOpened(excludeForm);
  const reassigning = useOpened(reassignForm);
  const system = useUnits();
  const splitting = useOpened(splitRun);
  const navigate = useNavigate();
  const [include] = useIncludeRunMutation();
  const [deleteRuns] = useDeleteRunsMutation();
  const [restore] = useRestoreRunsMutation();
  const notices = useNotices();
  const open = params.get('figure');
  const set = (name: string, value: string | null): void =>
    setParams(
      (known) => {
        if (value === null) known.delete(name);
        else known.set(name, value);
        return known;
      },
      { replace: true },
    );
  const bringBack = async (version: number): Promise<void> => {
    const result = await include({ id: run.id, version });
    notices.failure(result);
  };
  const undelete = async (): Promise<void> => {
    if (!notices.failure(await restore([run.id]))) void navigate(`/runs/${run.id}`);
  };
  const remove = async (): Promise<void> => {
    if (notices.failure(await deleteRuns([run.id]))) return;
    notices.undoable('deleted', 'Run deleted.', () => void undelete());
  };
  useShortcut('x', 'Leave this run out, or include it again', () =>
    run.exclusion ? void bringBack(run.version) : void excluding.open(true),
  );
  const figure = run.allFigures.find(({ key }) => key === open);
  return (
    <Page
      title={`${run.setup.name}, ${run.course.name}`}
      crumb={
        <>
          <Link to="/runs">Runs</Link>
          {run.trials[0] && (
            <>
              {' · '}
              <Link to={`/trials/${run.trials[0].id}/verdict`}>{run.trials[0].question}</Link>
            </>
          )}
          {' · '}
          <Link to={`/how/${run.testKind}`}>{TEST_KINDS[run.testKind].label}</Link>
          {` · ${run.outing.title ? `${run.outing.title}, ` : ''}${formatDay(run.outing.date)}`}
        </>
      }
      actions={
        run.deletedAt === null && (
          <>
            <Button onClick={() => void reassigning.open(true)}>Edit ride details</Button>
            {run.channels.length > 0 && <Button onClick={() => void splitting.open(true)}>Split this run</Button>}
            <Button onClick={() => void remove()}>Delete</Button>
            {run.exclusion ? (
              <Button type="primary" onClick={() => void bringBack(run.version)}>
                Include again
              </Button>
            ) : (
              <Button onClick={() => void excluding.open(true)}>Leave out</Button>
            )}
          </>
        )
      }
    >
      {run.deletedAt !== null && (
        <p className="caution mb-14" role="status">
          Deleted on {formatDay(run.deletedAt.slice(0, 10))}: it is in no list and no verdict. Parts that were made of
          it go when it comes back.{' '}
          <Button size="small" onClick={() => void undelete()}>
            Bring it back
          </Button>
        </p>
      )}
      {splitting.value && run.deletedAt === null && (
        <splitRun.Part
          run={run}
          onCancel={splitting.close}
          onDone={(runIds) => {
            splitting.close();
            notices.undoable('split', `Made ${runIds.length} runs of it.`, () => void undelete());
            void navigate(`/runs/${runIds[0]}`);
          }}
        />
      )}
      {run.isSimulated && (
        <p className="caution mb-14">
          Simulated: ridden by the ride model, not by a rider. It counts in no verdict, repeatability or plan unless a
          trial asks for it.
        </p>
      )}
      <WheelSuspect run={run} />
      <ProposedRiding run={run} />
      {run.exclusion && <p className="caution mb-14">Left out of comparisons: {run.exclusion.reason}</p>}
      <FigureStrip figures={run.allFigures} open={open} onOpen={(key) => set('figure', key)} />
      {figure && (
        <div className="mt-14">
          <Derivation
            figure={figure}
            method={run.method}
            onClose={() => set('figure', null)}
            onShowSpan={(logSpan) => setShownSpan(setParams, logSpan)}
          />
        </div>
      )}
      {run.charts.length > 0 && (
        <section className="section mt-16" aria-label="Charts">
          <TestCharts charts={run.charts} />
        </section>
      )}
      {run.channels.length > 0 ? (
        <Chart key={run.id} run={run} />
      ) : (
        <p className="section quiet">Ridden without a logger: the figures come from what was timed and read by hand.</p>
      )}
      {run.manualReadings && <ManualReadings manualReadings={run.manualReadings} />}
      <div className="split section">
        <div>
          <h2>All figures</h2>
          <FigureTable figures={run.allFigures} open={open} onOpen={(key) => set('figure', key)} />
          {run.figureHistory.length > 0 && (
            <details className="mt-10">
              <summary className="quiet">Earlier values ({run.figureHistory.length})</summary>
              <ul>
                {run.figureHistory.map(({ key, value, unit, method, replacedAt }) => (
                  <li key={key + replacedAt}>
                    {key} {value.toPrecision(4)} {unit}, {method.name} {method.version}, replaced{' '}
                    {new Date(replacedAt).toLocaleString()}
                  </li>
                ))}
              </ul>
            </details>
          )}
        </div>
        <aside>
          {run.warnings.length > 0 && (
            <>
              <h2>Notes</h2>
              <ul className="mt-6 mb-18 mx-0 pl-18">
                {run.warnings.map(({ code, message, said }) => (
                  <li key={code + message}>
                    <Said text={message} said={said} />
                  </li>
                ))}
              </ul>
            </>
          )}
          {run.channels.length > 0 && (
            <>
              <h2 className="mb-6">Cleaning</h2>
              <CleaningReport report={run.cleaning} />
            </>
          )}
          <h2 className="mt-18 mb-6 mx-0">Source</h2>
          <p className="break-anywhere">
            {run.fileName}, {formatBytes(run.byteCount)}, {formatClock(run.durationS)} long.{' '}
            <Link to={`/bench/setups/${run.setup.id}`}>
              {run.setup.name}, revision {run.setup.revisionNumber}
            </Link>
            {run.rider && `, ridden by ${run.rider.name}`}
            {`, ${ridingText(run.riding) || 'way of riding not written down'}`}
            {run.tyrePressureBar !== null && `, tyres ${formatQuantity(run.tyrePressureBar, 'bar', system)}`}
            {run.perceivedEffort !== null && `, felt ${run.perceivedEffort} of 10`}
            {run.logger && `, logged by ${run.logger.name}`}.
          </p>
          <OutingLine outingId={run.outing.id} />
          <p className="mt-6">
            <a href={`/api/runs/${run.id}/file`}>Original file</a>
            {run.channels.length > 0 && (
              <>
                {' · '}
                <a href={`/api/runs/${run.id}/channels.csv`}>Cleaned channels (CSV)</a>
              </>
            )}
          </p>
          {run.exclusionHistory.some(({ undoneAt }) => undoneAt !== null) && (
            <p className="quiet mt-8">
              Left out earlier and included again:{' '}
              {run.exclusionHistory
                .filter(({ undoneAt }) => undoneAt !== null)
                .map(({ reason }) => reason)
                .join('; ')}
            </p>
          )}
        </aside>
      </div>
      <ObjectHistory ids={[run.id]} />
      {excluding.value && (
        <excludeForm.Part
          run={run}
          onDone={(excluded) => {
            excluding.close();
            if (!excluded) return;
            notices.undoable('excluded', 'Left out of comparisons.', () => void bringBack(excluded.version));
          }}
        />
      )}
      {reassigning.value && <reassignForm.Part run={run} onDone={reassigning.close} />}
    </Page>
  );
}

function setShownSpan(setParams: ReturnType<typeof useSearchParams>[1], logSpan: TimeSpan | undefined): void {
  setParams(
    (known) => {
      for (const [name, value] of [
        ['from', logSpan?.fromS],
        ['to', logSpan?.toS],
      ] as const) {
        if (value === undefined) known.delete(name);
        else known.set(name, value.toFixed(2));
      }
      return known;
    },
    { replace: true },
  );
}

function Chart({ run }: { readonly run: RunDetail }) {
  const [params, setParams] = useSearchParams();
  const [from, to] = [Number(params.get('from') ?? NaN), Number(params.get('to') ?? NaN)];
  const chosen = from >= 0 && to > from ? { fromS: from, toS: to } : undefined;
  // A run out of an outing is first seen alone.
  const logSpan = chosen ?? run.logSpan ?? undefined;
  const [correct, { error }] = useCorrectSpansMutation();
  const save = (spans: GivenSpanDto[], what: string): void =>
    void correct({ id: run.id, version: run.version, spans, what });
  const query = useGetStripQuery({ id: run.id, bins: BINS, ...(logSpan && { logSpan }) });
  return (
    <div className="section mt-16">
      <QueryView query={query} keepPrevious>
        {(strip) => (
          <>
            <StripRecorder
              strip={strip}
              cleaning={run.cleaning}
              isFetching={query.isFetching}
              onShowSpan={(next) => setShownSpan(setParams, next)}
              spans={run.spans}
              onSpan={(index, edges) => save(spansWith(run.spans, index, edges), moveText(run.spans[index]!, edges))}
            />
            <StripTable strip={strip} />
            <Spans
              run={run}
              shown={chosen}
              onShowSpan={(next) => setShownSpan(setParams, next)}
              onCorrect={save}
              error={error}
            />
          </>
        )}
      </QueryView>
    </div>
  );
}
