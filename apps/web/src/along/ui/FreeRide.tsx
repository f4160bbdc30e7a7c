import { useState } from 'react';
import type { AlongBundle, AlongPlanned } from '@ebrix/contract';
import { turnedCourse } from '@ebrix/core/courses';
import { EFFORTS } from '@ebrix/core/ride-model';
import { TEST_KIND_NAMES, testWords } from './words.js';

/** As many as a ride may have. */
const MOST_LAPS = 50;

/** A ride outside the plan, of what came along. */
export function FreeRide({
  bundle,
  onBegin,
}: {
  readonly bundle: AlongBundle;
  readonly onBegin: (planned: AlongPlanned) => void;
}) {
  const [setupAt, setSetup] = useState(0);
  const [courseAt, setCourse] = useState(0);
  const [testKind, setTest] = useState<AlongPlanned['testKind']>('range');
  const [effort, setEffort] = useState<AlongPlanned['effort']>('steady');
  const [level, setLevel] = useState('');
  const [isReversed, setReversed] = useState(false);
  const [laps, setLaps] = useState(1);
  const setup = bundle.setups[setupAt];
  const course = bundle.courses[courseAt];
  if (!setup || !course) return <p className="quiet">No setup or no course came along.</p>;
  // A course whose length nobody knows has no other end to begin at.
  const turns = isReversed && course.lengthM !== null;
  return (
    <details>
      <summary>Ride outside the plan</summary>
      <form
        className="along-form"
        aria-label="Ride outside the plan"
        onSubmit={(event) => {
          event.preventDefault();
          onBegin({
            ...setup,
            effort: setup.effort === 'off' ? 'off' : effort,
            slot: null,
            testKind,
            direction: turns ? -1 : 1,
            level: level.trim(),
            laps,
            preparation: bundle.blank.preparation,
            course: turns ? turnedCourse(course) : course,
          });
        }}
      >
        <label>
          Setup
          <select value={setupAt} onChange={({ target }) => setSetup(Number(target.value))}>
            {bundle.setups.map((one, k) => (
              <option key={one.setup.revisionId} value={k}>
                {one.setup.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          Course
          <select value={courseAt} onChange={({ target }) => setCourse(Number(target.value))}>
            {bundle.courses.map(({ id, name }, k) => (
              <option key={id} value={k}>
                {name}
              </option>
            ))}
          </select>
        </label>
        {course.lengthM !== null && (
          <label>
            Direction
            <select
              value={isReversed ? 'back' : 'there'}
              onChange={({ target }) => setReversed(target.value === 'back')}
            >
              <option value="there">as drawn</option>
              <option value="back">reversed</option>
            </select>
          </label>
        )}
        <label>
          Laps
          <select value={laps} onChange={({ target }) => setLaps(Number(target.value))}>
            {Array.from({ length: MOST_LAPS }, (_, k) => (
              <option key={k} value={k + 1}>
                {k + 1}
              </option>
            ))}
          </select>
        </label>
        <label>
          Test
          <select value={testKind} onChange={({ target }) => setTest(target.value as typeof testKind)}>
            {TEST_KIND_NAMES.map((kind) => (
              <option key={kind} value={kind}>
                {testWords(kind)}
              </option>
            ))}
          </select>
        </label>
        <label>
          Effort
          <select value={effort} onChange={({ target }) => setEffort(target.value as typeof effort)}>
            {(Object.keys(EFFORTS) as (keyof typeof EFFORTS)[]).map((kind) => (
              <option key={kind} value={kind}>
                {EFFORTS[kind].label}
              </option>
            ))}
          </select>
        </label>
        <label>
          Assist level
          <input
            value={level}
            maxLength={20}
            placeholder="as on the display"
            onChange={({ target }) => setLevel(target.value)}
          />
        </label>
        <button type="submit">Prepare this ride</button>
      </form>
    </details>
  );
}
