import type { ChannelColumns } from '../../logs/index.js';

const STANDING_MPS = 0.3;
const MIN_SAMPLES = 8;
/** So far may a pause differ from what a standing bike shows at its other stops. */
const LIMIT_SHARE = 0.5;

/**
 * What a quantity reads while the bike stands, in its own unit, and how far that may be off; `usual` where the log never shows it
 * standing or does not say when it does.
 */
export function standingMean(
  timeS: Float64Array,
  values: Float64Array,
  { speed }: Pick<ChannelColumns, 'speed'>,
  usual: number,
): { readonly standing: number; readonly standingLimit: number } {
  let [sum, count] = [0, 0];
  for (let k = 0; speed && k < timeS.length; k++) {
    if (!(speed[k]! < STANDING_MPS) || Number.isNaN(values[k]!)) continue;
    sum += values[k]!;
    count++;
  }
  if (count < MIN_SAMPLES) return { standing: usual, standingLimit: usual };
  const standing = Math.max(0, sum / count);
  return { standing, standingLimit: Math.max(LIMIT_SHARE * standing, usual / 3) };
}
