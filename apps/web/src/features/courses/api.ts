import type { z } from 'zod';
import {
  courseSchema,
  outingSchema,
  type Course,
  type CourseInput,
  type drawingSchema,
  type TimingGate,
  type Outing,
  type OutingInput,
} from '@ebrix/contract';
import { baseApi, checked } from '../../shared/api/base-api.js';

interface Versioned {
  readonly id: string;
  readonly version: number;
}

export const coursesApi = baseApi.injectEndpoints({
  endpoints: (build) => ({
    listCourses: build.query<Course[], void>({
      query: () => 'courses',
      transformResponse: checked(courseSchema.array()),
      providesTags: ['Course'],
    }),
    getCourse: build.query<Course, string>({
      query: (id) => `courses/${id}`,
      transformResponse: checked(courseSchema),
      providesTags: ['Course'],
    }),
    saveCourse: build.mutation<Course, { input: CourseInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? { url: `courses/${stored.id}`, method: 'PUT', body: { ...input, version: stored.version } }
          : { url: 'courses', method: 'POST', body: input },
      invalidatesTags: ['Course', 'Run', 'Trial'],
    }),
    archiveCourse: build.mutation<Course, { stored: Versioned; archived: boolean }>({
      query: ({ stored, archived }) => ({
        url: `courses/${stored.id}/archive`,
        method: 'PUT',
        body: { version: stored.version, archived },
      }),
      invalidatesTags: ['Course'],
    }),
    setTrack: build.mutation<Course, { id: string; file: File }>({
      query: ({ id, file }) => {
        const body = new FormData();
        body.append('file', file);
        return { url: `courses/${id}/track`, method: 'POST', body };
      },
      invalidatesTags: ['Course'],
    }),
    setGates: build.mutation<Course, { id: string; version: number; gates: readonly TimingGate[]; recutRuns: boolean }>(
      {
        query: ({ id, ...body }) => ({ url: `courses/${id}/gates`, method: 'PUT', body }),
        invalidatesTags: ['Course', 'Run', 'Trial'],
      },
    ),
    drawCourse: build.mutation<Course, { id: string } & z.input<typeof drawingSchema>>({
      query: ({ id, ...body }) => ({ url: `courses/${id}/drawing`, method: 'PUT', body }),
      invalidatesTags: ['Course'],
    }),
    listOutings: build.query<Outing[], void>({
      query: () => 'outings',
      transformResponse: checked(outingSchema.array()),
      providesTags: ['Outing'],
    }),
    saveOuting: build.mutation<Outing, { input: OutingInput; stored?: Versioned }>({
      query: ({ input, stored }) =>
        stored
          ? { url: `outings/${stored.id}`, method: 'PUT', body: { ...input, version: stored.version } }
          : { url: 'outings', method: 'POST', body: input },
      invalidatesTags: ['Outing', 'Run'],
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
  useListOutingsQuery,
  useSaveOutingMutation,
} = coursesApi;
