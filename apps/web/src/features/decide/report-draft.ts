import {
  REPORT_FORMS,
  REPORT_SECTIONS,
  reportSectionSchema,
  type Report,
  type ReportForm,
  type ReportSection,
  type ReportSpec,
} from '@ebrix/contract';
import { z } from 'zod';

export type Part = ReportSpec['parts'][number];
/** A part as the editor lists it: unticked sections keep their place. */
export type ListedPart =
  | { readonly id: string; readonly kind: 'section'; readonly section: ReportSection; readonly isOn: boolean }
  | { readonly id: string; readonly kind: 'text'; readonly markdown: string };

export const SECTION_NAMES: Readonly<Record<ReportSection, string>> = {
  answer: 'Question and answer',
  setups: 'What was compared, with photos',
  verdict: 'How sure: differences drawn',
  uses: 'Which one for which use',
  money: 'What it costs',
  claims: 'Claimed and found',
  felt: 'How it felt',
  life: 'In use: faults, wear, pack, asked again',
  ridden: 'What was ridden, and left out',
  figures: 'Figures with intervals',
  checks: 'Checks failed or waived',
  limits: 'What was not tested',
  methods: 'Methods with versions',
  cautions: 'Cautions',
  runs: 'Every run',
};
export const FORM_NAMES: Readonly<Record<ReportForm, string>> = {
  short: 'Short: for a customer, two minutes',
  full: 'Full: with all that a doubter checks',
  public: 'Public: full, without names',
};
const SHORT: readonly ReportSection[] = ['answer', 'setups', 'uses', 'limits', 'cautions'];

/** Sections as a form usually ticks them; own texts stay where they are. */
export function partsFor(form: ReportForm, before: readonly ListedPart[] = []): ListedPart[] {
  const isOn = (section: ReportSection): boolean => form !== 'short' || SHORT.includes(section);
  if (before.length === 0)
    return REPORT_SECTIONS.map((section) => ({ id: section, kind: 'section', section, isOn: isOn(section) }));
  return before.map((part) => (part.kind === 'section' ? { ...part, isOn: isOn(part.section) } : part));
}

/** The parts of an issued report as they stood, unticked sections after them. */
export function partsOf({ spec }: Report): ListedPart[] {
  const listed = spec.parts.map((part, k): ListedPart =>
    part.kind === 'text'
      ? { id: `text-${k}`, kind: 'text', markdown: part.markdown }
      : { id: part.section, kind: 'section', section: part.section, isOn: true },
  );
  const there = new Set(listed.map(({ id }) => id));
  return [
    ...listed,
    ...REPORT_SECTIONS.filter((section) => !there.has(section)).map((section): ListedPart => ({
      id: section,
      kind: 'section',
      section,
      isOn: false,
    })),
  ];
}

export function moved(parts: readonly ListedPart[], from: number, to: number): ListedPart[] {
  const place = Math.min(parts.length - 1, Math.max(0, to));
  const rest = parts.filter((_, k) => k !== from);
  return [...rest.slice(0, place), parts[from]!, ...rest.slice(place)];
}

/** What is sent: ticked sections and texts that say something. */
export function toParts(parts: readonly ListedPart[]): Part[] {
  return parts.flatMap((part): Part[] => {
    if (part.kind === 'text')
      return part.markdown.trim() === '' ? [] : [{ kind: 'text', markdown: part.markdown.trim() }];
    return part.isOn ? [{ kind: 'section', section: part.section }] : [];
  });
}

/** A report as it is being put together; kept through reloads until it is issued. */
export interface ReportDraft {
  readonly trialId: string | null;
  readonly title: string;
  readonly form: ReportForm;
  readonly withNames: boolean;
  readonly useIds: readonly string[];
  readonly parts: readonly ListedPart[];
}
const draftSchema = z.strictObject({
  trialId: z.uuid().nullable(),
  title: z.string(),
  form: z.enum(REPORT_FORMS),
  withNames: z.boolean(),
  useIds: z.array(z.uuid()),
  parts: z.array(
    z.discriminatedUnion('kind', [
      z.strictObject({ id: z.string(), kind: z.literal('section'), section: reportSectionSchema, isOn: z.boolean() }),
      z.strictObject({ id: z.string(), kind: z.literal('text'), markdown: z.string() }),
    ]),
  ),
});
export function readReportDraft(stored: unknown): ReportDraft | undefined {
  return draftSchema.safeParse(stored).data;
}

/** What a report begins with: the version it follows, or a short one of the trial it was asked for from. */
export function newDraft(follows: Report | undefined, trialId: string | null): ReportDraft {
  if (!follows) return { trialId, title: '', form: 'short', withNames: false, useIds: [], parts: partsFor('short') };
  const { trialId: of, withNames, useIds } = follows.spec;
  return { trialId: of, title: follows.title, form: follows.form, withNames, useIds, parts: partsOf(follows) };
}
