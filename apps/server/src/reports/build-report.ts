import type { ReportSection } from '@ebrix/contract';
import { answer, felt, money, uses, verdictBlocks } from './answer-sections.js';
import { claims } from './claims-section.js';
import { cautions, checks, figures, limits, methods, ridden, runs, setupBlocks } from './evidence-sections.js';
import { life } from './life-section.js';
import { ownWords } from './render-report.js';
import type { ReportData } from './report-data.js';
import type { Block, Section } from './report-model.js';

const TITLES: Readonly<Record<ReportSection, string>> = {
  answer: 'Question and answer',
  setups: 'What was compared',
  verdict: 'How sure',
  uses: 'Which one for which use',
  money: 'What it costs',
  claims: 'Claimed and found',
  felt: 'How it felt',
  life: 'In use',
  ridden: 'What was ridden, and how',
  figures: 'Figures',
  checks: 'Checks failed or waived',
  limits: 'What was not tested',
  methods: 'Methods',
  cautions: 'Before you ride',
  runs: 'Every run',
};
const BUILDERS: Readonly<Record<ReportSection, (data: ReportData) => Block[]>> = {
  answer,
  setups: setupBlocks,
  verdict: verdictBlocks,
  uses,
  money,
  claims,
  felt,
  life,
  ridden,
  figures,
  checks,
  limits,
  methods,
  cautions,
  runs,
};

/** The sections of a report in the order that was wanted; what has nothing to tell says so in a line. */
export function buildReport(data: ReportData): Section[] {
  return data.spec.parts.map((part): Section => {
    if (part.kind === 'text')
      return { key: 'text', title: 'Own words', blocks: [{ kind: 'own', html: ownWords(part.markdown) }] };
    return { key: part.section, title: TITLES[part.section], blocks: BUILDERS[part.section](data) };
  });
}
