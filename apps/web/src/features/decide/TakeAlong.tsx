import { Button, Progress, Radio, Select } from 'antd';
import { useEffect, useState } from 'react';
import type { PackageOrder, PreparedPackage } from '@ebrix/contract';
import { useListTrialNamesQuery } from '../../entities/trial/index.js';
import { formatAge, formatBytes } from '../../shared/format/format-quantity.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useDropPreparedMutation, useListPreparedQuery, usePreparePackageMutation } from './api.js';

const POLL_MS = 1000;
const isUnderWay = ({ state }: PreparedPackage): boolean => state === 'waiting' || state === 'making';

/** Packages are made on the server: one sees how far it is, may stop it, and a download that broke off goes on. */
export function TakeAlong() {
  const { data: trials = [] } = useListTrialNamesQuery();
  const [trialId, setTrialId] = useState<string>();
  const [isOne, setOne] = useState(false);
  const [channels, setChannels] = useState<PackageOrder['channels']>('none');
  const [prepare, preparing] = usePreparePackageMutation();
  const { failure } = useNotices();
  /** Those that were asked for in this window: their download begins by itself. */
  const [awaited, setAwaited] = useState<ReadonlySet<string>>(new Set());
  const isReady = !isOne || trialId !== undefined;
  const make = async (): Promise<void> => {
    const answer = await prepare({ trial: isOne ? trialId! : null, runs: null, channels });
    if (!failure(answer) && answer.data) setAwaited(new Set([...awaited, answer.data.id]));
  };
  return (
    <section className="section" aria-label="Take it along">
      <h2 className="mb-8">Take it along</h2>
      <p className="mb-8">
        A zip with every table as CSV, each column described with its unit, the raw logs byte for byte, photos, runs
        with their figures side by side, and a checksum for each file. Programs read it without Ebrix; Ebrix takes it
        back without loss. It holds the names of riders and of who waived what.
      </p>
      <Radio.Group
        value={isOne}
        onChange={({ target }) => setOne(target.value as boolean)}
        options={[
          { value: false, label: 'Everything' },
          { value: true, label: 'One trial and what it stands on' },
        ]}
      />
      {isOne && (
        <Select
          className="add-criterion block"
          placeholder="Choose a trial"
          aria-label="Trial to take along"
          showSearch={{ optionFilterProp: 'label' }}
          value={trialId ?? null}
          options={trials.map(({ id, question }) => ({ value: id, label: question }))}
          onChange={(id: string | null) => setTrialId(id ?? undefined)}
        />
      )}
      <div className="mt-8">
        <span id="channels-along">Cleaned channels of each log</span>{' '}
        <Radio.Group
          aria-labelledby="channels-along"
          value={channels}
          onChange={({ target }) => setChannels(target.value as PackageOrder['channels'])}
          options={[
            { value: 'none', label: 'without' },
            { value: 'csv', label: 'as CSV (large)' },
            { value: 'parquet', label: 'as Parquet' },
          ]}
        />
      </div>
      <div className="actions mt-8">
        <Button type="primary" disabled={!isReady} loading={preparing.isLoading} onClick={() => void make()}>
          Make the data package
        </Button>
        <Button href="/api/package/workbook" download>
          Runs and figures as XLSX
        </Button>
      </div>
      <Prepared awaited={awaited} trialOf={(id) => trials.find((trial) => trial.id === id)?.question} />
    </section>
  );
}

interface PreparedProps {
  readonly awaited: ReadonlySet<string>;
  readonly trialOf: (id: string) => string | undefined;
}
function Prepared({ awaited, trialOf }: PreparedProps) {
  const { data: packages = [] } = useListPreparedQuery(undefined, { refetchOnMountOrArgChange: true });
  const isBusy = packages.some(isUnderWay);
  useListPreparedQuery(undefined, { pollingInterval: isBusy ? POLL_MS : 0, skip: !isBusy });
  if (packages.length === 0) return null;
  return (
    <ul className="prepared" aria-label="Data packages made here">
      {packages.map((one) => (
        <PreparedRow key={one.id} one={one} of={ofWhat(one.order, trialOf)} downloadsItself={awaited.has(one.id)} />
      ))}
    </ul>
  );
}

interface RowProps {
  readonly one: PreparedPackage;
  readonly of: string;
  readonly downloadsItself: boolean;
}
function PreparedRow({ one, of, downloadsItself }: RowProps) {
  const [drop, dropping] = useDropPreparedMutation();
  const { failure } = useNotices();
  const { id, state, filesDone, filesOf, bytes, problem, at } = one;
  const href = `/api/packages/${id}/file`;
  const isReady = state === 'ready';
  useEffect(() => {
    if (isReady && downloadsItself) location.assign(href);
  }, [isReady, downloadsItself, href]);
  const leave = (name: string) => (
    <Button
      size="small"
      loading={dropping.isLoading}
      aria-label={`${name}: ${of}`}
      onClick={() => void drop(id).then(failure)}
    >
      {name}
    </Button>
  );
  return (
    <li>
      <span>{of}</span>
      {isUnderWay(one) && (
        <>
          <span role="status" className="quiet">
            {state === 'waiting' || filesOf === 0
              ? 'waiting for its turn'
              : `${filesDone} of ${filesOf} files, ${formatBytes(bytes)}`}
          </span>
          <Progress
            percent={filesOf === 0 ? 0 : Math.round((100 * filesDone) / filesOf)}
            showInfo={false}
            aria-label={`Files of ${of}`}
          />
          {leave('Stop')}
        </>
      )}
      {isReady && (
        <>
          <a href={href} download>
            Download, {formatBytes(bytes)}
          </a>
          <span className="quiet">made {formatAge(at)} ago, kept for a day</span>
          {leave('Drop')}
        </>
      )}
      {state === 'failed' && (
        <>
          <span className="problem">{problem}</span>
          {leave('Drop')}
        </>
      )}
    </li>
  );
}

function ofWhat({ trial, runs, channels }: PackageOrder, trialOf: PreparedProps['trialOf']): string {
  const what = trial ? (trialOf(trial) ?? 'A trial') : runs ? `${runs.length} runs` : 'Everything';
  return channels === 'none' ? what : `${what}, channels as ${channels === 'csv' ? 'CSV' : 'Parquet'}`;
}
