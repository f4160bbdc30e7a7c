import { ADDRESSES } from '../addresses.js';
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
  listCourses: { ...ADDRESSES.listCourses, summary: 'All courses', answer: courseSchema.array() },
  getCourse: { ...ADDRESSES.getCourse, summary: 'One course', answer: courseSchema },
  addCourse: {
    ...ADDRESSES.addCourse,
    summary: 'Add a course',
    body: courseInputSchema,
    answer: courseSchema,
  },
  changeCourse: {
    ...ADDRESSES.changeCourse,
    summary: 'Change a course',
    body: versioned(courseInputSchema),
    answer: courseSchema,
  },
  archiveCourse: {
    ...ADDRESSES.archiveCourse,
    summary: 'Archive or restore a course',
    body: archiveInputSchema,
    answer: courseSchema,
  },
  setGates: {
    ...ADDRESSES.setGates,
    summary: 'Set the timing gates; with runs on the course only when they are to be re-cut',
    body: timingGatesInputSchema,
    answer: courseSchema,
  },
  drawCourse: {
    ...ADDRESSES.drawCourse,
    summary: 'Draw the course: corners in metres and altitudes',
    body: drawingSchema,
    answer: courseSchema,
  },
  setTrack: {
    ...ADDRESSES.setTrack,
    summary: 'Set the track of a course: GPX, GeoJSON, or a CSV table of distance and altitude',
    query: seenQuerySchema,
    multipart: ['file'],
    answer: courseSchema,
  },
  deleteCourse: {
    ...ADDRESSES.deleteCourse,
    summary: 'Delete a course that has no runs',
    query: seenQuerySchema,
    answer: null,
  },
  listOutings: { ...ADDRESSES.listOutings, summary: 'All outings', answer: outingSchema.array() },
  addOuting: {
    ...ADDRESSES.addOuting,
    summary: 'Add an outing',
    body: outingInputSchema,
    answer: outingSchema,
  },
  changeOuting: {
    ...ADDRESSES.changeOuting,
    summary: 'Change an outing; figures of its runs are recalculated',
    body: versioned(outingInputSchema),
    answer: outingSchema,
  },
  deleteOuting: {
    ...ADDRESSES.deleteOuting,
    summary: 'Delete an outing that has no runs',
    query: seenQuerySchema,
    answer: null,
  },
  listImports: {
    ...ADDRESSES.listImports,
    summary: 'Files waiting, being read, and lately read',
    answer: importFileSchema.array(),
  },
  streamImports: {
    ...ADDRESSES.streamImports,
    summary: 'Imports as they change',
    answer: 'text/event-stream',
  },
  stageFiles: {
    ...ADDRESSES.stageFiles,
    summary: 'Stage log files',
    multipart: ['files'],
    answer: importFileSchema.array(),
  },
  startImport: {
    ...ADDRESSES.startImport,
    summary: 'Make runs of staged files; all of them or none',
    body: startImportSchema,
    answer: importFileSchema.array(),
  },
  storeNotebook: {
    ...ADDRESSES.storeNotebook,
    summary:
      'Make runs of rides out of a notebook, with setups, courses and outings that are not there yet; all or nothing',
    body: notebookInputSchema,
    answer: notebookAnswerSchema,
  },
  keepLogs: {
    ...ADDRESSES.keepLogs,
    summary: 'Make runs of staged logs of setups that are there or sketched, with an outing a day; all or nothing',
    body: keepLogsSchema,
    answer: notebookAnswerSchema,
  },
  splitImport: {
    ...ADDRESSES.splitImport,
    summary: 'Propose the runs that the log of an outing holds',
    body: splitInputSchema,
    answer: splitSchema,
  },
  discardImport: {
    ...ADDRESSES.discardImport,
    summary: 'Remove a file from the list, or cancel it',
    answer: null,
  },
} as const satisfies Readonly<Record<string, Route>>;
