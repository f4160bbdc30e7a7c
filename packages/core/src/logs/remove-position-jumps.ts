import type { ChannelColumns } from './channels.js';
import { haversineM } from './haversine.js';

const MAX_GPS_SPEED_MPS = 45;

/** Fixes farther from the last good one than any bike rides; the fix itself is dropped, not the ones after it. */
export function removePositionJumps({ latitude, longitude }: ChannelColumns, timeS: Float64Array): number {
  if (!latitude || !longitude) return 0;
  let last = -1;
  let rejectedInARow = 0;
  let jumps = 0;
  for (let k = 0; k < timeS.length; k++) {
    if (Number.isNaN(latitude[k]!) || Number.isNaN(longitude[k]!)) continue;
    if (last >= 0) {
      const distanceM = haversineM(latitude[last]!, longitude[last]!, latitude[k]!, longitude[k]!);
      // After several rejections in a row the "last good" fix was itself the jump.
      if (distanceM / (timeS[k]! - timeS[last]!) > MAX_GPS_SPEED_MPS && rejectedInARow < 5) {
        latitude[k] = NaN;
        longitude[k] = NaN;
        rejectedInARow++;
        jumps++;
        continue;
      }
    }
    last = k;
    rejectedInARow = 0;
  }
  return jumps;
}
