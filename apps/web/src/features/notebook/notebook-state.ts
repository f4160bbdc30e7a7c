import { readNotebookRide, type NotebookKey, type NotebookOptions, type ReadNotebookRide } from '@ebrix/core/notebook';
import type { NotebookInput, Part, Setup } from '@ebrix/contract';

export type Row = Partial<Record<NotebookKey, string>>;

/** What is meant by a name in the column of setups: one that is there, or a sketch of one. */
export interface SetupChoice {
  /** Empty: a new one. */
  readonly revisionId: string;
  readonly motorKind: 'front-hub' | 'mid' | 'rear-hub-direct' | 'rear-hub-geared';
  /** "36 V 11 Ah", "36 11": both or nothing. */
  readonly pack: string;
  readonly chemistry: 'lead-acid' | 'li-ion-lfp' | 'li-ion-nmc';
  /** Of its gauge; null: as for all setups of the page. */
  readonly bars: number | null;
}
export const NEW_SETUP: SetupChoice = {
  revisionId: '',
  motorKind: 'rear-hub-geared',
  pack: '',
  chemistry: 'li-ion-nmc',
  bars: null,
};

/** What a name says of its motor; the rest is a geared rear hub, as most are. */
export function newSetup(name: string): SetupChoice {
  if (/\bmid\b|crank/i.test(name)) return { ...NEW_SETUP, motorKind: 'mid' };
  if (/\bfront\b/i.test(name)) return { ...NEW_SETUP, motorKind: 'front-hub' };
  return /\bdirect\b/i.test(name) ? { ...NEW_SETUP, motorKind: 'rear-hub-direct' } : NEW_SETUP;
}

/** Taken over from the row above, so that a page of one setup is typed once. */
const CARRIED = ['date', 'setup', 'course', 'way', 'level', 'test'] as const satisfies readonly NotebookKey[];

export function isBlank(row: Row): boolean {
  return Object.entries(row).every(
    ([key, cell]) => (cell ?? '').trim() === '' || (CARRIED as readonly string[]).includes(key),
  );
}

export function nextRow(above: Row | undefined, today: string): Row {
  if (!above) return { date: today };
  return Object.fromEntries(CARRIED.flatMap((key) => (above[key] ? [[key, above[key]]] : [])));
}

/** Rows that hold something, with their place in the grid. */
export function readRows(
  rows: readonly Row[],
  optionsOf: (setup: string) => NotebookOptions,
): readonly (ReadNotebookRide & { readonly row: number })[] {
  return rows.flatMap((row, k) =>
    isBlank(row) ? [] : [{ ...readNotebookRide(row, optionsOf(row.setup ?? '')), row: k }],
  );
}

const keyOf = (name: string): string => name.trim().toLowerCase();

/** The names in the column of setups, each once, in the order they come. */
export function setupNames(rows: readonly Row[]): string[] {
  const names = new Map<string, string>();
  for (const row of rows) {
    const name = (row.setup ?? '').trim();
    if (name !== '' && !isBlank(row) && !names.has(keyOf(name))) names.set(keyOf(name), name);
  }
  return [...names.values()];
}

/** A setup that is there under this name, by its newest revision. */
export function knownRevision(name: string, setups: readonly Setup[]): string | undefined {
  return setups.find((setup) => keyOf(setup.name) === keyOf(name) && setup.archivedAt === null)?.revisions[0]?.id;
}

/** Bars of the gauge on a setup's pack, where its packs say one number. */
export function gaugeSteps(revisionId: string, setups: readonly Setup[], packs: readonly Part[]): number | undefined {
  const revision = setups.flatMap(({ revisions }) => revisions).find(({ id }) => id === revisionId);
  const steps = new Set(
    (revision?.packs ?? []).map(({ id }) => {
      const pack = packs.find((one) => one.id === id) as Part<'packs'> | undefined;
      return pack?.gaugeKind === 'bars' || pack?.gaugeKind === 'lights' ? pack.gaugeSteps : null;
    }),
  );
  const [only] = steps;
  return steps.size === 1 && only ? only : undefined;
}

export function readPack(text: string): { readonly volts: number; readonly ampHours: number } | undefined {
  const numbers = [...text.matchAll(/\d+(?:[.,]\d+)?/g)].map(([number]) => Number(number.replace(',', '.')));
  const [volts, ampHours] = numbers;
  return numbers.length === 2 && volts && ampHours ? { volts, ampHours } : undefined;
}

/** What is sent, or the setups that are not described yet. */
export function toInput(
  read: readonly ReadNotebookRide[],
  choices: ReadonlyMap<string, SetupChoice>,
  barsOf: (name: string) => number | undefined,
): { readonly input: NotebookInput } | { readonly missing: readonly string[] } {
  const names = [...new Map(read.map(({ ride }) => [keyOf(ride.setup), ride.setup])).values()];
  const choiceOf = (name: string): SetupChoice => choices.get(keyOf(name)) ?? NEW_SETUP;
  const missing = names.filter((name) => {
    const { revisionId, pack } = choiceOf(name);
    return revisionId === '' && pack.trim() !== '' && !readPack(pack);
  });
  if (missing.length > 0) return { missing };
  return {
    input: {
      setups: names.map((written) => {
        const { revisionId, motorKind, pack, chemistry } = choiceOf(written);
        if (revisionId !== '') return { written, revisionId, sketch: null };
        const known = readPack(pack);
        return {
          written,
          revisionId: null,
          sketch: {
            name: written,
            motorKind,
            chemistry,
            gaugeBars: barsOf(written) ?? null,
            packVoltageV: known?.volts ?? null,
            packCapacityAh: known?.ampHours ?? null,
          },
        };
      }),
      rides: read.map(({ ride }) => ({
        date: ride.date,
        setup: ride.setup,
        course: ride.course,
        testKind: ride.testKind,
        riding: { way: ride.way, level: ride.level, gear: '', payloadKg: ride.payloadKg, limitMode: null, laps: null },
        gauge: ride.gauge,
        emptied: ride.emptied,
        perceivedEffort: ride.perceivedEffort,
        airTemperatureC: ride.airTemperatureC,
        notes: ride.notes,
        readings: ride.readings,
      })),
    },
  };
}
export { keyOf as setupKey };
