export {
  useArchiveCourseMutation,
  useDrawCourseMutation,
  useGetCourseQuery,
  useListCoursesQuery,
  useSaveCourseMutation,
  useSetGatesMutation,
  useSetTrackMutation,
} from './api.js';
