import { rolldown } from 'rolldown';
import { root } from './say.mjs';

const folder = `${root}/apps/server`;
/** Each with the place it has beside the others: programs start one another by it (`apps/server/src/programs.ts`). */
const PROGRAMS = ['main', 'worker', 'compute/compute.worker', 'simulated-logger/main'];
/** What brings its own threads or machine code, and what libraries ask for only where somebody has installed it. */
const FROM_NODE_MODULES = [
  'sharp',
  'piscina',
  /^@nestjs\/(microservices|websockets|platform-socket)/,
  /^(better-sqlite3|mariadb|mysql2?|oracledb|pg-native|pg-query-stream|sqlite3|tedious)(\/|$)/,
  /^class-(transformer|validator)(\/|$)/,
];

// Two and a half thousand modules are loaded as some: a start takes half as long.
const bundle = await rolldown({
  input: Object.fromEntries(PROGRAMS.map((name) => [name, `${folder}/dist/${name}.js`])),
  cwd: folder,
  platform: 'node',
  external: FROM_NODE_MODULES,
  logLevel: 'warn',
  onLog(level, log, handle) {
    // Libraries import one another in circles.
    if (log.code !== 'CIRCULAR_DEPENDENCY') handle(level, log);
  },
});
await bundle.write({
  dir: `${folder}/dist/bundle`,
  format: 'esm',
  entryFileNames: '[name].js',
  chunkFileNames: '[name]-[hash].js',
  keepNames: true,
});
