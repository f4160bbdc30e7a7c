import { standInputSchema, standReadingsSchema, type StandInput, type StandRecord } from '@ebrix/contract';

/** What the form of the stand test holds; spin-downs are typed in one line. */
export interface StandValues {
  readonly day?: string;
  readonly by?: string;
  readonly directionRight?: boolean | null;
  readonly spinsFreely?: boolean | null;
  readonly brakeCuts?: boolean | null;
  readonly readings?: Readonly<Record<string, number | string | null | undefined>>;
  readonly note?: string;
}

export function toStandValues(record: StandRecord | undefined, today: string, name: string): StandValues {
  if (!record) return { day: today, by: name, readings: { spinDownS: '' } };
  const { day, by, directionRight, spinsFreely, brakeCuts, note, readings } = record;
  return {
    day,
    by,
    directionRight,
    spinsFreely,
    brakeCuts,
    note,
    readings: { ...readings, spinDownS: readings.spinDownS.join(' ') },
  };
}

export type ReadStand =
  | { readonly ok: true; readonly input: StandInput }
  | {
      readonly ok: false;
      readonly problems: readonly { readonly name: (string | number)[]; readonly message: string }[];
    };

export function readStand(values: StandValues, version: number): ReadStand {
  const { spinDownS, ...rest } = values.readings ?? {};
  const goes = String(spinDownS ?? '')
    .split(/[\s;]+/)
    .filter((word) => word !== '')
    .map((word) => Number(word.replace(',', '.')));
  if (goes.some((go) => !Number.isFinite(go)))
    return {
      ok: false,
      problems: [{ name: ['readings', 'spinDownS'], message: 'Seconds separated by spaces, for example 6.1 6.4 6.2.' }],
    };
  const readings = Object.fromEntries(
    Object.keys(standReadingsSchema.shape).map((name) => [name, name === 'spinDownS' ? goes : (rest[name] ?? null)]),
  );
  const parsed = standInputSchema.safeParse({
    version,
    day: values.day ?? '',
    by: values.by ?? '',
    directionRight: values.directionRight ?? null,
    spinsFreely: values.spinsFreely ?? null,
    brakeCuts: values.brakeCuts ?? null,
    readings,
    note: values.note ?? '',
  });
  if (parsed.success) return { ok: true, input: parsed.data };
  return {
    ok: false,
    problems: parsed.error.issues.map(({ path, message }) => ({
      name: (path[1] === 'spinDownS' ? path.slice(0, 2) : path) as (string | number)[],
      message,
    })),
  };
}
