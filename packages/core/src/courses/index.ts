export {
  placeOnCourse,
  trackOfDrawing,
  trackOfFile,
  type CourseTrack,
  type GeoPoint,
  type PlanPoint,
  type ProfilePoint,
} from './course-shape.js';
export {
  altitudeOn,
  degreesToGrade,
  gradeToDegrees,
  judgeCourse,
  LEVEL_GRADE,
  type CourseJudgement,
  type GradeOfStretch,
  type HillClass,
  type Stretch,
} from './judge-course.js';
export { readCourseFile, type CourseFile } from './read-course-file.js';
export { courseGates, type CourseGate, type GateKind } from './gates.js';
