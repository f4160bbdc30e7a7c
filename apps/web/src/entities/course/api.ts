import type { z } from 'zod';
import { ROUTES, type Course, type CourseInput, type drawingSchema, type TimingGate } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const coursesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listCourses: build.query<Course[], void>({
      query: () => requestTo(ROUTES.listCourses),
      transformResponse: answerOf(ROUTES.listCourses),
      providesTags: ['Course'],
    }),
    getCourse: build.query<Course, string>({
      query: (id) => requestTo(ROUTES.getCourse, { params: { id } }),
      transformResponse: answerOf(ROUTES.getCourse),
      providesTags: ['Course'],
    }),
    saveCourse: build.mutation<Course, { input: CourseInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo(ROUTES.changeCourse, { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo(ROUTES.addCourse, { body: input }),
      transformResponse: answerOf(ROUTES.changeCourse),
      invalidatesTags: ['Course', 'Run', 'Trial'],
    }),
    archiveCourse: build.mutation<Course, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo(ROUTES.archiveCourse, { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf(ROUTES.archiveCourse),
      invalidatesTags: ['Course'],
    }),
    setTrack: build.mutation<Course, { stored: Versioned; file: File }>({
      query: ({ stored: { id, version }, file }) =>
        requestTo(ROUTES.setTrack, { params: { id }, query: { version }, form: { file } }),
      transformResponse: answerOf(ROUTES.setTrack),
      invalidatesTags: ['Course'],
    }),
    setGates: build.mutation<Course, { id: string; version: number; gates: readonly TimingGate[]; recutRuns: boolean }>(
      {
        query: ({ id, ...body }) => requestTo(ROUTES.setGates, { params: { id }, body }),
        transformResponse: answerOf(ROUTES.setGates),
        invalidatesTags: ['Course', 'Run', 'Trial'],
      },
    ),
    drawCourse: build.mutation<Course, { id: string } & z.input<typeof drawingSchema>>({
      query: ({ id, ...body }) => requestTo(ROUTES.drawCourse, { params: { id }, body }),
      transformResponse: answerOf(ROUTES.drawCourse),
      invalidatesTags: ['Course'],
    }),
  }),
});
export const {
  useListCoursesQuery,
  useGetCourseQuery,
  useSaveCourseMutation,
  useArchiveCourseMutation,
  useSetTrackMutation,
  useSetGatesMutation,
  useDrawCourseMutation,
} = coursesApi;
