import type { z } from 'zod';
import type { Course, CourseInput, drawingSchema, TimingGate } from '@ebrix/contract';
import { baseApi, type Versioned } from '../../shared/api/base-api.js';
import { answerOf, requestTo } from '../../shared/api/route.js';

export const coursesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listCourses: build.query<Course[], void>({
      query: () => requestTo('listCourses'),
      transformResponse: answerOf('listCourses'),
      providesTags: ['Course'],
    }),
    getCourse: build.query<Course, string>({
      query: (id) => requestTo('getCourse', { params: { id } }),
      transformResponse: answerOf('getCourse'),
      providesTags: ['Course'],
    }),
    saveCourse: build.mutation<Course, { input: CourseInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? requestTo('changeCourse', { params: { id: stored.id }, body: { ...input, version: stored.version } })
          : requestTo('addCourse', { body: input }),
      transformResponse: answerOf('changeCourse'),
      invalidatesTags: ['Course', 'Run', 'Trial'],
    }),
    archiveCourse: build.mutation<Course, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) =>
        requestTo('archiveCourse', { params: { id: stored.id }, body: { version: stored.version, archived } }),
      transformResponse: answerOf('archiveCourse'),
      invalidatesTags: ['Course'],
    }),
    setTrack: build.mutation<Course, { stored: Versioned; file: File }>({
      query: ({ stored: { id, version }, file }) =>
        requestTo('setTrack', { params: { id }, query: { version }, form: { file } }),
      transformResponse: answerOf('setTrack'),
      invalidatesTags: ['Course'],
    }),
    setGates: build.mutation<Course, { id: string; version: number; gates: readonly TimingGate[]; recutRuns: boolean }>(
      {
        query: ({ id, ...body }) => requestTo('setGates', { params: { id }, body }),
        transformResponse: answerOf('setGates'),
        invalidatesTags: ['Course', 'Run', 'Trial'],
      },
    ),
    drawCourse: build.mutation<Course, { id: string } & z.input<typeof drawingSchema>>({
      query: ({ id, ...body }) => requestTo('drawCourse', { params: { id }, body }),
      transformResponse: answerOf('drawCourse'),
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
