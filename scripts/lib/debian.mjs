import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, writeFileSync } from 'node:fs';
import { runQuiet, runShown } from './command.mjs';
import { refuse } from './say.mjs';

/** Installs Debian packages as root; as another user says which are missing. */
export function installDebianPackages(packages, why) {
  if (process.getuid?.() !== 0)
    refuse(
      `${why} needs the Debian package${packages.length > 1 ? 's' : ''} ${packages.join(', ')}. ` +
        `Install with: sudo apt-get install --no-install-recommends ${packages.join(' ')}`,
    );
  if (!existsSync('/usr/bin/apt-get'))
    refuse(`${why} needs ${packages.join(', ')}, and this machine has no apt-get to install it. Install it by hand.`);
  if (
    packages.some((name) => name.startsWith('postgresql')) &&
    !existsSync('/etc/postgresql-common/createcluster.conf')
  ) {
    // Without this Debian would make and start a cluster of its own, which Ebrix does not use.
    mkdirSync('/etc/postgresql-common', { recursive: true });
    writeFileSync('/etc/postgresql-common/createcluster.conf', "create_main_cluster = false\nstart_conf = 'manual'\n");
  }
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  runQuiet('apt-get', ['-o', 'DPkg::Lock::Timeout=600', 'update'], { env });
  runShown(
    `Installing ${packages.join(', ')} (${why})`,
    'apt-get',
    [
      '-o',
      'DPkg::Lock::Timeout=600',
      '-o',
      'Dpkg::Options::=--force-confdef',
      '-o',
      'Dpkg::Options::=--force-confold',
      '-qq',
      'install',
      '-y',
      '--no-install-recommends',
      ...packages,
    ],
    { env, stdio: ['ignore', 'ignore', 'inherit'] },
  );
}

/** Debian's Chromium without a window. */
export const CHROMIUM = '/usr/bin/chromium-headless-shell';

export function ensureChromium() {
  if (!existsSync(CHROMIUM)) installDebianPackages(['chromium-headless-shell'], 'Testing in a browser');
  // A phone is told to trust the authority of an installation; so is the browser in its test.
  if (!existsSync('/usr/bin/certutil')) installDebianPackages(['libnss3-tools'], 'Testing over TLS');
}

/** The example box for a microcontroller is compiled for this machine by its test. */
export function ensureCompiler() {
  if (!existsSync('/usr/bin/g++')) installDebianPackages(['g++'], 'Testing the example box');
  if (!existsSync('/usr/bin/python3') && !runQuiet('python3', ['--version']).ok)
    installDebianPackages(['python3'], 'Testing the example logger');
}

const R_PACKAGES = ['r-base-core', 'r-cran-jsonlite', 'r-cran-lmertest', 'r-cran-emmeans'];

/** R with the models that verdicts are held against; only where somebody asks for it. */
export function ensureR() {
  if (spawnSync('Rscript', ['-e', 'library(lmerTest); library(emmeans); library(jsonlite)']).status !== 0)
    installDebianPackages(R_PACKAGES, 'Comparing with R');
}
