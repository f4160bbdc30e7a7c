import { Button } from 'antd';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Course } from '@ebrix/contract';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { QueryView, StaleNotice, Problem } from '../../shared/ui/QueryView.js';
import { LinkButton } from '../../shared/ui/LinkButton.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Page } from '../../shared/ui/Page.js';
import { useOpened } from '../../shared/ui/piece.js';
import { useArchiveCourseMutation, useGetCourseQuery, useSetTrackMutation } from '../../entities/course/index.js';
import { CourseDrawing } from './CourseDrawing.js';
import { CourseFacts } from './CourseFacts.js';
import { CourseRuns } from '../../entities/run/index.js';
import { CoursePlan } from './CoursePlan.js';
import { TimingGatesEditor } from './TimingGatesEditor.js';
import { COURSE_KINDS, labelOf, SURFACES } from './course-labels.js';
import { courseForm } from './forms.js';

const CRUMB = <Link to="/courses">Courses</Link>;

export default function CoursePage() {
  const { id = '' } = useParams();
  const query = useGetCourseQuery(id);
  if (query.currentData)
    return (
      <>
        <StaleNotice query={query} />
        <CourseView key={query.currentData.id} course={query.currentData} />
      </>
    );
  return (
    <Page title="Course" crumb={CRUMB}>
      <QueryView query={query}>{() => null}</QueryView>
    </Page>
  );
}

function CourseView({ course }: { readonly course: Course }) {
  const system = useUnits();
  const editing = useOpened(courseForm);
  const [isDrawing, setDrawing] = useState(false);
  const [setTrack, { isLoading, error }] = useSetTrackMutation();
  const [archive] = useArchiveCourseMutation();
  const { track } = course;
  return (
    <Page
      title={course.name}
      crumb={CRUMB}
      actions={
        <>
          <Button onClick={() => void archive({ stored: course, archived: course.archivedAt === null })}>
            {course.archivedAt ? 'Restore' : 'Archive'}
          </Button>
          {course.lengthM !== null && <LinkButton to={`/forecast?on=${course.id}`} label="Forecast" />}
          <Button onClick={() => void editing.open(true)}>Change</Button>
        </>
      }
    >
      <p className="text-16">
        {labelOf(COURSE_KINDS, course.kind)}, {labelOf(SURFACES, course.surface).toLowerCase()}
        {course.lengthM !== null && `, ${formatQuantity(course.lengthM / 1000, 'km', system)}`}
        {track?.climbedM != null &&
          `, ${formatQuantity(track.climbedM, 'm', system, 2)} climbed${course.kind === 'loop' ? ' on a lap' : ''}`}
        . <Link to={`/runs?course=${course.id}`}>{course.runCount} runs</Link>
      </p>
      {course.notes && <p className="mt-6">{course.notes}</p>}
      {course.cautions && <p className="caution mt-10 max-w-760">{course.cautions}</p>}
      {course.permission && <p className="quiet mt-6">Permission: {course.permission}</p>}
      <div className="section course-columns">
        <section>
          <h2>Map</h2>
          {track && track.plan.length > 1 ? (
            <CoursePlan track={track} gates={course.gates} height={300} />
          ) : (
            <p className="quiet max-w-460">
              No map yet. Record one lap with a phone and drop the GPX file below, or draw the course.
            </p>
          )}
          <CourseFacts course={course} />
        </section>
        <section>
          <h2 className="mb-4">Profile and gates</h2>
          <TimingGatesEditor key={course.version} course={course} />
          {track?.profile && <ProfileTable profile={track.profile} />}
          {track && (
            <p className="quiet mt-8">
              From {track.fileName}.{' '}
              {track.profile
                ? 'Altitude is smoothed over 50 m; rises under 2 m are treated as noise.'
                : 'There is no altitude, so no profile and no climbing figures.'}
            </p>
          )}
        </section>
      </div>
      <div className="section max-w-560">
        {error !== undefined && <Problem error={error} />}
        <FileDrop
          label={track ? 'Replace track' : 'Add a track'}
          hint="or drop it here: GPX, GeoJSON, or a table of distance and altitude (CSV)"
          accept=".gpx,.gz,.csv,.txt,.json,.geojson"
          isBusy={isLoading}
          onFiles={([file]) => file && void setTrack({ stored: course, file })}
        />
        {isDrawing ? (
          <div className="mt-14">
            <CourseDrawing course={course} onDone={() => setDrawing(false)} />
          </div>
        ) : (
          <Button className="mt-10" onClick={() => setDrawing(true)}>
            Draw the course
          </Button>
        )}
      </div>
      <CourseRuns courseId={course.id} />
      {editing.value && <courseForm.Part course={course} onDone={editing.close} />}
    </Page>
  );
}

const TABLE_ROWS = 20;

function ProfileTable({ profile }: { readonly profile: readonly { distanceM: number; altitudeM: number }[] }) {
  const system = useUnits();
  const every = Math.max(1, Math.ceil(profile.length / TABLE_ROWS));
  return (
    <details>
      <summary className="quiet">Profile as a table</summary>
      <table className="rows max-w-300">
        <thead>
          <tr>
            <th scope="col" className="number">
              Distance
            </th>
            <th scope="col" className="number">
              Altitude
            </th>
          </tr>
        </thead>
        <tbody>
          {profile
            .filter((_, k) => k % every === 0)
            .map(({ distanceM, altitudeM }) => (
              <tr key={distanceM}>
                <td className="number">{formatQuantity(distanceM / 1000, 'km', system)}</td>
                <td className="number">{formatQuantity(altitudeM, 'm', system)}</td>
              </tr>
            ))}
        </tbody>
      </table>
    </details>
  );
}
