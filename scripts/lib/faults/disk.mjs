import { spawnSync } from 'node:child_process';
import { rmSync, statfsSync } from 'node:fs';
import { join } from 'node:path';

const SIZE_MB = 900;
/** Left free, so that the file itself can be written. */
const LEFT_BYTES = 64 * 1024;

/** A disk of its own in memory, small enough to be filled; false where this machine does not let one be mounted. */
export function mountSmallDisk(folder) {
  const size = `size=${SIZE_MB}m,mode=755`;
  return spawnSync('mount', ['-t', 'tmpfs', '-o', size, 'tmpfs', folder], { stdio: 'ignore' }).status === 0;
}
export function unmountDisk(folder) {
  spawnSync('umount', ['-l', folder], { stdio: 'ignore' });
}

/** Fills the disk to the last block; gives back how to free it again. */
export function fillDisk(folder) {
  const file = join(folder, 'filler');
  // Twice: what was freed meanwhile is filled too.
  for (let k = 0; k < 2; k++) {
    const { bavail, bsize } = statfsSync(folder);
    const bytes = Math.max(0, bavail * bsize - LEFT_BYTES);
    spawnSync('sh', ['-c', `head -c ${bytes} /dev/zero >> "$0"`, file], { stdio: 'ignore' });
  }
  return () => rmSync(file, { force: true });
}
