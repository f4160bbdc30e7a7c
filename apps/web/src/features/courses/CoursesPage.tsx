import { Button } from 'antd';
import { Link, useNavigate } from 'react-router';
import { useUnits } from '../../shared/preferences/index.js';
import { formatQuantity } from '../../shared/format/format-quantity.js';
import { QueryView } from '../../shared/ui/QueryView.js';
import { Page } from '../../shared/ui/Page.js';
import { useOpened } from '../../shared/ui/piece.js';
import { EmptyStart } from '../../entities/demo/index.js';
import { useShortcut } from '../../shared/shortcuts/index.js';
import { useListCoursesQuery } from '../../entities/course/index.js';
import { courseForm } from './forms.js';
import { CoursePlan } from './CoursePlan.js';
import { COURSE_KINDS, labelOf, SURFACES } from './course-labels.js';

export default function CoursesPage() {
  const system = useUnits();
  const query = useListCoursesQuery();
  const navigate = useNavigate();
  const adding = useOpened(courseForm);
  useShortcut('n', 'New course', () => void adding.open(true));
  return (
    <Page
      title="Courses"
      actions={
        <Button type="primary" onClick={() => void adding.open(true)}>
          New course
        </Button>
      }
    >
      <QueryView query={query}>
        {(courses) =>
          courses.length === 0 ? (
            <EmptyStart what="A course is a stretch of road you ride again and again, such as a flat loop or a known climb, so that runs can be compared." />
          ) : (
            <ul className="list-plain m-0 p-0 line-above">
              {courses.map((course) => (
                <li
                  key={course.id}
                  className={course.archivedAt ? 'quiet' : ''}
                  style={{
                    display: 'grid',
                    gridTemplateColumns: '120px minmax(0,1fr)',
                    gap: 18,
                    padding: '14px 0',
                    borderBottom: '1px solid var(--hairline)',
                  }}
                >
                  {course.track && course.track.plan.length > 1 ? (
                    <CoursePlan track={course.track} height={84} isSmall />
                  ) : (
                    <span className="quiet">no track</span>
                  )}
                  <div style={{ display: 'grid', gap: 3, alignContent: 'center' }}>
                    <Link to={`/courses/${course.id}`} className="weight-650 text-16">
                      {course.name}
                    </Link>
                    <span>
                      {labelOf(COURSE_KINDS, course.kind)}, {labelOf(SURFACES, course.surface).toLowerCase()}
                      {course.lengthM !== null && `, ${formatQuantity(course.lengthM / 1000, 'km', system)}`}
                      {course.track?.climbedM == null &&
                        course.climbM !== null &&
                        course.kind !== 'loop' &&
                        course.kind !== 'out-and-back' &&
                        `, ${formatQuantity(course.climbM, 'm', system, 2)} climbed`}
                      {course.track?.climbedM != null &&
                        `, ${formatQuantity(course.track.climbedM, 'm', system, 2)} climbed`}
                      {course.archivedAt && ', archived'}
                    </span>
                    <span className="quiet">
                      <Link to={`/runs?course=${course.id}`}>{course.runCount} runs</Link>
                      {course.notes && ` · ${course.notes}`}
                    </span>
                  </div>
                </li>
              ))}
            </ul>
          )
        }
      </QueryView>
      {adding.value && (
        <courseForm.Part
          onDone={(saved) => {
            adding.close();
            if (saved) void navigate(`/courses/${saved.id}`);
          }}
        />
      )}
    </Page>
  );
}
