import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { root } from './say.mjs';

const require = createRequire(`${root}/apps/server/`);
const CHANNELS = [
  'speed',
  'distance',
  'altitude',
  'voltage',
  'current',
  'motorTemperature',
  'controllerTemperature',
  'batteryTemperature',
  'cadence',
  'throttle',
  'heartRate',
  'stateOfCharge',
];
/** Of Linux: ticks of the processor's clock in a second. */
const TICKS_PER_S = 100;
const TICK_MS = 20;

const sampleLine = (n, logger, hz) => {
  const t = n / hz;
  const wave = Math.sin(t / 7 + logger);
  return JSON.stringify([
    n,
    t,
    Number((22 + 3 * wave).toFixed(2)),
    Number((6.1 * t).toFixed(1)),
    Number((120 + 5 * wave).toFixed(1)),
    Number((52 - t / 900).toFixed(2)),
    Number((6 + 4 * wave).toFixed(2)),
    Number((30 + t / 60).toFixed(1)),
    Number((28 + t / 70).toFixed(1)),
    Number((20 + t / 90).toFixed(1)),
    Math.round(70 + 5 * wave),
    Math.round(50 + 30 * wave),
    Math.round(120 + 10 * wave),
    Number((98 - t / 50).toFixed(1)),
  ]);
};

function processUse(pid) {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(') ')[1].split(' ');
  const memory = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))[1];
  return { cpuS: (Number(fields[11]) + Number(fields[12])) / TICKS_PER_S, memoryMb: Number(memory) / 1024 };
}

/** Of several processes together. */
function usesOf(pids) {
  const uses = pids.map(processUse);
  const sum = (key) => uses.reduce((all, use) => all + use[key], 0);
  return { cpuS: sum('cpuS'), memoryMb: sum('memoryMb') };
}

/** Many loggers at once on one server or several in turn; every line must be found on disk afterwards. */
export async function runLoggers({ url, pid, databaseUrl, loggers, hz = 50, seconds }) {
  const urls = [url].flat();
  const pids = [pid].flat();
  const { WebSocket } = require('ws');
  const pg = require('pg');
  const names = Array.from({ length: loggers }, (_, k) => `Bench box ${k + 1}`);
  for (const name of names) {
    const response = await fetch(`${urls[0]}/api/bench/loggers`, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ name }),
    });
    if (!response.ok) throw new Error(await response.text());
  }
  const delays = [];
  const boxes = await Promise.all(
    names.map(async (logger, k) => {
      const socket = new WebSocket(`${urls[k % urls.length].replace('http', 'ws')}/api/logger/stream`);
      const box = { k, socket, sent: 0, sentAt: [], acknowledged: -1 };
      socket.on('message', (data) => {
        for (const line of data.toString().split('\n').filter(Boolean)) {
          const { ack, error } = JSON.parse(line);
          if (error) throw new Error(error.message);
          if (ack === undefined) continue;
          // The line that waited longest for this write.
          delays.push(performance.now() - box.sentAt[box.acknowledged + 1]);
          box.acknowledged = ack;
        }
      });
      await new Promise((resolve, reject) => socket.once('open', resolve).once('error', reject));
      socket.send(`${JSON.stringify({ hello: { protocol: 1, logger, session: 'bench', channels: CHANNELS } })}\n`);
      return box;
    }),
  );
  const before = usesOf(pids);
  let mostMb = before.memoryMb;
  const total = seconds * hz;
  const start = performance.now();
  await new Promise((resolve) => {
    const timer = setInterval(() => {
      const due = Math.min(total, Math.floor(((performance.now() - start) / 1000) * hz));
      for (const box of boxes)
        while (box.sent < due) {
          box.sentAt[box.sent] = performance.now();
          box.socket.send(`${sampleLine(box.sent, box.k, hz)}\n`);
          box.sent++;
        }
      if (due % 100 === 0) mostMb = Math.max(mostMb, usesOf(pids).memoryMb);
      if (due >= total) {
        clearInterval(timer);
        resolve();
      }
    }, TICK_MS);
  });
  const until = Date.now() + 10_000;
  while (boxes.some(({ acknowledged }) => acknowledged < total - 1) && Date.now() < until)
    await new Promise((resolve) => setTimeout(resolve, 50));
  const after = usesOf(pids);
  for (const { socket } of boxes) socket.close();
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const { rows } = await client.query(
    `select coalesce(sum(sample_count), 0)::int as stored from sample_chunk c join logger_session s on s.id = c.session_id where s.name = 'bench'`,
  );
  await client.end();
  delays.sort((a, b) => a - b);
  // What nobody can do without: every line is parsed once.
  const lines = Array.from({ length: 20_000 }, (_, n) => sampleLine(n, 1, hz));
  const parse = process.cpuUsage();
  for (const line of lines) JSON.parse(line);
  const { user, system } = process.cpuUsage(parse);
  return {
    lost: loggers * total - rows[0].stored,
    cpuShare: (after.cpuS - before.cpuS) / seconds,
    parseShare: ((user + system) / 1e6 / lines.length) * loggers * hz,
    mostMb,
    beforeMb: before.memoryMb,
    slowestAckMs: delays[Math.floor(delays.length * 0.999)] ?? NaN,
  };
}
