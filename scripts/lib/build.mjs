import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { alone } from './alone.mjs';
import { bin, runShown } from './command.mjs';
import { root } from './say.mjs';

const PARTS = [
  {
    name: 'core',
    folder: 'packages/core',
    from: ['packages/core'],
    command: 'tsc',
    args: ['-p', 'packages/core/tsconfig.build.json'],
  },
  {
    name: 'contract',
    folder: 'packages/contract',
    from: ['packages/core', 'packages/contract'],
    command: 'tsc',
    args: ['-p', 'packages/contract/tsconfig.build.json'],
  },
  {
    name: 'server',
    folder: 'apps/server',
    from: ['packages/core', 'packages/contract', 'apps/server'],
    command: 'swc',
    args: [
      'src',
      '-d',
      'dist',
      '--strip-leading-paths',
      '--ignore',
      '**/*.test.ts',
      '--ignore',
      '**/testing/**',
      '--ignore',
      '**/*.d.ts',
      '--quiet',
    ],
    cwd: 'apps/server',
    then: 'scripts/lib/bundle-server.mjs',
  },
  {
    name: 'web',
    folder: 'apps/web',
    from: ['packages/core', 'packages/contract', 'apps/web'],
    command: 'vite',
    args: ['build', '--logLevel', 'warn'],
    cwd: 'apps/web',
  },
];

/** Builds the parts whose sources changed since they were last built here. */
export function buildChanged(names = PARTS.map(({ name }) => name)) {
  alone(() => PARTS.filter(({ name }) => names.includes(name)).forEach(buildIfChanged));
}

function buildIfChanged(part) {
  const mark = `${root}/.cache/build-${part.name}`;
  const wanted = hashSources(part.from, part.then);
  if (existsSync(`${root}/${part.folder}/dist`) && existsSync(mark) && readFileSync(mark, 'utf8') === wanted) return;
  rmSync(`${root}/${part.folder}/dist`, { recursive: true, force: true });
  runShown(`Building ${part.name}`, bin(part.command), part.args, { cwd: join(root, part.cwd ?? '.') });
  if (part.then) runShown(`Putting ${part.name} together`, process.execPath, [part.then], { cwd: root });
  writeFileSync(mark, wanted);
}

function hashSources(folders, script) {
  const hash = createHash('sha256')
    .update(readFileSync(`${root}/package-lock.json`))
    .update(readFileSync(`${root}/tsconfig.base.json`));
  const visit = (path) => {
    for (const entry of readdirSync(path, { withFileTypes: true }).sort((a, b) => (a.name < b.name ? -1 : 1))) {
      const full = join(path, entry.name);
      if (entry.name === 'node_modules' || entry.name === 'dist' || entry.name.endsWith('.tsbuildinfo')) continue;
      if (entry.isDirectory()) visit(full);
      else if (!/\.test\.tsx?$/.test(entry.name)) hash.update(full).update(readFileSync(full));
    }
  };
  if (script) hash.update(readFileSync(join(root, script)));
  folders.forEach((folder) => visit(join(root, folder)));
  return hash.digest('hex');
}
