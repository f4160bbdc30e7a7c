import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { alone } from './alone.mjs';
import { root } from './say.mjs';
import { runShown } from './command.mjs';

const MARK = `${root}/node_modules/.installed-lock`;

/** `npm ci`, but only when the lock file is not the one that is installed. */
export function installPackages() {
  const wanted = createHash('sha256')
    .update(readFileSync(`${root}/package-lock.json`))
    .digest('hex');
  const isInstalled = () => existsSync(MARK) && readFileSync(MARK, 'utf8') === wanted;
  if (isInstalled()) return;
  alone(() => {
    if (isInstalled()) return;
    runShown('Installing packages (npm ci)', 'npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error']);
    writeFileSync(MARK, wanted);
  });
}
