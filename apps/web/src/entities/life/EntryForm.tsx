import { SYMPTOMS } from '@ebrix/core/bench';
import { FAULT_EFFECTS, LIFE_KINDS, type LifeKind } from '@ebrix/core/life';
import type { UnitSystem } from '@ebrix/core/units';
import { Button, Input } from 'antd';
import { useId, useState } from 'react';
import { logEntrySchema, type LogEntry, type Subject } from '@ebrix/contract';
import { formatDay } from '../../shared/format/format-quantity.js';
import { useUnits } from '../../shared/preferences/index.js';
import { ConflictChoice, storedMeanwhile, type Difference } from '../../shared/ui/ConflictChoice.js';
import { OptionalNumber } from '../../shared/ui/NumberInput.js';
import { QuantityInput } from '../../shared/ui/QuantityInput.js';
import { Problem } from '../../shared/ui/QueryView.js';
import { rememberedName, rememberName } from '../../shared/ui/remembered-name.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useChangeEntryMutation } from './api.js';
import { draftOf, emptyDraft, entryOf, type EntryDraft } from './entry-draft.js';
import { entryWords } from './entry-words.js';
import { KindFields } from './KindFields.js';
import { useSendEntries, useWaiting } from './entry-queue.js';
import { settleRefused } from './waiting-entries.js';
import { Labelled, PlainSelect } from './fields.js';

const QUICK: readonly LifeKind[] = ['odometer', 'charge', 'fault', 'replacement', 'inspection', 'service'];
const FURTHER: readonly LifeKind[] = ['follow-up', 'note', 'accident', 'fitted', 'taken-off'];

export interface SubjectChoice {
  readonly subject: Subject;
  readonly name: string;
}
interface Props {
  /** One where the page is about one bike; more to choose from. */
  readonly choices: readonly SubjectChoice[];
  /** An entry that is changed; a new one is written else. */
  readonly stored?: LogEntry;
  readonly kind?: LifeKind;
  readonly stage?: string;
  readonly onDone?: () => void;
}

const keyOf = ({ kind, id }: Subject): string => `${kind}:${id}`;

/** One entry: what, when, how far. Kinds stand in a row, so that the usual ones are two touches away on a phone. */
export function EntryForm({ choices, stored, kind = 'odometer', stage, onDone }: Props) {
  const today = new Date().toLocaleDateString('sv');
  const [draft, setDraft] = useState<EntryDraft>(() =>
    stored ? draftOf(stored) : { ...emptyDraft(today, rememberedName(), kind), ...(stage !== undefined && { stage }) },
  );
  const [chosen, setChosen] = useState(() =>
    stored ? keyOf(stored.subject) : choices[0] ? keyOf(choices[0].subject) : '',
  );
  const [issues, setIssues] = useState<readonly string[]>([]);
  const [error, setError] = useState<unknown>();
  const [isBusy, setBusy] = useState(false);
  const send = useSendEntries();
  const [change, changing] = useChangeEntryMutation();
  // What it began from: the list may show a later version meanwhile, and what was typed stays.
  const [base] = useState(stored);
  const meanwhile = logEntrySchema.safeParse(storedMeanwhile(error));
  const system = useUnits();
  const notices = useNotices();
  const id = useId();
  const set = (by: Partial<EntryDraft>): void => setDraft((now) => ({ ...now, ...by }));
  const subject = choices.find((one) => keyOf(one.subject) === chosen)?.subject ?? stored?.subject;

  const isOutOfSight = subject?.kind === 'conversion';
  // Of a bike that nobody sees there is no display to read: all counts from its fitting.
  const odometerLabel = isOutOfSight ? 'Ridden since it was fitted' : 'Odometer, as shown';

  const store = async (version = base?.version): Promise<void> => {
    setError(undefined);
    if (!subject) {
      setIssues(['Choose a bike.']);
      return;
    }
    const made = entryOf(draft, subject, stored?.id ?? crypto.randomUUID(), stored?.source ?? null);
    setIssues('issues' in made ? made.issues : []);
    if ('issues' in made) return;
    if (draft.by.trim() !== '') rememberName(draft.by.trim());
    setBusy(true);
    if (base && version !== undefined) {
      const { id: _id, ...entry } = made.entry;
      const { error: refused } = await change({ stored: { id: base.id, version }, entry });
      setBusy(false);
      if (refused !== undefined) {
        setError(refused);
        return;
      }
      notices.success('Changed.');
      onDone?.();
      return;
    }
    const sent = await send([made.entry]);
    setBusy(false);
    if (sent.how === 'refused') {
      setError(sent.error);
      return;
    }
    notices.success(
      sent.how === 'stored'
        ? 'Written down.'
        : 'Ebrix does not answer: the entry waits in this browser and goes in by itself.',
    );
    setDraft({ ...emptyDraft(draft.day, draft.by, draft.kind), costCurrency: draft.costCurrency });
    onDone?.();
  };

  return (
    <form
      className="entry-form"
      aria-label={stored ? 'Change the entry' : 'New entry'}
      onSubmit={(event) => {
        event.preventDefault();
        void store();
      }}
    >
      <div className="entry-kinds" role="group" aria-label="What is it?">
        {[...QUICK, ...FURTHER].map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={draft.kind === one}
            className={FURTHER.includes(one) ? 'further' : ''}
            onClick={() => set({ kind: one })}
          >
            {LIFE_KINDS[one]}
          </button>
        ))}
      </div>
      <div className="entry-fields">
        {(choices.length > 1 || stored) && (
          <PlainSelect
            label="Bike"
            value={chosen}
            options={choices.map(({ subject: one, name }) => ({ value: keyOf(one), label: name }))}
            onChange={setChosen}
          />
        )}
        <Labelled label="Day" for={`${id}-day`}>
          <Input
            id={`${id}-day`}
            type="date"
            value={draft.day}
            max={today}
            onChange={({ target }) => set({ day: target.value })}
          />
        </Labelled>
        {draft.kind !== 'odometer' && !(isOutOfSight && draft.kind === 'fitted') && (
          <Labelled label={odometerLabel}>
            <QuantityInput
              aria-label={odometerLabel}
              unit="km"
              value={draft.odometerKm}
              onChange={(odometerKm) => set({ odometerKm })}
            />
          </Labelled>
        )}
        <KindFields draft={draft} set={set} id={id} symptoms={SYMPTOMS} effects={FAULT_EFFECTS} />
        <Labelled label="Cost">
          <span className="entry-cost">
            <OptionalNumber label="Cost" value={draft.costAmount} onChange={(costAmount) => set({ costAmount })} />
            <Input
              aria-label="Currency"
              value={draft.costCurrency}
              maxLength={3}
              onChange={({ target }) => set({ costCurrency: target.value.toUpperCase() })}
            />
          </span>
        </Labelled>
        <Labelled label="Written by" for={`${id}-by`}>
          <Input id={`${id}-by`} value={draft.by} maxLength={80} onChange={({ target }) => set({ by: target.value })} />
        </Labelled>
      </div>
      {issues.length > 0 && (
        <div className="problem" role="alert">
          {issues.map((words) => (
            <p key={words}>{words}</p>
          ))}
        </div>
      )}
      {meanwhile.success ? (
        <ConflictChoice
          what="This entry was saved there since you opened it."
          differences={differencesOf(meanwhile.data, draft, subject, system)}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          isBusy={changing.isLoading}
          onKeepMine={() => void store(meanwhile.data.version)}
          onTakeTheirs={() => {
            setError(undefined);
            onDone?.();
          }}
        />
      ) : (
        error !== undefined && <Problem error={error} />
      )}
      <div className="actions">
        <Button type="primary" htmlType="submit" loading={isBusy}>
          {stored ? 'Save the change' : 'Write it down'}
        </Button>
        {onDone && stored && <Button onClick={onDone}>Leave it</Button>}
      </div>
      {!stored && <Waiting />}
    </form>
  );
}

/** What was written here and did not get through: it waits, or was refused and is not lost. */
function Waiting() {
  const { waiting, refused } = useWaiting();
  const system = useUnits();
  return (
    <>
      {waiting > 0 && (
        <p className="quiet" role="status">
          {waiting === 1 ? 'One entry waits' : `${waiting} entries wait`} in this browser until Ebrix answers.
        </p>
      )}
      {refused.length > 0 && (
        <div className="problem" role="alert">
          {refused.map(({ entry, message }) => (
            <p key={entry.id}>
              {formatDay(entry.day)}, {entryWords(entry.details, system)}: {message}
            </p>
          ))}
          <Button onClick={() => settleRefused(true)}>Send again</Button>{' '}
          <Button onClick={() => settleRefused(false)}>Throw away</Button>
        </div>
      )}
    </>
  );
}

/** What the saved entry says otherwise than the one typed here. */
function differencesOf(
  theirs: LogEntry,
  draft: EntryDraft,
  subject: Subject | undefined,
  system: UnitSystem,
): Difference[] {
  const mine = subject && entryOf(draft, subject, theirs.id, theirs.source);
  if (!mine || 'issues' in mine) return [];
  const { day, odometerKm, by, details } = mine.entry;
  const text = (km: number | null): string => (km === null ? '–' : `${km} km`);
  return [
    { label: 'Day', theirs: formatDay(theirs.day), mine: formatDay(day) },
    { label: 'Odometer', theirs: text(theirs.odometerKm), mine: text(odometerKm) },
    { label: 'Says', theirs: entryWords(theirs.details, system), mine: entryWords(details, system) },
    { label: 'Written by', theirs: theirs.by, mine: by },
  ].filter((one) => one.theirs !== one.mine);
}
