import { randomUUID } from 'node:crypto';

/** A logger's table with twelve columns. */
export function makeWideCsv(samples) {
  const lines = [
    'time (s),speed (km/h),distance (m),altitude (m),voltage (V),current (A),motor temperature (°C),controller temperature (°C),cadence (rpm),throttle (%),heart rate (bpm),assist level',
  ];
  for (let k = 0; k < samples; k++) {
    const t = k / 10;
    const wave = Math.sin(t / 40);
    lines.push(
      `${t.toFixed(1)},${(22 + 3 * wave + 0.1 * Math.sin(k * 1.7)).toFixed(2)},${(t * 6.1).toFixed(1)},${(120 + 9 * Math.sin(t / 300)).toFixed(1)},${(52 - t / 4000 + 0.02 * Math.sin(k)).toFixed(2)},${(6 + 4 * wave + 0.05 * Math.sin(k * 2.3)).toFixed(2)},${(30 + t / 200).toFixed(1)},${(28 + t / 300).toFixed(1)},${Math.round(70 + 5 * wave)},${Math.round(50 + 30 * wave)},${Math.round(120 + 10 * wave)},${1 + (Math.floor(t / 300) % 5)}`,
    );
  }
  return lines.join('\n');
}

export function makeLongRideCsv(samples) {
  const lines = ['time (s),speed (km/h),distance (m),voltage (V),current (A)'];
  for (let k = 0; k < samples; k++) {
    const t = k / 20;
    lines.push(
      `${t.toFixed(2)},${(22 + 3 * Math.sin(t / 40)).toFixed(1)},${(t * 6.1).toFixed(1)},${(52 - t / 9000).toFixed(2)},${(6 + 4 * Math.sin(t / 30)).toFixed(2)}`,
    );
  }
  return lines.join('\n');
}

/** One real run of a long ride through the import, and many copies of its rows for the list. Gives back the real one's id. */
/** Parts of all kinds through the door for tables. */
export async function fillWithParts(url, count) {
  const kinds = { bikes: '', kits: 'mid', packs: 'li-ion-nmc', chargers: '', riders: '' };
  const columns = { kits: ',motorKind', packs: ',chemistry' };
  for (const [kind, word] of Object.entries(kinds)) {
    const rows = Array.from({ length: count / 5 }, (_, k) => `${kind} ${k}${word && `,${word}`}`);
    const form = new FormData();
    form.append('file', new Blob([[`name${columns[kind] ?? ''}`, ...rows].join('\n')]), `${kind}.csv`);
    const response = await fetch(`${url}/api/bench/${kind}/csv`, { method: 'POST', body: form });
    if (!response.ok) throw new Error(await response.text());
  }
}

export async function fillWithRuns(url, databaseUrl, csv, count) {
  const send = async (path, body) => {
    const response = await fetch(`${url}/api/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!response.ok) throw new Error(await response.text());
    return response.json();
  };
  const bike = await send('bench/bikes', { name: 'Bike' });
  const kit = await send('bench/kits', { name: 'Kit', motorKind: 'mid' });
  const pack = await send('bench/packs', {
    name: 'Pack',
    chemistry: 'li-ion-nmc',
    capacityAh: 14,
    nominalVoltageV: 48,
  });
  const revision = { bikeId: bike.id, kitId: kit.id, packIds: [pack.id], settings: {}, change: 'new' };
  const setup = await send('setups', { name: 'Setup', revision });
  const course = await send('courses', { name: 'Course', kind: 'loop', surface: 'asphalt' });
  const outing = await send('outings', { title: 'Outing', date: '2026-01-01' });
  const form = new FormData();
  form.append('files', new Blob([csv]), 'long.csv');
  const [file] = await (await fetch(`${url}/api/imports`, { method: 'POST', body: form })).json();
  await send('imports/start', {
    items: [
      {
        importId: file.id,
        mapping: file.inspection.mapping,
        assignment: { setupRevisionId: setup.revisions[0].id, courseId: course.id, outingId: outing.id },
        gatesWaiver: { by: 'Bench', reason: 'Only for measuring times.' },
      },
    ],
  });
  const runId = await waitForRun(url, file.id);
  await copyRun(databaseUrl, runId, count - 1);
  return runId;
}

async function waitForRun(url, importId) {
  for (;;) {
    const file = (await (await fetch(`${url}/api/imports`)).json()).find(({ id }) => id === importId);
    if (file.runId) return file.runId;
    if (file.status === 'failed') throw new Error(file.problem.message);
    await new Promise((resolve) => setTimeout(resolve, 200));
  }
}

async function copyRun(databaseUrl, runId, copies) {
  const { default: pg } = await import('pg');
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const tag = randomUUID();
  await client.query(
    `insert into log (id, sha256, file_name, bytes, byte_count, format, cleaning, has_clock, duration_s, sample_count)
     select gen_random_uuid(), $2 || k, 'copy-' || k || '.csv', '', 0, 'csv', l.cleaning, true, l.duration_s, 0
     from run r join log l on l.id = r.log_id, generate_series(1, $3::int) k where r.id = $1`,
    [runId, tag, copies],
  );
  await client.query(
    `insert into run (id, log_id, setup_revision_id, course_id, outing_id, test_kind, method_name, method_version, warnings)
     select gen_random_uuid(), l.id, r.setup_revision_id, r.course_id, r.outing_id, 'range', r.method_name, r.method_version, r.warnings
     from run r, log l where r.id = $1 and l.sha256 like $2 || '%'`,
    [runId, tag],
  );
  await client.query(
    `insert into figure (run_id, key, position, label, value, unit, standard_uncertainty, interval_lower, interval_upper, n, method_name, method_version, warnings, derivation)
     select r.id, f.key, f.position, f.label, f.value * (0.9 + 0.2 * random()), f.unit, f.standard_uncertainty, f.interval_lower, f.interval_upper, f.n, f.method_name, f.method_version, '[]', f.derivation
     from run r, figure f where f.run_id = $1 and r.id <> $1`,
    [runId],
  );
  await client.query('analyze');
  await client.end();
}
