export { useListCoursesQuery, useListOutingsQuery, useSaveOutingMutation } from './api.js';
