import { Button, Progress } from 'antd';
import { useRef } from 'react';
import { Link } from 'react-router';
import type { ImportFile } from '@ebrix/contract';
import { formatBytes } from '../../shared/format/format-quantity.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Page } from '../../shared/ui/Page.js';
import { piece } from '../../shared/ui/piece.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useDiscardImportMutation, useListImportsQuery, useStageFilesMutation } from '../../entities/import/index.js';

const assign = piece(async () => (await import('./Assign.js')).Assign);

export default function ImportPage() {
  const query = useListImportsQuery();
  const [stage, staging] = useStageFilesMutation();
  const drop = useRef<HTMLDivElement>(null);
  useShortcut('o', 'Choose files', () => drop.current?.querySelector('button')?.click());
  return (
    <Page title="Import rides" crumb={<Link to="/runs">Runs</Link>}>
      <div ref={drop}>
        <FileDrop
          isMultiple
          label="Choose log files"
          hint="or drop them here: CSV or GPX, up to 96 MiB; longer ones gzipped"
          accept=".csv,.txt,.tsv,.gpx,.gz,.log"
          isBusy={staging.isLoading}
          onFiles={(files) => {
            // Comes beside the files; what does not come says so where it is drawn.
            void assign.bring().catch(() => undefined);
            void stage(files);
          }}
        />
      </div>
      {staging.error !== undefined && <Problem error={staging.error} />}
      <QueryView query={query}>{(files) => <Files files={files} />}</QueryView>
    </Page>
  );
}

function Files({ files }: { readonly files: readonly ImportFile[] }) {
  const waiting = files.filter(
    ({ status, inspection }) => (status === 'staged' || status === 'failed') && inspection !== null,
  );
  const others = files.filter((file) => !waiting.includes(file));
  const finished = others.filter(({ status }) => status === 'done' || status === 'known');
  const [discard] = useDiscardImportMutation();
  return (
    <>
      {waiting.length > 0 && <assign.Part files={waiting} />}
      {others.length > 0 && (
        <section className="section">
          <div className="flex justify-between gap-12">
            <h2>Files</h2>
            {finished.length > 1 && (
              <Button size="small" onClick={() => finished.forEach(({ id }) => void discard(id))}>
                Clear all {finished.length} finished files from the list
              </Button>
            )}
          </div>
          <ul className="list-plain m-0 p-0" aria-live="polite">
            {[...others].reverse().map((file) => (
              <FileRow key={file.id} file={file} />
            ))}
          </ul>
        </section>
      )}
      {files.length === 0 && (
        <p className="quiet mt-16 max-w-620">
          Each file becomes a run, the log of a whole outing several. A log needs a time and at least one channel, such
          as speed (km/h), distance (m), voltage (V) and current (A). Nothing is guessed: you are asked about anything a
          file does not say.
        </p>
      )}
    </>
  );
}

const STEP_LABELS: Readonly<Record<ImportFile['step'], string>> = {
  '': '',
  waiting: 'waiting',
  reading: 'reading the file',
  storing: 'storing channels and figures',
};
const STATUS_LABELS = {
  staged: 'waiting',
  refused: 'not read',
  known: 'already imported',
  queued: 'queued',
  working: 'reading',
  done: 'done',
  failed: 'failed',
  cancelled: 'removed',
} as const;

function FileRow({ file }: { readonly file: ImportFile }) {
  const [discard] = useDiscardImportMutation();
  const isRunning = file.status === 'queued' || file.status === 'working';
  return (
    <li className="pt-9 pb-9 px-0 line-below flex gap-14 items-baseline flex-wrap">
      <strong className="break-anywhere">{file.fileName}</strong>
      <span className="quiet figures">{formatBytes(file.byteCount)}</span>
      <span style={{ flex: 1, minWidth: 220 }}>
        {file.problem ? (
          <span role="alert">
            <strong>{STATUS_LABELS[file.status]}: </strong>
            {file.problem.message}
            {file.problem.line !== null && ` (line ${file.problem.line})`}
          </span>
        ) : isRunning ? (
          <span className="quiet">{STEP_LABELS[file.step] || STATUS_LABELS[file.status]} …</span>
        ) : (
          <>
            {file.status === 'known' ? 'This file was already imported. ' : `${STATUS_LABELS[file.status]}. `}
            {file.runId && (
              <Link to={`/runs/${file.runId}`}>
                {file.runCount > 1 ? `Open the first of ${file.runCount} runs` : 'Open the run'}
              </Link>
            )}
          </>
        )}
      </span>
      {isRunning && (
        <Progress
          percent={file.status === 'queued' ? 5 : file.step === 'storing' ? 80 : 40}
          showInfo={false}
          className="w-120"
          size="small"
          aria-label={`${file.fileName}: ${STEP_LABELS[file.step]}`}
        />
      )}
      <Button
        size="small"
        onClick={() => void discard(file.id)}
        aria-label={`${isRunning ? 'Cancel' : 'Remove from list'}: ${file.fileName}`}
      >
        {isRunning ? 'Cancel' : 'Remove from list'}
      </Button>
    </li>
  );
}
