import { Button, Input } from 'antd';
import { useDeferredValue, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import { useInputSchema, useSchema, type UseDto } from '@ebrix/contract';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { Problem, QueryView } from '../../shared/ui/QueryView.js';
import { useKeptState } from '../../shared/ui/use-kept-state.js';
import { useNotices } from '../../shared/ui/use-notices.js';
import { useArchiveUseMutation, useSaveUseMutation, useWeighUpQuery } from './api.js';
import { Criteria } from './Criteria.js';
import { askFor, draftOf, NEW_USE, readKeptUse, weighHere, type DraftUse, type KeptUse } from './live-use.js';
import { MustHaves } from './MustHaves.js';
import { Outcome } from './Outcome.js';
import { Turns } from './Turns.js';
import { differencesOfUse } from './use-clash.js';

interface Props {
  readonly stored: UseDto | undefined;
  readonly revisionIds: readonly string[];
}

/** One use: the answer on top, what makes it below; everything that is moved moves the answer at once. */
export function UseEditor({ stored, revisionIds }: Props) {
  const navigate = useNavigate();
  const { success, failure } = useNotices();
  const [{ version: began, draft }, setKept, letGo] = useKeptState<KeptUse>(
    `use.${stored?.id ?? 'new'}`,
    () => (stored ? { version: stored.version, draft: draftOf(stored) } : { version: 0, draft: NEW_USE }),
    readKeptUse,
  );
  // What this window began from: what comes in from elsewhere must not move it.
  const [base, setBase] = useState(stored && { ...stored, version: began });
  const [problem, setProblem] = useState<string>();
  const [save, saving] = useSaveUseMutation();
  const [archive] = useArchiveUseMutation();
  const { data: courses = [] } = useListCoursesQuery();
  const asked = JSON.stringify(askFor(draft, revisionIds));
  const request = useMemo(() => JSON.parse(asked) as ReturnType<typeof askFor>, [asked]);
  const query = useWeighUpQuery(request, { refetchOnMountOrArgChange: true });
  const settled = useDeferredValue(draft);
  const answer = query.data;
  const weighed = useMemo(() => (answer ? weighHere(settled, answer) : undefined), [settled, answer]);
  const isChanged = JSON.stringify(draft) !== JSON.stringify(base ? draftOf(base) : NEW_USE);
  const meanwhile = useSchema.safeParse(storedMeanwhile(saving.error));
  const change = (part: Partial<DraftUse>): void => {
    setKept((now) => ({ ...now, draft: { ...now.draft, ...part } }));
    setProblem(undefined);
  };
  const store = async (version: number | undefined): Promise<void> => {
    const read = useInputSchema.safeParse(draft);
    if (!read.success) {
      setProblem(read.error.issues[0]!.message);
      return;
    }
    const { data } = await save({
      input: read.data,
      ...(base && version !== undefined && { stored: { id: base.id, version } }),
    });
    if (!data) return;
    success('Saved.');
    setBase(data);
    letGo(base ? { version: data.version, draft: draftOf(data) } : { version: 0, draft: NEW_USE });
    if (!base) void navigate(`/decide/uses/${data.id}?with=${revisionIds.join(',')}`, { replace: true });
  };
  const differences = differencesOfUse(draft, meanwhile.data);
  return (
    <div className="split mt-12">
      <div className="use-editor">
        <QueryView query={query} keepPrevious>
          {(data) => (
            <>
              {weighed && <Outcome answer={data} weighed={weighed} />}
              <section className="section" aria-label="What counts">
                <h2 className="mb-8">What counts, and how much</h2>
                <Criteria draft={draft} answer={data} weighed={weighed} onChange={change} />
              </section>
              <section className="section" aria-label="What has to be kept">
                <h2 className="mb-8">What has to be kept</h2>
                <MustHaves draft={draft} answer={data} weighed={weighed} courses={courses} onChange={change} />
              </section>
            </>
          )}
        </QueryView>
        <section className="section use-save" aria-label="Name and save">
          <label>
            <span>Name of the use</span>
            <Input
              value={draft.name}
              maxLength={80}
              aria-label="Name of the use"
              placeholder="Commute with hills"
              onChange={({ target }) => change({ name: target.value })}
            />
          </label>
          <label>
            <span>Notes</span>
            <Input.TextArea
              value={draft.notes}
              autoSize={{ minRows: 1, maxRows: 6 }}
              maxLength={4000}
              aria-label="Notes"
              onChange={({ target }) => change({ notes: target.value })}
            />
          </label>
          {meanwhile.success ? (
            <ConflictChoice
              what="The use was saved there since you opened it."
              differences={differences}
              keepLabel="Overwrite with mine"
              takeLabel="Use the saved version"
              isBusy={saving.isLoading}
              onKeepMine={() => void store(meanwhile.data.version)}
              onTakeTheirs={() => {
                setBase(meanwhile.data);
                letGo({ version: meanwhile.data.version, draft: draftOf(meanwhile.data) });
                saving.reset();
              }}
            />
          ) : (
            saving.error !== undefined && <Problem error={saving.error} />
          )}
          {problem && (
            <p className="problem" role="alert">
              {problem}
            </p>
          )}
          <div className="actions">
            <Button
              type="primary"
              loading={saving.isLoading}
              disabled={!isChanged && base !== undefined}
              onClick={() => void store(base?.version)}
            >
              {base ? 'Save' : 'Save the use'}
            </Button>
            {base && isChanged && <span className="quiet">Not saved yet.</span>}
            {base && (
              <Button
                onClick={() =>
                  void archive({ stored: base, archived: base.archivedAt === null }).then((result) => {
                    failure(result);
                    if (result.data) setBase(result.data);
                  })
                }
              >
                {base.archivedAt === null ? 'Archive' : 'Restore'}
              </Button>
            )}
          </div>
        </section>
      </div>
      <aside>{answer && weighed && <Turns answer={answer} weighed={weighed} />}</aside>
    </div>
  );
}
