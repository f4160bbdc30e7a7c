import { Button } from 'antd';
import { Link, useParams } from 'react-router';
import type { Course, Plan, PlanBasis, Trial } from '@ebrix/contract';
import { ridingText } from '@ebrix/core/compare';
import { EFFORTS } from '@ebrix/core/ride-model';
import { HOW_TO_RIDE, TEST_KINDS } from '@ebrix/core/analysis';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { SetupMark } from '../../shared/ui/SetupMark.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useGetTrialQuery } from '../../entities/trial/index.js';
import { useGetPlanBasisQuery, useGetPlanQuery } from '../../entities/plan/index.js';
import { clockText, draftOf, outlineOf } from './plan-draft.js';
import { problemSentences, STEP_LABELS, stepsBefore } from './plan-labels.js';

/** What to charge, set, note and ride, in order; for the screen and for paper. */
export default function RunSheetPage() {
  const { id = '' } = useParams();
  const trial = useGetTrialQuery(id);
  const plan = useGetPlanQuery(id);
  const courses = useListCoursesQuery();
  useShortcut('p', 'Print this sheet', () => window.print());
  return (
    <Page
      title="Run sheet"
      crumb={
        <>
          <Link to="/trials">Trials</Link> ›{' '}
          <Link to={`/trials/${id}/plan`}>{trial.currentData?.question ?? 'Trial'}</Link>
        </>
      }
      actions={
        <Button type="primary" onClick={() => window.print()}>
          Print
        </Button>
      }
    >
      <QueryView query={trial}>
        {(found) => (
          <QueryView query={plan}>
            {({ plan: stored }) => (
              <QueryView query={courses}>
                {(list) =>
                  stored ? (
                    <Sheet trial={found} plan={stored} courses={list} />
                  ) : (
                    <p>
                      There is no plan yet. <Link to={`/trials/${id}/plan`}>Make one</Link>.
                    </p>
                  )
                }
              </QueryView>
            )}
          </QueryView>
        )}
      </QueryView>
    </Page>
  );
}

function Sheet({
  trial,
  plan,
  courses,
}: {
  readonly trial: Trial;
  readonly plan: Plan;
  readonly courses: readonly Course[];
}) {
  const { input, slots } = plan;
  const basis = useGetPlanBasisQuery({
    trialId: trial.id,
    tests: input.tests,
    airTemperatureC: input.airTemperatureC,
    setups: trial.setups.map(({ revisionId, riding }) => revisionId + JSON.stringify(riding)).join(),
  });
  return (
    <QueryView query={basis}>
      {(found) => <Paper trial={trial} plan={plan} courses={courses} basis={found} slots={slots} />}
    </QueryView>
  );
}

function Paper({
  trial,
  plan,
  courses,
  basis,
  slots,
}: {
  readonly trial: Trial;
  readonly plan: Plan;
  readonly courses: readonly Course[];
  readonly basis: PlanBasis;
  readonly slots: Plan['slots'];
}) {
  const system = useUnits();
  const { input } = plan;
  const outline = outlineOf(draftOf(plan), trial, basis);
  const courseOf = (id: string): Course | undefined => courses.find((course) => course.id === id);
  const ridden = [...new Set(input.tests.map(({ courseId }) => courseId))].flatMap((id) => courseOf(id) ?? []);
  const outings = [...new Set(slots.map(({ outing }) => outing))].sort((a, b) => a - b);
  const numberOf = new Map(slots.map(({ id }, k) => [id, k + 1]));
  const open = trial.setups.filter(({ openClearance }) => openClearance > 0);
  return (
    <div className="run-sheet">
      <p className="text-17 weight-650">{trial.question}</p>
      <ul className="sheet-list">
        {trial.setups.map((setup) => (
          <li key={setup.letter}>
            <SetupMark letter={setup.letter} label={`${setup.name}, revision ${setup.revisionNumber}`} />
            {ridingText(setup.riding) && <span className="quiet"> {ridingText(setup.riding)}</span>}
          </li>
        ))}
      </ul>
      {open.length > 0 && (
        <p className="caution">
          Safety checks are still to do on{' '}
          {open.map(({ letter, openClearance }) => `${letter} (${openClearance})`).join(', ')}: nobody rides before they
          are passed or waived in writing.
        </p>
      )}
      {ridingText(trial.heldRiding) && <p>Every run: {ridingText(trial.heldRiding)}.</p>}
      {trial.heldEqual.length > 0 && <p>Held equal: {trial.heldEqual.join(', ')}.</p>}
      {ridden
        .filter(({ cautions, permission }) => cautions || permission)
        .map((course) => (
          <p key={course.id} className={course.cautions ? 'caution' : ''}>
            <strong>{course.name}.</strong> {course.cautions} {course.permission && `Permission: ${course.permission}`}
          </p>
        ))}
      {outings.map((outing) => {
        const schedule = outline?.outings.find((one) => one.outing === outing);
        const own = slots.filter((slot) => slot.outing === outing);
        const packs = [
          ...new Set(own.map(({ letter }) => basis.setups.find((setup) => setup.letter === letter)?.packKey ?? '')),
        ];
        return (
          <section key={outing} className="sheet-outing">
            <h2>
              Outing {outing}
              {schedule && (
                <span className="quiet weight-400">
                  {' '}
                  about {clockText(schedule.steps[0]?.startMin ?? 0)} to {clockText(schedule.endMin)},{' '}
                  {formatQuantity(schedule.distanceM / 1000, 'km', system)}
                </span>
              )}
            </h2>
            <p>
              ☐ The evening before: charge full {packs.join('; ')}; its own charger, in sight. ☐ Half an hour of rest
              before reading the start voltage. ☐ Tyres pumped to the same pressure. ☐ Bring: thermometer, this sheet,
              pen, tools for the change.
            </p>
            {problemSentences(schedule?.problems ?? [], (slotId) => `Run ${numberOf.get(slotId) ?? ''}`).map(
              (sentence) => (
                <p key={sentence} className="caution">
                  {sentence}
                </p>
              ),
            )}
            {/* Wider than a phone: it is scrolled by keys as well. */}
            <div className="scroll-x" tabIndex={0} role="group" aria-label={`Runs of outing ${outing}`}>
              <table className="rows">
                <thead>
                  <tr>
                    <th scope="col">Run</th>
                    <th scope="col">About</th>
                    <th scope="col">Setup</th>
                    <th scope="col">Ride</th>
                    <th scope="col">Level set</th>
                    <th scope="col">Start V</th>
                    <th scope="col">Bars</th>
                    <th scope="col">Air, wind</th>
                    <th scope="col">End V, bars</th>
                    <th scope="col">km, time</th>
                    <th scope="col">Motor °C</th>
                    <th scope="col">Ridden</th>
                  </tr>
                </thead>
                <tbody>
                  {own.map((slot) => {
                    const test = input.tests[slot.test]!;
                    const ride = schedule?.steps.find((step) => step.kind === 'ride' && step.slotId === slot.id);
                    return (
                      <tr key={slot.id}>
                        <td className="figures">{numberOf.get(slot.id)}</td>
                        <td className="figures">{ride && clockText(ride.startMin)}</td>
                        <td>
                          <SetupMark letter={slot.letter} />
                        </td>
                        <td>
                          {schedule && stepsBefore(schedule.steps, slot.id).length > 0 && (
                            <div>
                              {stepsBefore(schedule.steps, slot.id)
                                .map(({ kind, minutes }) => `☐ ${STEP_LABELS[kind]}, ${Math.round(minutes)} min`)
                                .join('  ')}
                            </div>
                          )}
                          {TEST_KINDS[test.testKind].label}, {courseOf(test.courseId)?.name}
                          {slot.direction === -1 && ', reversed'}
                          {test.laps > 1 && `, ${test.laps} laps`}; {EFFORTS[test.effort].label.toLowerCase()}
                        </td>
                        <td>☐ {test.level}</td>
                        <td className="blank" />
                        <td className="blank" />
                        <td className="blank" />
                        <td className="blank" />
                        <td className="blank" />
                        <td className="blank" />
                        <td>{slot.state === 'ridden' ? '☑' : '☐'}</td>
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </div>
          </section>
        );
      })}
      {[...new Set(plan.input.tests.map(({ testKind }) => testKind))].map((kind) => (
        <section key={kind} className="mt-10">
          <h2>How to ride it: {TEST_KINDS[kind].label.toLowerCase()}</h2>
          <ol className="mt-6 mb-6 pl-18">
            {HOW_TO_RIDE[kind].steps.map((step) => (
              <li key={step}>{step}</li>
            ))}
          </ol>
          <p>Write down: {HOW_TO_RIDE[kind].note.join('; ')}.</p>
        </section>
      ))}
      <p className="mt-10">
        <strong>Stop</strong> when hub, controller or battery reach their limit, when a brake does not hold, or when
        anything rubs or smells; let it cool before going on. <strong>Check your local rules</strong>; beyond them,
        private ground only.
      </p>
    </div>
  );
}
