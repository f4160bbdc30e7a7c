import fc from 'fast-check';
import { cleanLog } from './clean-log.js';
import { dischargeSign } from './current-sign.js';
import { findDateOrder, parseClock, parseDigitsDate, parseHoursMinutes, parseIso } from './parse-time.js';
import { inspectLog, readLog } from './read-log.js';
import { spreadMinutes } from './spread-minutes.js';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const table = (header: string, count: number, row: (k: number) => string): Uint8Array =>
  bytes([header, ...Array.from({ length: count }, (_, k) => row(k))].join('\n'));
const questionsOf = (file: Uint8Array) => {
  const outcome = inspectLog(file);
  if (!outcome.ok) throw new Error(outcome.problem.message);
  return outcome.value.questions;
};
const raw = (file: Uint8Array) => {
  const outcome = readLog(file);
  if (!outcome.ok) throw new Error(outcome.problem.message);
  return outcome.value;
};
const two = (n: number): string => String(n).padStart(2, '0');

describe('times as people and displays write them', () => {
  it.each([
    ['12:00:05 AM', 5],
    ['12:30 PM', 45_000],
    ['1:00:00 pm', 46_800],
    ['11:59:59 p.m.', 86_399],
    ['1:02:03', 3723],
    ['10:23', 623],
  ])('%s', (cell, seconds) => expect(parseClock(cell)).toBe(seconds));
  it.each(['13:00 PM', '0:10 AM', '1:61', 'noon'])('%s is no time', (cell) => expect(parseClock(cell)).toBeNaN());
  it('a date in digits is the same day in either order of writing it', () =>
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 36_000 }), fc.constantFrom('.', '/', '-'), (day, mark) => {
        const date = new Date(day * 86_400_000);
        const [y, m, d] = [date.getUTCFullYear(), two(date.getUTCMonth() + 1), two(date.getUTCDate())];
        expect(parseDigitsDate(`${d}${mark}${m}${mark}${y} 10:00:30`, 'dmy')).toBe(day * 86_400 + 36_030);
        expect(parseDigitsDate(`${m}${mark}${d}${mark}${y}, 10:00:30 AM`, 'mdy')).toBe(day * 86_400 + 36_030);
        expect(parseIso(`${y}-${m}-${d} 10:00:30`)).toBe(day * 86_400 + 36_030);
      }),
    ));
  it('no such day is none', () => {
    expect(parseDigitsDate('31.02.2026', 'dmy')).toBeNaN();
    expect(parseDigitsDate('12/31/2026', 'dmy')).toBeNaN();
  });
  it('the order is told by points and by days beyond twelve, and is open otherwise', () => {
    expect(findDateOrder(['04.03.2026 10:00'])).toBe('dmy');
    expect(findDateOrder(['04/03/2026', '13/03/2026'])).toBe('dmy');
    expect(findDateOrder(['04/03/2026', '04/13/2026'])).toBe('mdy');
    expect(findDateOrder(['04/03/2026'])).toBeUndefined();
  });
  it('an open order is asked with both readings, and nothing else is', () => {
    const file = table('date time,speed (km/h)', 30, (k) => `04/03/2026 10:00:${two(k)},20`);
    const asked = questionsOf(file);
    expect(asked.map(({ kind }) => kind)).toEqual(['date-order']);
    expect(asked[0]!.text).toMatch(/2026-03-04.*2026-04-03/);
    expect(readLog(file)).toMatchObject({ ok: false, problem: { code: 'mapping-needed' } });
  });
  it('a column of days alone is no time, whatever it is called, and gives the day beside a time of day', () => {
    const read = raw(table('Zeit;Uhrzeit;Geschwindigkeit (km/h)', 40, (k) => `01.05.2024;10:00:${two(k)};20,5`));
    expect(new Date(read.startEpochS! * 1000).toISOString()).toBe('2024-05-01T10:00:00.000Z');
    expect(read.timeS.at(-1)).toBe(39);
  });
  it('hours and minutes with many rows are spread over their minutes', () => {
    const read = raw(table('time,speed (km/h)', 240, (k) => `10:${two(Math.floor((k + 40) / 60))},20`));
    expect(read.timeS[0]).toBe(0);
    read.timeS.forEach((t, k) => expect(Math.abs(t - k)).toBeLessThan(1e-6));
    expect(parseHoursMinutes('10:23 PM')).toBe(22 * 3600 + 23 * 60);
    const odd = Float64Array.from([0, 0, 60, 60, 60, 60, 120, 120]);
    spreadMinutes(odd);
    expect([...odd]).toEqual([30, 45, 60, 75, 90, 105, 120, 135]);
  });
});

describe('what a table does not say', () => {
  it('thousandths without a unit are asked about, with the current beside them', () => {
    const asked = questionsOf(table('time (s),voltage,current', 30, (k) => `${k},${52_000 + k},${k}`));
    expect(asked.map(({ kind, columns }) => [kind, columns])).toEqual([
      ['unit', [1]],
      ['unit', [2]],
    ]);
    expect(questionsOf(table('time (s),voltage,current', 30, (k) => `${k},52.1,${k}`))).toEqual([]);
  });
  it('a power beside a rider’s pulse is asked for whose it is; beside volts it is the battery’s', () => {
    const asked = questionsOf(table('time (s),speed (km/h),power (W),heart rate (bpm)', 30, (k) => `${k},20,150,120`));
    expect(asked).toMatchObject([{ kind: 'channel', columns: [2], blocking: true, choices: ['power', 'riderPower'] }]);
    expect(questionsOf(table('time (s),battery power (W),cadence (rpm)', 30, (k) => `${k},150,60`))).toEqual([]);
    expect(
      questionsOf(table('time (s),voltage (V),current (A),power (W),cadence (rpm)', 30, (k) => `${k},50,3,150,60`)),
    ).toEqual([]);
  });
  it('the motor’s current is not the battery’s', () => {
    const read = raw(table('time (s),voltage (V),motor current (A),phase current (A)', 30, (k) => `${k},50,30,40`));
    expect(read.channels.current).toBeUndefined();
    expect(read.ignoredColumns).toEqual(['motor current (A)', 'phase current (A)']);
  });
  it.each([
    'U_bat;I_bat;spd;T_mot;T_fet;dist;Ah;Wh;rpm;thr;tps',
    'Akkuspannung;Akkustrom;Geschwindigkeit;Motortemperatur;Reglertemp;Wegstrecke;Ladung;Verbrauch;Kadenz;Gasgriff;x',
    'tension batterie;courant batterie;vitesse;température moteur;t ctrl;distance parcourue;mAh;énergie;cadence;accélérateur;x',
    'tensión;intensidad;velocidad;temperatura motor;temperatura controlador;recorrido;carga;energía;cadencia;acelerador;x',
    'tensione;corrente;velocità;temperatura motore;temperatura regolatore;percorso;carica;energia;cadenza;acceleratore;x',
    'spanning;stroom;snelheid;motor temperatuur;t fet;afstand;lading;energie;cadans;throttle in;x',
  ])('%s: the columns are known', (header) => {
    const file = table(
      `time (s);${header}`,
      20,
      (k) =>
        `${k};${header
          .split(';')
          .map(() => 12)
          .join(';')}`,
    );
    const outcome = inspectLog(file);
    const found = outcome.ok ? outcome.value.mapping.columns.map(({ channel }) => channel) : [];
    for (const channel of [
      'voltage',
      'current',
      'speed',
      'motorTemperature',
      'controllerTemperature',
      'distance',
      'chargeCounter',
      'energyCounter',
      'throttle',
    ])
      expect(found).toContain(channel);
  });
});

describe('words that name a unit with the channel', () => {
  it.each([
    ['time_ms', 'time', 'ms'],
    ['time s', 'time', 's'],
    ['mAh', 'chargeCounter', 'mAh'],
    ['Ah used', 'chargeCounter', 'Ah'],
    ['kWh', 'energyCounter', 'kWh'],
    ['charge (%)', 'stateOfCharge', '%'],
  ])('%s', (header, channel, unit) => {
    const time = channel === 'time' ? header : 'time (s)';
    const other = channel === 'time' ? 'speed (km/h)' : header;
    const outcome = inspectLog(table(`${time},${other}`, 20, (k) => `${k},${k}`));
    const columns = outcome.ok ? outcome.value.mapping.columns : [];
    expect(columns.find((column) => column.header === header)).toMatchObject({ channel, unit });
  });
  it('volts under “battery” are no per cents', () => {
    const asked = questionsOf(table('time (s),battery,current (A)', 30, (k) => `${k},51.${k % 10},3`));
    expect(asked).toMatchObject([{ kind: 'unit', columns: [1], blocking: false }]);
    expect(questionsOf(table('time (s),battery,current (A)', 30, (k) => `${k},${90 - k},3`))).toEqual([]);
  });
  it('a time of day with points is no date', () => {
    const read = raw(table('time,speed (km/h)', 90, (k) => `10.${two(5 + Math.floor(k / 60))}.${two(k % 60)},20`));
    expect(read.timeS.at(-1)).toBe(89);
  });
});

describe('a track', () => {
  const point = (k: number, extension: string): string =>
    `<trkpt lat="${40 + k / 1e4}" lon="5"><ele>10</ele><time>2026-03-04T10:00:${two(k)}Z</time><extensions>${extension}</extensions></trkpt>`;
  it('has its extensions under any prefix, declared or not, and several tracks in one file', () => {
    const points = (from: number) =>
      Array.from({ length: 10 }, (_, k) =>
        point(from + k, '<xy:T><xy:HR>120</xy:HR><q:power>150</q:power></xy:T>'),
      ).join('');
    const read = raw(
      bytes(
        `<gpx version="1.0"><trk><trkseg>${points(0)}</trkseg></trk><trk><trkseg>${points(20)}</trkseg></trk></gpx>`,
      ),
    );
    expect(read.timeS).toHaveLength(20);
    // `HR` is a heart rate, and a power on a track is the rider's.
    expect(read.channels.riderPower![0]).toBe(150);
    expect(read.channels.heartRate![0]).toBe(120);
    expect(read.channels.power).toBeUndefined();
  });
});

describe('the sign of the current', () => {
  const timeS = Float64Array.from({ length: 200 }, (_, k) => k);
  const load = (k: number): number => (Math.floor(k / 7) % 3) * 5;
  const volts = timeS.map((_, k) => 50 - 0.1 * load(k));
  const amps = (sign: number) => timeS.map((_, k) => sign * load(k));
  it('is told by the voltage that falls under load', () => {
    expect(dischargeSign(timeS, { voltage: volts, current: amps(1) })).toBe('positive');
    expect(dischargeSign(timeS, { voltage: volts, current: amps(-1) })).toBe('negative');
  });
  it('is unclear where nothing tells, and asked, and turned where it was said', () => {
    expect(dischargeSign(timeS, { power: amps(-20) })).toBe('unclear');
    expect(dischargeSign(timeS, { power: amps(20) })).toBe('positive');
    const file = table('time (s),speed (km/h),battery power (W)', 200, (k) => `${k},20,${-20 * load(k)}`);
    expect(questionsOf(file).map(({ kind }) => kind)).toEqual(['sign']);
    expect(readLog(file)).toMatchObject({ ok: false, problem: { code: 'mapping-needed' } });
    const inspected = inspectLog(file);
    if (!inspected.ok) throw new Error();
    const { mapping } = inspected.value;
    const said = readLog(file, {
      ...mapping,
      columns: mapping.columns.map((c) => (c.channel === 'power' ? { ...c, sign: -1 as const } : c)),
    });
    const cleaned = said.ok ? cleanLog(said.value) : said;
    expect(cleaned.ok && Math.max(...cleaned.value.channels.power!)).toBe(200);
  });
  it('is not asked of a sensor that is a little off zero, nor where a mapping was given', () => {
    const idle = table('time (s),speed (km/h),voltage (V),current (A)', 60, (k) => `${k},20,53,-0.1`);
    expect(questionsOf(idle)).toEqual([]);
    const file = table('time (s),battery power (W)', 60, (k) => `${k},${-200 - k}`);
    const inspected = inspectLog(file);
    const given = readLog(file, inspected.ok ? inspected.value.mapping : undefined);
    const cleaned = given.ok ? cleanLog(given.value) : given;
    expect(cleaned).toMatchObject({ ok: true, value: { report: { isSignUnclear: true } } });
  });
  it('of a pack that was charged stays as it is', () => {
    // Down a long hill: the current is negative, and the voltage rises with it.
    const current = timeS.map((_, k) => -1 - load(k) / 5);
    const voltage = current.map((i) => 50 - 0.1 * i);
    expect(dischargeSign(timeS, { voltage, current })).toBe('positive');
  });
});

it('a log whose rows mostly have no time of their own is refused, not read as a short one', () => {
  const read = raw(table('time (s),speed (km/h)', 100, (k) => `${Math.floor(k / 10)},20`));
  const cleaned = cleanLog(read);
  expect(cleaned).toMatchObject({ ok: false, problem: { code: 'no-samples' } });
  expect(!cleaned.ok && cleaned.problem.message).toMatch(/Only 10 of 100 rows/);
});
