import { z } from 'zod';
import { nameSchema, signatureSchema, type Immutable } from './common.js';

export const REPORT_SECTIONS = [
  'answer',
  'setups',
  'verdict',
  'uses',
  'money',
  'claims',
  'felt',
  'life',
  'ridden',
  'figures',
  'checks',
  'limits',
  'methods',
  'cautions',
  'runs',
] as const;
export const reportSectionSchema = z.enum(REPORT_SECTIONS);
export type ReportSection = z.output<typeof reportSectionSchema>;
export const REPORT_FORMS = ['short', 'full', 'public'] as const;
export type ReportForm = (typeof REPORT_FORMS)[number];

const partSchema = z.discriminatedUnion('kind', [
  z.strictObject({ kind: z.literal('section'), section: reportSectionSchema }),
  /** Own words between, as plain Markdown. */
  z.strictObject({
    kind: z.literal('text'),
    markdown: z.string().trim().min(1, 'Write something, or take it out.').max(20_000),
  }),
]);
export const reportSpecSchema = z.strictObject({
  trialId: z.uuid('Choose a trial.'),
  title: nameSchema,
  form: z.enum(REPORT_FORMS),
  units: z.enum(['metric', 'imperial']).default('metric'),
  /** Names of people in a public version; in the others they always stand. */
  withNames: z.boolean().default(false),
  useIds: z.array(z.uuid()).max(12).default([]),
  /** In this order. */
  parts: z
    .array(partSchema)
    .min(1, 'Tick at least one section.')
    .max(40)
    .refine((parts) => {
      const sections = parts.flatMap((part) => (part.kind === 'section' ? [part.section] : []));
      return new Set(sections).size === sections.length;
    }, 'A section is in it twice.'),
});
export type ReportSpec = Immutable<z.output<typeof reportSpecSchema>>;
export const reportIssueSchema = z.strictObject({
  spec: reportSpecSchema,
  by: signatureSchema,
  /** The report that this one is a new version of. */
  follows: z.uuid().nullable().default(null),
});
export const reportPreviewSchema = z.strictObject({ html: z.string() });
/** An issued report: frozen, with its number, day and the fingerprint of what it was made of. */
export const reportSchema = z.strictObject({
  id: z.uuid(),
  number: z.int(),
  version: z.int(),
  title: z.string(),
  form: z.enum(REPORT_FORMS),
  by: z.string(),
  at: z.iso.datetime(),
  fingerprint: z.string(),
  trialId: z.uuid().nullable(),
  follows: z.uuid().nullable(),
  /** What is told otherwise than in the version before. */
  changes: z.array(z.strictObject({ where: z.string(), before: z.string().nullable(), now: z.string().nullable() })),
  spec: reportSpecSchema,
});
export type Report = Immutable<z.output<typeof reportSchema>>;
