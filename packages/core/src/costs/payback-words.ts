import type { Payback } from './payback.js';

/** What a payback says, in one sentence. */
export function paybackWords(found: Payback, against: string): string {
  switch (found.kind) {
    case 'at-once':
      return `No dearer than ${against} from the first kilometre.`;
    case 'never':
      return `Never pays against ${against}: it costs more to begin with, and no less to run.`;
    case 'cannot-tell':
      return `Cannot tell against ${against}: what 100 km cost differs by less than is known; not before ${round(found.fromKm)} km.`;
    case 'after': {
      const [from, to] = found.interval95;
      const span = Number.isFinite(to) ? `${round(from)} to ${round(to)}` : `${round(from)} or more`;
      return `Has paid against ${against} after about ${round(found.km)} km (${span}).`;
    }
    case 'until':
      return `Cheaper than ${against} up to about ${round(found.km)} km, dearer beyond.`;
  }
}

/** To two digits: no more is known. */
function round(km: number): string {
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, km))) - 1);
  return String(Math.round(km / step) * step).replaceAll(/\B(?=(\d{3})+$)/g, ' ');
}
