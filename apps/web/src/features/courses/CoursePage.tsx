import { Button } from 'antd';
import { lazy, Suspense, useState } from 'react';
import { Link, useParams } from 'react-router';
import type { Course } from '@ebrix/contract';
import { useUnits } from '../../app/hooks.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { Answer, Problem } from '../../shared/ui/Answer.js';
import { FileDrop } from '../../shared/ui/FileDrop.js';
import { Page } from '../../shared/ui/Page.js';
import { useArchiveCourseMutation, useGetCourseQuery, useSetTrackMutation } from './api.js';
import { CourseForm } from './CourseForm.js';
import { CoursePlan } from './CoursePlan.js';
import { COURSE_KINDS, labelOf, SURFACES } from './course-words.js';

// Recharts comes only where it draws.
const CourseProfile = lazy(() => import('./CourseProfile.js'));
const CRUMB = <Link to="/courses">Courses</Link>;

export default function CoursePage() {
  const { id = '' } = useParams();
  const query = useGetCourseQuery(id);
  if (query.data) return <CourseView course={query.data} />;
  return (
    <Page title="Course" crumb={CRUMB}>
      <Answer query={query}>{() => null}</Answer>
    </Page>
  );
}

function CourseView({ course }: { readonly course: Course }) {
  const system = useUnits();
  const [isEditing, setEditing] = useState(false);
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
            {course.archivedAt ? 'Bring back' : 'Archive'}
          </Button>
          <Button onClick={() => setEditing(true)}>Change</Button>
        </>
      }
    >
      <p style={{ fontSize: 16 }}>
        {labelOf(COURSE_KINDS, course.kind)}, {labelOf(SURFACES, course.surface).toLowerCase()}
        {course.lengthM !== null && `, ${formatQuantity(course.lengthM / 1000, 'km', system)}`}
        {track?.climbedM != null && `, ${formatQuantity(track.climbedM, 'm', system, 2)} climbed on a lap`}.{' '}
        <Link to={`/runs?course=${course.id}`}>{course.runCount} runs</Link>
      </p>
      {course.notes && <p style={{ marginTop: 6 }}>{course.notes}</p>}
      {track ? (
        <div
          className="section"
          style={{ display: 'grid', gridTemplateColumns: 'repeat(auto-fit, minmax(320px, 1fr))', gap: 28 }}
        >
          <div>
            <h2>Plan</h2>
            <CoursePlan track={track} height={320} />
          </div>
          <div>
            <h2 style={{ marginBottom: 8 }}>Profile</h2>
            {track.profile ? (
              <Suspense fallback={<p className="quiet">Drawing…</p>}>
                <CourseProfile profile={track.profile} />
                <ProfileTable profile={track.profile} />
              </Suspense>
            ) : (
              <p className="quiet">
                The track has no altitude, so there is no profile and nothing is said of climbing.
              </p>
            )}
            <p className="quiet" style={{ marginTop: 8 }}>
              From {track.fileName}. Altitude is smoothed over 50 m; rises below 2 m are noise and do not count as
              climbing.
            </p>
          </div>
        </div>
      ) : (
        <p className="section quiet">
          No track yet. Record one lap with a phone and drop the GPX file here: Ebrix draws the plan and the profile and
          takes the length from it.
        </p>
      )}
      <div className="section" style={{ maxWidth: 560 }}>
        {error !== undefined && <Problem error={error} />}
        <FileDrop
          label={track ? 'Take another GPX track' : 'Choose a GPX track'}
          hint="or drop it here"
          accept=".gpx,.gz,.csv"
          isBusy={isLoading}
          onFiles={([file]) => file && void setTrack({ id: course.id, file })}
        />
      </div>
      {isEditing && <CourseForm course={course} onDone={() => setEditing(false)} />}
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
      <table className="rows" style={{ maxWidth: 300 }}>
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
