export {
  pathOfCourse,
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
  assessCourse,
  LEVEL_GRADE,
  type CourseAssessment,
  type SectionGrade,
  type HillClass,
  type Section,
} from './assess-course.js';
export { readCourseFile, type CourseFile } from './read-course-file.js';
export { knownProfile, partOfTypedClimb, typedClimbUncertaintyM, type CourseHeights } from './typed-climb.js';
export { turnedCourse } from './turned-course.js';
export { timedSection, type TimingGate, type TimingGateKind } from './timing-gates.js';
