import { Button, Checkbox, Form, Input, Select } from 'antd';
import { useEffect, useState } from 'react';
import { z } from 'zod';
import type { ImportFile, MappingDto, Outing, PartOfOuting, RunAssignment } from '@ebrix/contract';
import { errorCode } from '../../shared/api/base-api.js';
import { formatDay } from '../../shared/format/format-quantity.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { readDraft } from '../../shared/ui/stored-draft.js';
import { useDiscardImportMutation, useStartImportMutation } from '../../entities/import/index.js';
import { ClearanceWaiverFields, type ClearanceWaiver } from './ClearanceWaiverFields.js';
import { SplitOuting } from './SplitOuting.js';
import {
  AssignmentFields,
  confirmedParts,
  toAssignment,
  type AssignmentValues,
  type ProposedPart,
} from '../../entities/run/index.js';
import { useListOutingsQuery } from '../../entities/outing/index.js';
import { ColumnMapping, openQuestions, resolvedMapping } from '../../entities/log/index.js';

/** By file; `isKnown` marks those the form has seen. */
type Assignments = Record<string, AssignmentValues & { isKnown?: boolean }>;

const LAST = 'ebrix.last-assignment';
const DRAFT = 'draft.import';
/** By file; what its fields hold the form and the server check. */
const assignmentsSchema = z.record(z.string(), z.record(z.string(), z.unknown()));

/** What stays from file to file. Never the setup, and never the outing: a file of another day is of another one. */
function lastAssignment(): Partial<RunAssignment> {
  try {
    const { courseId, riderId, loggerId } = JSON.parse(localStorage.getItem(LAST) ?? '{}') as Partial<RunAssignment>;
    return { courseId, riderId, loggerId } as Partial<RunAssignment>;
  } catch {
    return {};
  }
}

/** The outing of the day that the file's own clock tells, where there is just one. */
function outingOfDay(outings: readonly Outing[], startedAt: string): string | undefined {
  const same = outings.filter(({ date }) => daysOf(startedAt).includes(date));
  return same.length === 1 ? same[0]!.id : undefined;
}
/** The day where the rider was, and that of a logger which keeps universal time. */
function daysOf(startedAt: string): string[] {
  return [new Date(startedAt).toLocaleDateString('sv-SE'), startedAt.slice(0, 10)];
}

/** When the file was ridden by its own clock, and a word where the chosen outing is of another day. */
function OutingDay({ file, outings }: { readonly file: ImportFile; readonly outings: readonly Outing[] }) {
  const chosen: string | undefined = Form.useWatch(
    (all: Assignments) => all[file.id]?.outingId,
    Form.useFormInstance(),
  );
  const startedAt = file.inspection?.startedAt;
  if (!startedAt) return null;
  const outing = outings.find(({ id }) => id === chosen);
  const isOther = outing !== undefined && !daysOf(startedAt).includes(outing.date);
  return (
    <p className={isOther ? 'caution' : 'quiet'} role={isOther ? 'alert' : undefined}>
      Ridden {new Date(startedAt).toLocaleString()} by the log’s clock.
      {isOther && ` The chosen outing is of ${formatDay(outing.date)}: is the clock wrong, or the outing?`}
    </p>
  );
}

/** Files that wait to be told what was ridden. */
export function Assign({ files }: { readonly files: readonly ImportFile[] }) {
  const [form] = Form.useForm<Assignments>();
  const [mappings, setMappings] = useState<Record<string, MappingDto>>({});
  const [profiles, setProfiles] = useState<Record<string, string | null>>({});
  const [start, { isLoading, error }] = useStartImportMutation();
  const [clearanceWaiver, setClearanceWaiver] = useState<ClearanceWaiver | null>(null);
  const { data: outings } = useListOutingsQuery();
  const isClearanceOpen = errorCode(error) === 'clearance-open';
  const [discard] = useDiscardImportMutation();
  const [parts, setParts] = useState<Record<string, readonly ProposedPart[] | undefined>>({});
  const mappingToSend = (file: ImportFile): MappingDto | null =>
    file.inspection!.format === 'csv' ? resolvedMapping(file.inspection!, mappingOf(file)) : null;
  const partsOf = (file: ImportFile): PartOfOuting[] =>
    confirmedParts(parts[file.id], (form.getFieldValue([file.id, 'courseId']) as string | undefined) ?? '');
  const mappingOf = (file: ImportFile): MappingDto => mappings[file.id] ?? file.inspection!.mapping;
  const blocked = files.filter((file) =>
    openQuestions(file.inspection!, mappingOf(file)).some(({ blocking }) => blocking),
  );
  // A file new on the list starts from what was typed before a reload, else from the last one's choices.
  useEffect(() => {
    const stored = readDraft(sessionStorage, DRAFT, (value) => assignmentsSchema.safeParse(value).data) ?? {};
    for (const { id } of files)
      if (form.getFieldValue([id, 'isKnown']) === undefined)
        form.setFieldValue(id, {
          emptied: false,
          testKind: 'range',
          ...((stored[id] as Assignments[string] | undefined) ?? lastAssignment()),
          isKnown: true,
        });
  }, [files, form]);
  useEffect(() => {
    for (const { id, inspection } of files)
      if (outings && inspection?.startedAt && form.getFieldValue([id, 'outingId']) === undefined)
        form.setFieldValue([id, 'outingId'], outingOfDay(outings, inspection.startedAt));
  }, [files, form, outings]);
  const submit = async (values: Assignments): Promise<void> => {
    const items = files.map((file) => {
      return {
        importId: file.id,
        mapping: mappingToSend(file),
        assignment: toAssignment(values[file.id]!),
        parts: partsOf(file),
        profileName: profiles[file.id] ?? null,
        clearanceWaiver,
      };
    });
    const result = await start({ items });
    if ('error' in result) return;
    setClearanceWaiver(null);
    sessionStorage.removeItem(DRAFT);
    const last = items.at(-1)!.assignment;
    localStorage.setItem(LAST, JSON.stringify(last));
  };
  const runCount = files.reduce((sum, file) => sum + Math.max(1, partsOf(file).length), 0);
  const copyToAll = (from: string): void => {
    const own = form.getFieldValue(from) as Assignments[string];
    form.setFieldsValue(Object.fromEntries(files.map(({ id }) => [id, own])));
  };
  return (
    <Form
      form={form}
      layout="vertical"
      requiredMark={false}
      onFinish={(values) => void submit(values)}
      onValuesChange={() => sessionStorage.setItem(DRAFT, JSON.stringify(form.getFieldsValue(true)))}
      scrollToFirstError
    >
      {files.map((file, index) => (
        <section key={file.id} className="sheet section min-w-0" aria-label={file.fileName}>
          <h2 className="break-anywhere mb-8">{file.fileName}</h2>
          <Recognised
            file={file}
            mapping={mappingOf(file)}
            onMapping={(mapping) => setMappings({ ...mappings, [file.id]: mapping })}
            onProfile={(name) => setProfiles({ ...profiles, [file.id]: name })}
            profile={profiles[file.id] ?? null}
          />
          {file.problem && (
            <p className="problem" role="alert">
              {file.problem.message}
            </p>
          )}
          <h3 className="mt-16 mb-2 mx-0">Ride details</h3>
          <OutingDay file={file} outings={outings ?? []} />
          <AssignmentFields prefix={[file.id]} />
          <SplitOuting
            file={file}
            mapping={mappingToSend(file)}
            courseOf={() => form.getFieldValue([file.id, 'courseId']) as string | undefined}
            parts={parts[file.id]}
            onParts={(next) => setParts({ ...parts, [file.id]: next })}
          />
          <div className="actions">
            {index === 0 && files.length > 1 && (
              <Button onClick={() => copyToAll(file.id)}>Apply to all {files.length} files</Button>
            )}
            <Button onClick={() => void discard(file.id)}>Skip this file</Button>
          </div>
        </section>
      ))}
      <div
        style={{
          position: 'sticky',
          bottom: 0,
          // Fields have layers of their own.
          zIndex: 3,
          background: 'var(--ground)',
          padding: '14px 0',
          marginTop: 8,
          borderTop: '1px solid var(--hairline)',
        }}
        className="actions"
      >
        <Button type="primary" htmlType="submit" size="large" loading={isLoading} disabled={blocked.length > 0}>
          {runCount === 1 ? 'Make this run' : `Make ${runCount} runs`}
        </Button>
        {blocked.length > 0 && (
          <span className="self-center">Answer first: {blocked.map(({ fileName }) => fileName).join(', ')}</span>
        )}
        {error !== undefined && <Problem error={error} />}
        {isClearanceOpen && <ClearanceWaiverFields value={clearanceWaiver} onChange={setClearanceWaiver} />}
      </div>
    </Form>
  );
}

interface RecognisedProps {
  readonly file: ImportFile;
  readonly mapping: MappingDto;
  readonly profile: string | null;
  readonly onMapping: (mapping: MappingDto) => void;
  readonly onProfile: (name: string | null) => void;
}

const DELIMITER_LABELS: Readonly<Record<string, string>> = {
  ',': 'commas',
  ';': 'semicolons',
  '\t': 'tabs',
  '|': 'bars',
};

function Recognised({ file, mapping, profile, onMapping, onProfile }: RecognisedProps) {
  const inspection = file.inspection!;
  const used = mapping.columns.filter(({ channel }) => channel !== null).length;
  const open = openQuestions(inspection, mapping);
  const needsDecimal = inspection.questions.some(({ kind }) => kind === 'decimal');
  return (
    <div style={{ display: 'grid', gap: 10, gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <p>
        {inspection.format === 'gpx'
          ? 'GPX track.'
          : `Table with ${DELIMITER_LABELS[inspection.delimiter ?? ','] ?? 'separators'}, ${mapping.decimal === ',' ? 'decimal commas' : 'decimal points'}, ${inspection.encoding.toUpperCase()}.`}{' '}
        {used} of {mapping.columns.length} columns used.
        {inspection.profile && ` Read as logger profile "${inspection.profile.name}".`}
      </p>
      {open.map(({ text, blocking }) => (
        <p key={text} className={blocking ? 'caution' : 'quiet'}>
          {text} {blocking ? '' : 'Until you answer, the column is left out.'}
        </p>
      ))}
      {needsDecimal && (
        <label>
          Decimal mark{' '}
          <Select
            aria-label="Decimal mark"
            className="w-150"
            value={mapping.decimal ?? null}
            placeholder="choose"
            options={[
              { value: '.', label: 'point: 1.234 is small' },
              { value: ',', label: 'comma: 1,234 is small' },
            ]}
            onChange={(decimal: '.' | ',') => onMapping({ ...mapping, decimal })}
          />
        </label>
      )}
      {inspection.format === 'csv' && (
        <details open={open.some(({ blocking }) => blocking)}>
          <summary>Columns and units</summary>
          <ColumnMapping inspection={inspection} mapping={mapping} onChange={onMapping} />
          <div className="actions mt-10 items-center">
            <Checkbox
              checked={profile !== null}
              onChange={({ target }) => onProfile(target.checked ? 'My logger' : null)}
            >
              Remember this for files with the same columns
            </Checkbox>
            {profile !== null && (
              <Input
                aria-label="Name of the logger profile"
                className="w-220"
                value={profile}
                onChange={({ target }) => onProfile(target.value)}
              />
            )}
          </div>
        </details>
      )}
    </div>
  );
}
