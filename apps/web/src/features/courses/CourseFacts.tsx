import { useState } from 'react';
import type { Course } from '@ebrix/contract';
import {
  assessCourse,
  degreesToGrade,
  gradeToDegrees,
  knownProfile,
  timedSection,
  type SectionGrade,
} from '@ebrix/core/courses';
import { useUnits } from '../../shared/preferences/index.js';
import { formatLength, formatQuantity } from '../../shared/format/format-quantity.js';
import { HILL_LABELS } from './course-labels.js';

/** A shorter piece is no strip anyone rides a test on. */
const MIN_STRIP_M = 50;

/** What the profile says between the gates, in the direction looked at; in % and degrees, with its uncertainty. */
export function CourseFacts({ course }: { readonly course: Course }) {
  const system = useUnits();
  const [direction, setDirection] = useState<1 | -1>(1);
  const points = knownProfile(course);
  if (!points || course.lengthM === null) return null;
  const timed = timedSection(course.gates, course.lengthM);
  const assessment = assessCourse(points, { direction, fromM: timed.startM, toM: timed.finishM });
  const metres = (value: number): string => formatLength(value, system);
  const height = (value: number): string => formatQuantity(value, 'm', system);
  const place = ({ fromM, toM }: SectionGrade): string => `${metres(Math.round(fromM))} to ${metres(Math.round(toM))}`;
  const { levelSection, levelQuality } = assessment;
  const guessed = course.guessedGradeDeg;
  return (
    <div>
      <div className="choice" role="group" aria-label="Direction">
        {([1, -1] as const).map((one) => (
          <a
            key={one}
            href={`#${one}`}
            role="button"
            aria-pressed={direction === one}
            className={direction === one ? 'here' : ''}
            onClick={(event) => {
              event.preventDefault();
              setDirection(one);
            }}
          >
            {one === 1 ? 'As drawn' : 'Reversed'}
          </a>
        ))}
      </div>
      {!course.track?.profile && (
        <p className="quiet mt-8">
          From the climb that was typed, taken as one even slope: a track or drawn altitudes would show where it is
          steep.
        </p>
      )}
      <dl className="facts mt-12">
        <dt>Between the gates</dt>
        <dd>
          {metres(timed.finishM - timed.startM)}, {HILL_LABELS[assessment.hill]}
        </dd>
        <dt>Mean grade</dt>
        <dd>
          <Grade of={assessment.meanGrade} />
        </dd>
        {guessed !== null && (
          <>
            <dt>Your estimate</dt>
            <dd>
              <span className="figures">{guessed}°</span> would be{' '}
              <span className="figures">{(100 * degreesToGrade(guessed)).toFixed(1)} %</span>
              {Math.abs(degreesToGrade(Math.abs(guessed)) - Math.abs(assessment.meanGrade.grade)) >
              2 * assessment.meanGrade.uncertainty + 0.005
                ? ': the profile disagrees'
                : ': the profile agrees'}
            </dd>
          </>
        )}
        <dt>Steepest {height(50)} up</dt>
        <dd>
          <Grade of={assessment.steepestUp} /> <span className="quiet">from {place(assessment.steepestUp)}</span>
        </dd>
        <dt>Climb, descent</dt>
        <dd className="figures">
          {height(assessment.climbM)}, {height(assessment.descentM)}
        </dd>
        <dt>Level section</dt>
        <dd>
          {levelSection === null || levelSection.toM - levelSection.fromM < MIN_STRIP_M ? (
            `none: nowhere within 0.5 % of level for ${height(50)}`
          ) : (
            <>
              {metres(levelSection.toM - levelSection.fromM)} within 0.5 %{' '}
              <span className="quiet">from {place(levelSection)}</span>:{' '}
              {
                {
                  good: 'long enough for top speed and assist levels',
                  usable: 'long enough for top speed, short for assist levels',
                  poor: 'too short for top speed',
                }[levelQuality]
              }
              {course.windExposure === 'open' && '; open to the wind, so ride it both ways'}
            </>
          )}
        </dd>
      </dl>
    </div>
  );
}

function Grade({ of: { grade, uncertainty } }: { readonly of: SectionGrade }) {
  const digits = uncertainty < 0.001 ? 2 : 1;
  const degrees = gradeToDegrees(grade);
  // d(atan g) = dg / (1 + g²).
  const degreesUncertainty = ((uncertainty / (1 + grade * grade)) * 180) / Math.PI;
  return (
    <span className="figures">
      {(100 * grade).toFixed(digits)} ± {(100 * uncertainty).toFixed(digits)} %{' '}
      <span className="quiet">
        ({degrees.toFixed(digits)} ± {degreesUncertainty.toFixed(digits)}°)
      </span>
    </span>
  );
}
