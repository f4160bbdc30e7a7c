import { Button, Checkbox, Input, Radio, Select } from 'antd';
import { useState } from 'react';
import { Link, useNavigate, useSearchParams } from 'react-router';
import {
  REPORT_FORMS,
  reportIssueSchema,
  reportSpecSchema,
  type Report,
  type ReportForm,
  type ReportSpec,
} from '@ebrix/contract';
import { useListTrialNamesQuery } from '../../entities/trial/index.js';
import { useUnits } from '../../shared/preferences/index.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';
import { useKeptState } from '../../shared/ui/use-kept-state.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useIssueReportMutation, useListUsesQuery, usePreviewReportMutation } from './api.js';
import { FORM_NAMES, newDraft, partsFor, readReportDraft, toParts, type ReportDraft } from './report-draft.js';
import { ReportParts } from './ReportParts.js';

/** Puts a report together: trial, form, sections in order with own words between, preview, issue. */
export function ReportEditor({ follows }: { readonly follows: Report | undefined }) {
  const navigate = useNavigate();
  const [params] = useSearchParams();
  const system = useUnits();
  const { success } = useNotices();
  const { data: trials = [] } = useListTrialNamesQuery();
  const { data: uses = [] } = useListUsesQuery();
  const [draft, setDraft, letGo] = useKeptState(
    // One begun from a trial is not mixed up with one that was begun from nothing.
    `report.${follows?.id ?? params.get('trial') ?? 'new'}`,
    () => newDraft(follows, params.get('trial')),
    readReportDraft,
  );
  const { trialId, title, form, withNames, useIds, parts } = draft;
  const change = (part: Partial<ReportDraft>): void => setDraft((now) => ({ ...now, ...part }));
  const [by, setBy] = useState(rememberedName());
  const [problem, setProblem] = useState<string>();
  const [preview, previewing] = usePreviewReportMutation();
  const [issue, issuing] = useIssueReportMutation();
  const known = useIds.filter((id) => uses.some((use) => use.id === id));
  const spec = { trialId, title, form, units: system, withNames, useIds: known, parts: toParts(parts) };
  const readSpec = (): ReportSpec | undefined => {
    const read = reportSpecSchema.safeParse(spec);
    setProblem(read.success ? undefined : read.error.issues[0]!.message);
    return read.data;
  };
  const send = async (): Promise<void> => {
    const read = reportIssueSchema.safeParse({ spec, by, follows: follows?.id ?? null });
    setProblem(read.success ? undefined : read.error.issues[0]!.message);
    if (!read.success) return;
    const { data } = await issue(read.data);
    if (!data) return;
    rememberName(by);
    letGo(draft);
    success(`Report ${data.number}, version ${data.version}, is issued.`);
    void navigate('/decide/reports');
  };
  return (
    <div className="report-editor mt-12">
      <div className="grid gap-10">
        <p>
          <Link to="/decide/reports">All reports</Link>
          {follows && ` · new version of report ${follows.number}: what is told otherwise is listed at its end`}
        </p>
        <label>
          <span>Trial</span>
          <Select
            value={trialId}
            placeholder="Choose a trial"
            aria-label="Trial"
            showSearch={{ optionFilterProp: 'label' }}
            options={trials.map(({ id, question }) => ({ value: id, label: question }))}
            onChange={(id: string | null) => {
              const chosen = trials.find((trial) => trial.id === id);
              change({ trialId: id, ...(title === '' && chosen && { title: chosen.question.slice(0, 80) }) });
            }}
          />
        </label>
        <label>
          <span>Title</span>
          <Input
            value={title}
            maxLength={80}
            aria-label="Title"
            onChange={({ target }) => change({ title: target.value })}
          />
        </label>
        <Radio.Group
          value={form}
          aria-label="Form"
          className="form-choice"
          onChange={({ target }) => {
            const next = target.value as ReportForm;
            change({ form: next, parts: partsFor(next, parts) });
          }}
          options={REPORT_FORMS.map((value) => ({ value, label: FORM_NAMES[value] }))}
        />
        {form === 'public' && (
          <Checkbox checked={withNames} onChange={({ target }) => change({ withNames: target.checked })}>
            With names of people
          </Checkbox>
        )}
        <label>
          <span>Uses to weigh</span>
          <Select
            mode="multiple"
            value={[...known]}
            placeholder="None"
            aria-label="Uses to weigh"
            options={uses.map(({ id, name }) => ({ value: id, label: name }))}
            onChange={(list: string[]) => change({ useIds: list })}
          />
        </label>
        <ReportParts parts={parts} onChange={(list) => change({ parts: list })} />
        <label>
          <span>Issued by</span>
          <Input value={by} maxLength={80} aria-label="Issued by" onChange={({ target }) => setBy(target.value)} />
        </label>
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        {issuing.error !== undefined && <Problem error={issuing.error} />}
        {previewing.error !== undefined && <Problem error={previewing.error} />}
        <div className="actions">
          <Button
            loading={previewing.isLoading}
            onClick={() => {
              const read = readSpec();
              if (read) void preview(read);
            }}
          >
            Preview
          </Button>
          <Button type="primary" loading={issuing.isLoading} onClick={() => void send()}>
            Issue
          </Button>
        </div>
        <p className="quiet">
          An issued report is frozen: number, day and a fingerprint of what it was made of. Print it, or save it as one
          file that opens without network.
        </p>
      </div>
      <div className="report-preview">
        {previewing.data ? (
          <iframe title="Preview of the report" sandbox="" srcDoc={previewing.data.html} />
        ) : (
          <p className="quiet">The preview shows here.</p>
        )}
      </div>
    </div>
  );
}
