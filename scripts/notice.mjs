import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { refuse, root, runScript, say } from './lib/say.mjs';

/**
 * Writes NOTICE: every package that ships with Ebrix (what the server and the pages need at run time, fonts and the image
 * library among them) with its version and licence. `--check` refuses when the file is not what it would write.
 */
await runScript(() => {
  const shipped = new Map();
  const visit = (name, from) => {
    const folder = locate(name, from);
    // An optional binary for another platform is not there, and not shipped.
    if (!folder || shipped.has(folder)) return;
    const { version, license, licenses, dependencies = {}, optionalDependencies = {} } = read(folder);
    shipped.set(folder, { name, version, licence: nameOf(license ?? licenses) });
    for (const next of Object.keys({ ...dependencies, ...optionalDependencies })) visit(next, folder);
  };
  for (const workspace of ['packages/core', 'packages/contract', 'apps/server', 'apps/web']) {
    const folder = join(root, workspace);
    for (const name of Object.keys(read(folder).dependencies ?? {}))
      if (!name.startsWith('@ebrix/')) visit(name, folder);
  }
  const lines = [...shipped.values()]
    // Binaries differ from machine to machine; the library they belong to is listed.
    .filter(({ name }) => !/(linux|darwin|win32|wasm32|freebsd)/.test(name))
    .map(({ name, version, licence }) => `${name} ${version}: ${licence}`)
    .sort();
  const text = `Ebrix
Copyright (c) 2026 The Ebrix contributors. MIT licence, see LICENSE.

It ships with these packages, each under its own licence (full texts in their folders under node_modules). The image library
sharp brings the compiled libvips (LGPL-3.0-or-later). The fonts Archivo and B612 are under the SIL Open Font License 1.1.
Made by scripts/notice.mjs.

${[...new Set(lines)].join('\n')}
`;
  const file = join(root, 'NOTICE');
  if (!process.argv.includes('--check')) {
    writeFileSync(file, text);
    say(`NOTICE: ${lines.length} packages.`);
  } else if (!existsSync(file) || readFileSync(file, 'utf8') !== text)
    refuse('NOTICE is not up to date. Run: node scripts/notice.mjs');
});

function read(folder) {
  return JSON.parse(readFileSync(join(folder, 'package.json'), 'utf8'));
}

/** The folder of a package as Node finds it from another one. */
function locate(name, from) {
  for (let folder = from; folder.startsWith(root); folder = join(folder, '..')) {
    const candidate = join(folder, 'node_modules', name);
    if (existsSync(join(candidate, 'package.json'))) return candidate;
    if (folder === root) break;
  }
  return undefined;
}

/** Old packages write a licence as an object, or several in a list. */
function nameOf(licence) {
  if (typeof licence === 'string') return licence;
  if (Array.isArray(licence)) return licence.map(nameOf).join(' or ');
  return licence?.type ?? 'see its folder';
}
