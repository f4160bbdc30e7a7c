import { Button, Input } from 'antd';
import { useEffect, useMemo, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import { planInputSchema, planSchema, type Course, type Plan, type PlanInput, type Trial } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { errorCode } from '../../shared/api/base-api.js';
import { formatMoney, formatQuantity } from '../../shared/format/format-quantity.js';
import { QueryView, Problem } from '../../shared/ui/QueryView.js';
import { ConflictChoice, storedMeanwhile } from '../../shared/ui/ConflictChoice.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetPlanBasisQuery, useGetPlanQuery, useSavePlanMutation } from '../../entities/plan/index.js';
import { OrderBoard } from './OrderBoard.js';
import { readDraft } from '../../shared/ui/stored-draft.js';
import {
  draftOf,
  firstInput,
  movedSlot,
  orderedSlots,
  outlineOf,
  type PlanDraft,
  planDraftSchema,
  withOuting,
} from './plan-draft.js';
import { joinLetters, reasonSentence } from './plan-labels.js';
import { Labelled, OutingRules, PlanTests, Whole } from './PlanRules.js';
import { RunsNeeded } from './RunsNeeded.js';

/** The plan of a trial on one page: what, how many, in which order, and what it costs. */
export function PlanStep({ trial }: { readonly trial: Trial }) {
  const plan = useGetPlanQuery(trial.id);
  const courses = useListCoursesQuery();
  if (trial.setups.length === 0)
    return (
      <div className="teach">
        <p>Choose the setups first: the plan then puts their runs in a fair order.</p>
        <LinkButton isMain to={`/trials/${trial.id}/setups`} label="Choose setups" />
      </div>
    );
  return (
    <QueryView query={plan}>
      {({ plan: stored }) => (
        <QueryView query={courses}>
          {(list) =>
            list.length === 0 ? (
              <div className="teach">
                <p>A plan needs a course to ride on.</p>
                <LinkButton isMain to="/courses" label="Add a course" />
              </div>
            ) : (
              <Planner key={stored?.version ?? 0} trial={trial} stored={stored} courses={list} />
            )
          }
        </QueryView>
      )}
    </QueryView>
  );
}

/** An outing holds no more rounds than this. */
const MOST_ROUNDS = 12;

function Planner({
  trial,
  stored,
  courses,
}: {
  readonly trial: Trial;
  readonly stored: Plan | null;
  readonly courses: readonly Course[];
}) {
  const system = useUnits();
  const draftKey = `draft.plan.${trial.id}.${stored?.version ?? 0}`;
  const [draft, setDraft] = useState<PlanDraft>(() => keptDraft(draftKey) ?? freshDraft(trial, stored, courses));
  const [why, setWhy] = useState('');
  const [save, saving] = useSavePlanMutation();
  const { input, slots } = draft;
  const basisQuery = useGetPlanBasisQuery({
    trialId: trial.id,
    tests: input.tests,
    airTemperatureC: input.airTemperatureC,
    // A changed list of setups is another question.
    setups: trial.setups.map(({ revisionId, riding }) => revisionId + JSON.stringify(riding)).join(),
  });
  const basis = basisQuery.currentData;
  const outline = useMemo(() => outlineOf(draft, trial, basis), [draft, trial, basis]);
  const isChanged = stored === null || JSON.stringify(draft) !== JSON.stringify(draftOf(stored));
  useEffect(() => {
    if (isChanged) sessionStorage.setItem(draftKey, JSON.stringify(draft));
    else sessionStorage.removeItem(draftKey);
  }, [draft, draftKey, isChanged]);
  const begun = slots.filter(({ state }) => state === 'ridden' || state === 'underway');
  const reorder = (next: PlanInput): void => setDraft({ input: next, slots: orderedSlots(next, trial, basis, begun) });
  /** Numbers, tests and rounds make a new order; hours and minutes do not. */
  const change = (part: Partial<PlanInput>): void => {
    const next = { ...input, ...part };
    const makesOrder = (['runsPerSetup', 'outings', 'tests', 'seed'] as const).some((key) => part[key] !== undefined);
    if (makesOrder) reorder(next);
    else setDraft({ input: next, slots });
  };
  const isReadable = planInputSchema.safeParse(input).success;
  const conflict = planSchema.safeParse(storedMeanwhile(saving.error));
  const store = async (version: number | null): Promise<void> => {
    await save({
      trialId: trial.id,
      version,
      input,
      slots: slots.map(({ id, outing, revisionId, letter, test, direction }) => ({
        id: id.startsWith('new') ? null : id,
        outing,
        revisionId,
        letter,
        test,
        direction,
      })),
      why: why.trim() === '' ? null : why.trim(),
    });
  };
  useShortcut('s', 'Save the plan', () => isChanged && isReadable && void store(stored?.version ?? null));
  const letters = trial.setups.map(({ letter }) => letter);
  const lettersOf = (indices: readonly number[]): string => joinLetters(indices.map((k) => letters[k]!));
  const courseName = (id: string): string => courses.find((course) => course.id === id)?.name ?? '';
  const learned = (basis?.setups ?? []).flatMap(({ rides }) =>
    rides.filter(({ source }) => source === 'calibrated'),
  ).length;
  const assumed = [...new Set((basis?.setups ?? []).flatMap(({ rides }) => rides.flatMap((ride) => ride.assumed)))];
  const needsWhy = begun.length > 0 && isChanged;
  const [params, setParams] = useSearchParams();
  const more = Number(params.get('more') ?? 0);
  const addOuting = (): void => {
    setDraft(withOuting(draft, trial, more));
    setParams({}, { replace: true });
  };
  return (
    <div className="plan">
      {Number.isInteger(more) && more > 0 && more <= MOST_ROUNDS && trial.setups.length >= 2 && (
        <p className="mb-12">
          <Button type="primary" onClick={addOuting}>
            Add an outing with {more} {more === 1 ? 'run' : 'runs'} of each setup
          </Button>{' '}
          <span className="quiet">in a balanced order, after what is planned</span>
        </p>
      )}
      <section>
        <h2>The test</h2>
        <PlanTests input={input} courses={courses} onChange={change} />
      </section>
      <div className="course-columns section">
        <section>
          <h2>How many runs</h2>
          <div className="plan-rules mb-12">
            <Labelled label="Runs of each setup">
              <Whole
                value={input.runsPerSetup}
                least={1}
                most={30}
                onChange={(runsPerSetup) => change({ runsPerSetup })}
              />
            </Labelled>
            <Labelled label="Outings">
              <Whole value={input.outings} least={1} most={12} onChange={(outings) => change({ outings })} />
            </Labelled>
            <Labelled label="Chance of spotting it, %">
              <Whole
                value={Math.round(100 * input.power)}
                least={50}
                most={99}
                onChange={(power) => change({ power: power / 100 })}
              />
            </Labelled>
          </div>
          {basis ? (
            <RunsNeeded trial={trial} input={input} basis={basis} />
          ) : (
            <QueryView query={basisQuery}>{() => null}</QueryView>
          )}
        </section>
        <section>
          <h2>Time and energy</h2>
          {outline ? (
            <div className="figure-strip">
              <Cost label="Hours" value={outline.totals.hours.toFixed(1)} />
              <Cost label="Distance" value={formatQuantity(outline.totals.distanceM / 1000, 'km', system, 3)} />
              <Cost label="Charges" value={String(outline.totals.charges)} />
              <Cost label="Energy" value={formatQuantity(outline.totals.energyWh / 1000, 'kWh', system, 2)} />
              <Cost
                label="Electricity"
                value={outline.totals.money ? formatMoney(outline.totals.money) : 'price not known'}
              />
            </div>
          ) : (
            <p className="quiet">Shown once the rides are estimated.</p>
          )}
          <h2 className="mt-18 mb-8 mx-0">Riding times</h2>
          <OutingRules input={input} onChange={change} />
          {learned > 0 && (
            <p className="quiet">
              Energies and cooling times of {learned === 1 ? 'one ride' : `${learned} rides`} come from what earlier
              rides taught of these bikes; how far to trust that stands in <Link to="/forecast">Forecast</Link>.
            </p>
          )}
          {assumed.length > 0 && (
            <p className="quiet mt-10">
              Times and energies are those of the ride model. The bench does not know {assumed.join(', ')} of every
              setup: usual values are taken, and energies are budgeted ± 25 %. Your own rides replace the model.
            </p>
          )}
        </section>
      </div>
      <section className="section">
        <div className="flex gap-12 items-baseline flex-wrap">
          <h2>Order</h2>
          {outline?.balance.map((balance, k) => (
            <strong key={k} className={balance.verdict === 'unbalanced' ? 'caution' : ''} role="status">
              {input.tests.length > 1 && `Test ${k + 1}: `}
              {{ balanced: 'balanced', nearly: 'nearly balanced', unbalanced: 'not balanced' }[balance.verdict]}
            </strong>
          ))}
          <Button size="small" onClick={() => reorder({ ...input, seed: (input.seed + 1) % 1_000_000 })}>
            New balanced order
          </Button>
          <span className="quiet">drag a run to move it; balance is rechecked</span>
        </div>
        {outline?.balance.flatMap((balance, b) =>
          balance.reasons.map((reason, k) => (
            <p key={`${b} ${k}`} className="mt-4">
              {reasonSentence(reason, lettersOf)}
            </p>
          )),
        )}
        <OrderBoard
          input={input}
          slots={slots}
          stored={stored}
          outline={outline}
          courseName={courseName}
          onMove={(from, onto) => setDraft({ input, slots: movedSlot(slots, from, onto) })}
        />
      </section>
      {conflict.success ? (
        <ConflictChoice
          what="The plan was changed elsewhere while you worked here."
          differences={[{ label: 'Runs', theirs: String(conflict.data.slots.length), mine: String(slots.length) }]}
          keepLabel="Overwrite with mine"
          takeLabel="Use the saved version"
          isBusy={saving.isLoading}
          onKeepMine={() => void store(conflict.data.version)}
          onTakeTheirs={() => {
            setDraft(draftOf(conflict.data));
            saving.reset();
          }}
        />
      ) : (
        saving.error !== undefined && errorCode(saving.error) !== 'reason-needed' && <Problem error={saving.error} />
      )}
      <div className="plan-foot">
        {needsWhy && (
          <Labelled label="Riding has started: why the plan changes">
            <Input
              value={why}
              onChange={({ target }) => setWhy(target.value)}
              placeholder="For example: wind was up, one more run each"
            />
          </Labelled>
        )}
        <div className="actions">
          <Button
            type={isChanged ? 'primary' : 'default'}
            loading={saving.isLoading}
            disabled={!isChanged || !isReadable || (needsWhy && why.trim().length < 2)}
            onClick={() => void store(stored?.version ?? null)}
          >
            {isChanged ? 'Save the plan' : 'Plan is saved'}
          </Button>
          {stored && !isChanged && <LinkButton isMain to="/ride" label="Ride the next run" />}
          {stored && <LinkButton to={`/trials/${trial.id}/sheet`} label="Run sheet" />}
          {stored && isChanged && <Button onClick={() => setDraft(draftOf(stored))}>Undo changes</Button>}
        </div>
      </div>
      {stored && stored.changes.length > 0 && (
        <details className="section">
          <summary className="quiet">How the plan changed</summary>
          <ul className="mt-6 mb-6 mx-0 pl-18">
            {stored.changes.map(({ at, what, why: reason }) => (
              <li key={at}>
                {new Date(at).toLocaleString()}: {what} {reason}
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

function Cost({ label, value }: { readonly label: string; readonly value: string }) {
  return (
    <div>
      <div className="quiet">{label}</div>
      <div className="figures text-18 weight-700">{value}</div>
    </div>
  );
}

function freshDraft(trial: Trial, stored: Plan | null, courses: readonly Course[]): PlanDraft {
  if (stored) return draftOf(stored);
  const input = firstInput(trial, courses[0]?.id)!;
  return { input, slots: orderedSlots(input, trial, undefined) };
}

function keptDraft(key: string): PlanDraft | undefined {
  return readDraft(sessionStorage, key, (stored) => planDraftSchema.safeParse(stored).data);
}
