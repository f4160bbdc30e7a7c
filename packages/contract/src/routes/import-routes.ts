import { archiveInputSchema, versioned, seenQuerySchema } from '../common.js';
import {
  courseInputSchema,
  courseSchema,
  drawingSchema,
  outingInputSchema,
  outingSchema,
  timingGatesInputSchema,
} from '../courses.js';
import { importFileSchema, splitInputSchema, splitSchema, startImportSchema } from '../imports.js';
import { keepLogsSchema, notebookAnswerSchema, notebookInputSchema } from '../notebook.js';
import type { Route } from './route.js';

/** Courses, outings, and the ways by which rides come in. */
export const importRoutes = {
  listCourses: { method: 'get', path: 'courses', summary: 'All courses', answer: courseSchema.array() },
  getCourse: { method: 'get', path: 'courses/{id}', summary: 'One course', answer: courseSchema },
  addCourse: {
    method: 'post',
    path: 'courses',
    summary: 'Add a course',
    body: courseInputSchema,
    answer: courseSchema,
  },
  changeCourse: {
    method: 'put',
    path: 'courses/{id}',
    summary: 'Change a course',
    body: versioned(courseInputSchema),
    answer: courseSchema,
  },
  archiveCourse: {
    method: 'put',
    path: 'courses/{id}/archive',
    summary: 'Archive or restore a course',
    body: archiveInputSchema,
    answer: courseSchema,
  },
  setGates: {
    method: 'put',
    path: 'courses/{id}/gates',
    summary: 'Set the timing gates; with runs on the course only when they are to be re-cut',
    body: timingGatesInputSchema,
    answer: courseSchema,
  },
  drawCourse: {
    method: 'put',
    path: 'courses/{id}/drawing',
    summary: 'Draw the course: corners in metres and altitudes',
    body: drawingSchema,
    answer: courseSchema,
  },
  setTrack: {
    method: 'post',
    path: 'courses/{id}/track',
    summary: 'Set the track of a course: GPX, GeoJSON, or a CSV table of distance and altitude',
    query: seenQuerySchema,
    multipart: ['file'],
    answer: courseSchema,
  },
  deleteCourse: {
    method: 'delete',
    path: 'courses/{id}',
    summary: 'Delete a course that has no runs',
    query: seenQuerySchema,
    answer: null,
  },
  listOutings: { method: 'get', path: 'outings', summary: 'All outings', answer: outingSchema.array() },
  addOuting: {
    method: 'post',
    path: 'outings',
    summary: 'Add an outing',
    body: outingInputSchema,
    answer: outingSchema,
  },
  changeOuting: {
    method: 'put',
    path: 'outings/{id}',
    summary: 'Change an outing; figures of its runs are recalculated',
    body: versioned(outingInputSchema),
    answer: outingSchema,
  },
  deleteOuting: {
    method: 'delete',
    path: 'outings/{id}',
    summary: 'Delete an outing that has no runs',
    query: seenQuerySchema,
    answer: null,
  },
  listImports: {
    method: 'get',
    path: 'imports',
    summary: 'Files waiting, being read, and lately read',
    answer: importFileSchema.array(),
  },
  streamImports: {
    method: 'get',
    path: 'imports/events',
    summary: 'Imports as they change',
    answer: 'text/event-stream',
  },
  stageFiles: {
    method: 'post',
    path: 'imports',
    summary: 'Stage log files',
    multipart: ['files'],
    answer: importFileSchema.array(),
  },
  startImport: {
    method: 'post',
    path: 'imports/start',
    summary: 'Make runs of staged files; all of them or none',
    body: startImportSchema,
    answer: importFileSchema.array(),
  },
  storeNotebook: {
    method: 'post',
    path: 'notebook',
    summary:
      'Make runs of rides out of a notebook, with setups, courses and outings that are not there yet; all or nothing',
    body: notebookInputSchema,
    answer: notebookAnswerSchema,
  },
  keepLogs: {
    method: 'post',
    path: 'notebook/logs',
    summary: 'Make runs of staged logs of setups that are there or sketched, with an outing a day; all or nothing',
    body: keepLogsSchema,
    answer: notebookAnswerSchema,
  },
  splitImport: {
    method: 'post',
    path: 'imports/{id}/split',
    summary: 'Propose the runs that the log of an outing holds',
    body: splitInputSchema,
    answer: splitSchema,
  },
  discardImport: {
    method: 'delete',
    path: 'imports/{id}',
    summary: 'Remove a file from the list, or cancel it',
    answer: null,
  },
} as const satisfies Readonly<Record<string, Route>>;
