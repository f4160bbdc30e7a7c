import { deflateRawSync, deflateSync, gzipSync } from 'node:zlib';

/** Files as nobody means them: well-formed ones of every kind that is read, changed where their grammar is tender, and some that were made to hurt. */
export function hostileFiles(random) {
  const pick = (list) => list[Math.floor(random() * list.length)];
  const below = (n) => Math.floor(random() * n);
  const cut = (text) => [below(text.length), below(text.length)].sort((a, b) => a - b);

  const NUMBERS = [
    'NaN',
    '1e309',
    '-1e309',
    '9'.repeat(4000),
    '-0',
    '0x10',
    '١٢',
    '1,5',
    '1.5.5',
    '',
    ' ',
    '1e-400',
    '∞',
    '=1+1',
    '12:60:61',
  ];
  const textChanges = [
    (text) => text.slice(0, below(text.length)),
    (text) => {
      const [a, b] = cut(text);
      return text.slice(0, a) + text.slice(b);
    },
    (text) => {
      const [a, b] = cut(text);
      return text.slice(0, b) + text.slice(a);
    },
    (text) => text.replaceAll(/-?\d+(\.\d+)?/g, (found) => (random() < 0.02 ? pick(NUMBERS) : found)),
    (text) => text.replaceAll('\n', pick(['\r', '\r\n', '\n\n', '\u2028', '\0\n'])),
    (text) => `${pick(['\ufeff', '\ufeff\ufeff', '\0', '"', "'", '<', '\u202e'])}${text}`,
    (text) => text.replaceAll(',', pick([';', '\t', '|', ',,', ', ', '","'])),
    (text) => text.replace(/./, (found) => found + '"'.repeat(50_000)),
    (text) => `${text}\n${'x'.repeat(2_000_000)}`,
    (text) => `${text}\n${'1,'.repeat(300_000)}`,
    (text) => text + text.split('\n').reverse().join('\n'),
    (text) =>
      text.replaceAll(/[a-z]+/gi, (found) =>
        random() < 0.03 ? pick(['__proto__', 'constructor', 'null', '💥', 'é'.repeat(300)]) : found,
      ),
    (text) => `${text.split('\n').slice(0, 3).join('\n')}\n${'\n'.repeat(400_000)}`,
  ];
  const byteChanges = [
    (bytes) => {
      const changed = Buffer.from(bytes);
      for (let k = 0; k < 1 + below(40); k++) changed[below(changed.length)] = below(256);
      return changed;
    },
    (bytes) => bytes.subarray(0, below(bytes.length)),
    (bytes) => Buffer.from(bytes.toString('latin1'), 'utf16le'),
    (bytes) => Buffer.concat([Buffer.from([0xff, 0xfe]), Buffer.from(bytes.toString('latin1'), 'utf16le')]),
    (bytes) => gzipSync(bytes),
    (bytes) => Buffer.concat([bytes, bytes, bytes]),
  ];
  const csv = (headings, rows, row) => [headings, ...Array.from({ length: rows }, (_, k) => row(k))].join('\n');
  const log = () =>
    csv('time (s),speed (km/h),distance (m),voltage (V),current (A),motor temperature (°C)', 600, (t) =>
      [t, (20 + Math.sin(t / 9)).toFixed(2), (t * 5.6).toFixed(1), (50 - t / 900).toFixed(2), 6, 40 + t / 60].join(','),
    );
  const table = () => csv('setup,outing,value', 24, (k) => [pick(['A', 'B']), `day ${k % 4}`, 8 + random()].join(','));
  const parts = () =>
    csv('name,chemistry,nominalVoltageV,capacityAh', 5, (k) =>
      [`Pack ${below(1e9)} ${k}`, 'li-ion-nmc', 48, 14].join(','),
    );
  const gpx = () =>
    `<?xml version="1.0"?><gpx version="1.1" creator="x"><trk><trkseg>${Array.from(
      { length: 300 },
      (_, k) =>
        `<trkpt lat="${50 + k / 1e4}" lon="${7 + k / 1e4}"><ele>${100 + k / 5}</ele><time>2026-05-01T08:00:${String(k % 60).padStart(2, '0')}Z</time></trkpt>`,
    ).join('')}</trkseg></trk></gpx>`;
  const geojson = () =>
    JSON.stringify({
      type: 'Feature',
      properties: {},
      geometry: {
        type: 'LineString',
        coordinates: Array.from({ length: 300 }, (_, k) => [7 + k / 1e4, 50 + k / 1e4, 100]),
      },
    });
  const setup = () =>
    JSON.stringify({ format: 'ebrix-setup', version: 1, setup: { name: 'x', revisions: [{}] }, parts: {} });
  const made = {
    deepJson: () => '['.repeat(200_000),
    deepObject: () => '{"a":'.repeat(100_000),
    entities: () =>
      `<!DOCTYPE g [${Array.from({ length: 12 }, (_, k) => `<!ENTITY e${k + 1} "${`&e${k};`.repeat(10)}">`).join('')}<!ENTITY e0 "ha">]><gpx><trk><name>&e12;</name></trk></gpx>`,
    fileEntity: () => '<!DOCTYPE g [<!ENTITY x SYSTEM "file:///etc/hostname">]><gpx><trk><name>&x;</name></trk></gpx>',
    deepXml: () => '<a>'.repeat(100_000),
    farTimes: () => csv('time (s),speed (km/h)', 400, (t) => `${t * 1e12},20`),
    sameTimes: () => csv('time (s),speed (km/h),voltage (V),current (A)', 5000, () => '5,20,50,6'),
    backTimes: () => csv('time (s),speed (km/h)', 5000, (t) => `${5000 - t},20`),
    manyColumns: () => csv(Array.from({ length: 20_000 }, (_, k) => `c${k}`).join(','), 5, () => '1,'.repeat(20_000)),
    manyShortLines: () => 'time,speed\n' + '1\n'.repeat(1_500_000),
    sameHeadings: () => csv('speed,speed,speed,speed', 400, () => '1,2,3,4'),
    slowQuote: () => `time (s),speed (km/h)\n0,"${'"",'.repeat(300_000)}`,
    nothing: () => '',
  };
  const bytesMade = {
    zipBomb: () => zipOf('xl/worksheets/sheet1.xml', Buffer.alloc(300_000_000)),
    zipSlip: () => zipOf('../../../../tmp/slipped.csv', Buffer.from('time,speed\n1,2')),
    hugePicture: () => pngOf(60_000, 60_000),
    tinyPicture: () => pngOf(0, 0),
  };
  const seeds = {
    'quick-look/log': [log, gpx],
    'quick-look/log/columns': [log, gpx],
    'quick-look/table/columns': [table],
    'quick-look/table': [table],
    imports: [log, gpx, geojson],
    'bench/packs/csv': [parts],
    'setups/file': [setup],
    'courses/{course}/track': [gpx, geojson, log],
    photos: [log],
    package: [log],
    'elsewhere/package': [log],
  };
  const paths = Object.keys(seeds);
  return {
    paths,
    next() {
      const path = pick(paths);
      const chance = random();
      if (chance < 0.12) return { path, what: 'bytes made to hurt', ...nameAnd(pick(Object.entries(bytesMade))) };
      if (chance < 0.35) return { path, what: 'made to hurt', ...nameAnd(pick(Object.entries(made))) };
      let text = pick(seeds[path])();
      for (let k = 0; k < 1 + below(3); k++) text = pick(textChanges)(text).slice(0, 30_000_000);
      const bytes = random() < 0.4 ? pick(byteChanges)(Buffer.from(`${text} `)) : Buffer.from(text);
      return { path, what: 'changed', name: `${path} changed`, bytes };
    },
  };
}

const nameAnd = ([name, make]) => ({ name, bytes: Buffer.from(make()) });

/** A zip of one entry, told as the smallest reader needs it. */
function zipOf(name, content) {
  const packed = deflateRawSync(content);
  const path = Buffer.from(name);
  const head = Buffer.alloc(26);
  head.writeUInt16LE(20, 0);
  head.writeUInt16LE(8, 4);
  head.writeUInt32LE(packed.length, 14);
  head.writeUInt32LE(content.length, 18);
  head.writeUInt16LE(path.length, 22);
  const local = Buffer.concat([Buffer.from('PK\x03\x04'), head, path, packed]);
  const central = Buffer.concat([Buffer.from('PK\x01\x02\x14\0', 'latin1'), head, Buffer.alloc(14), path]);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(1, 8);
  end.writeUInt16LE(1, 10);
  end.writeUInt32LE(central.length, 12);
  end.writeUInt32LE(local.length, 16);
  return Buffer.concat([local, central, end]);
}

/** The head of a picture that says how large it is, and no picture. */
function pngOf(width, height) {
  const size = Buffer.alloc(13);
  size.writeUInt32BE(width, 0);
  size.writeUInt32BE(height, 4);
  size.set([8, 2, 0, 0, 0], 8);
  const chunk = (kind, data) => {
    const length = Buffer.alloc(4);
    length.writeUInt32BE(data.length);
    return Buffer.concat([length, Buffer.from(kind), data, Buffer.alloc(4)]);
  };
  return Buffer.concat([
    Buffer.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]),
    chunk('IHDR', size),
    chunk('IDAT', deflateSync(Buffer.alloc(1000))),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
