import { REPORT_SECTIONS, type Report, type ReportForm, type ReportSection, type ReportSpec } from '@ebrix/contract';

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
