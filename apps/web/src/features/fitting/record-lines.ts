import { DIFFICULTY_ANCHORS, type FittingRecord } from '@ebrix/core/bench';
import type { Difference } from '../../shared/ui/ConflictChoice.js';

const labelled = <T extends string>(labels: Readonly<Record<T, string>>): { value: T; label: string }[] =>
  (Object.keys(labels) as T[]).map((value) => ({ value, label: labels[value] }));

export const BOX_LABELS = {
  received: 'Received',
  missing: 'Missing',
  wrong: 'Wrong one',
  damaged: 'Damaged',
  unused: 'Left unused',
} as const satisfies Record<FittingRecord['box'][number]['state'], string>;
export const WIRE_LABELS = {
  'as-came': 'Joined as it came',
  shortened: 'Shortened',
  extended: 'Extended',
  'cut-off': 'Cut off',
  unused: 'Left unused, insulated',
} as const satisfies Record<FittingRecord['connectors'][number]['state'], string>;
export const SOURCE_LABELS = {
  own: 'I have it',
  borrow: 'To borrow',
  buy: 'To buy',
} as const satisfies Record<FittingRecord['tools'][number]['source'], string>;
export const TRIAL_LABELS = {
  'not-tried': 'Not tried alone yet',
  ran: 'Ran alone',
  'cut-out': 'Cut out alone',
} as const satisfies Record<FittingRecord['packsTried'][number]['alone'], string>;
export const BOX_CHOICES = labelled(BOX_LABELS);
export const WIRE_CHOICES = labelled(WIRE_LABELS);
export const SOURCE_CHOICES = labelled(SOURCE_LABELS);
export const TRIAL_CHOICES = labelled(TRIAL_LABELS);
export const DIFFICULTY_CHOICES = DIFFICULTY_ANCHORS.map((label, k) => ({
  value: k + 1,
  label: `${k + 1} · ${label}`,
}));

/** One connection as the toolbox sheet says it. */
export function connectorText({ from, to, state, note }: FittingRecord['connectors'][number]): string {
  const joined = to === '' ? from : `${from} → ${to}`;
  return [joined, WIRE_LABELS[state].toLowerCase(), note].filter((part) => part !== '').join(', ');
}

const some = (parts: readonly (string | number | null)[]): string =>
  parts.filter((part) => part !== null && part !== '').join(', ') || '–';

/** Two versions of a record, section by section. */
export function recordDifferences(theirs: FittingRecord, mine: FittingRecord): Difference[] {
  const sections: readonly (readonly [string, (record: FittingRecord) => string])[] = [
    ['Seller and days', (r) => some([r.seller, r.orderedOn, r.arrivedOn, r.warrantyMonths])],
    ['In the box', (r) => some(r.box.map(({ what, state, note }) => some([what, BOX_LABELS[state], note])))],
    ['Guess and rating', (r) => some([r.guessedHours, r.guessedDifficulty, r.ratedDifficulty])],
    ['Tools', (r) => some(r.tools.map(({ tool, source }) => `${tool} (${SOURCE_LABELS[source]})`))],
    ['Connectors', (r) => some(r.connectors.map(connectorText))],
    [
      'Cooling fluid',
      ({ cooling: c }) => (c ? some([c.fluid, c.doseMl, c.coverMm, c.drillStopMm, c.sealedWith]) : '–'),
    ],
    [
      'Error codes',
      (r) =>
        some(
          r.errors.map(({ code, isAfterVoltageStep, meaning, cure }) =>
            some([code, isAfterVoltageStep ? 'after a step up in voltage' : '', meaning, cure]),
          ),
        ),
    ],
    [
      'Packs alone',
      (r) => some(r.packsTried.map(({ pack, alone, restV, loadV }) => some([pack, TRIAL_LABELS[alone], restV, loadV]))),
    ],
    ['Packs together', (r) => (r.ranTogether === null ? '–' : r.ranTogether ? 'ran' : 'did not')],
  ];
  return sections
    .map(([label, text]) => ({ label, theirs: text(theirs), mine: text(mine) }))
    .filter((row) => row.theirs !== row.mine);
}
