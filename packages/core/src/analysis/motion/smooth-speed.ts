import { meanWithin } from './mean-within.js';

export interface SpeedReadings {
  readonly timeS: readonly number[];
  readonly mps: readonly number[];
  /** Of one reading, m/s. */
  readonly noiseMps: number;
}

export interface SmoothedSpeed {
  readonly speedMps: Float64Array;
  readonly speedErrorMps: Float64Array;
  readonly accelerationMps2: Float64Array;
}
/** How fast slope and sensor change the offset, m/s² after a second. */
const OFFSET_DRIFT = 0.08;
/** Before the first reading the offset may be a slope of a few per cent, m/s². */
const FIRST_OFFSET = 0.5;
/** A receiver filters: hard on the brake its speed is so late or early beyond its usual delay, s. */
const FILTERED_S = 0.35;
/** Where it is late by more than a second it filters for long, and in no simple way. */
const LONG_FILTER_SHARE = 0.6;
/** A receiver that rests shows nought up to its threshold, m/s. */
const RESTING_ERROR_MPS = 0.35;
/** Over a hole in what was felt the speed is only bounded, m/s². */
const UNFELT_MPS2 = 1.5;

/**
 * Speed and acceleration from both: what is felt is integrated, the readings of the speed hold the integral and show its offset (slope, mount,
 * sensor).
 *
 * `shakingMps2`: what shaking leaves of a mean over a second.
 *
 * Shapes: `timeS` and `feltMps2` equally long; readings of their own times, late by `delayS`. Units: s, m/s, m/s².
 * Method: Kalman filter over (speed, offset), the offset a random walk, then the Rauch–Tung–Striebel smoother.
 * Source: Rauch, Tung, Striebel (1965), AIAA Journal 3(8), 1445–1450.
 */
export function smoothSpeed(
  timeS: Float64Array,
  feltMps2: Float64Array,
  readings: SpeedReadings,
  delayS: number,
  shakingMps2: number,
): SmoothedSpeed {
  const n = timeS.length;
  const pace = meanWithin(timeS, feltMps2, 1);
  const filteredS = FILTERED_S + LONG_FILTER_SHARE * Math.max(0, delayS - 1);
  const v = new Float64Array(n);
  const b = new Float64Array(n);
  // Covariances after each sample: of the speed, of both, of the offset; and as they were foretold.
  const [pvv, pvb, pbb] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  const [qvv, qvb, qbb] = [new Float64Array(n), new Float64Array(n), new Float64Array(n)];
  const [vf, dts] = [new Float64Array(n), new Float64Array(n)];
  let next = 0;
  while (next < readings.timeS.length && readings.timeS[next]! - delayS < timeS[0]!) next++;
  const firstMps = readings.mps[Math.min(next, readings.mps.length - 1)] ?? 0;
  for (let k = 0; k < n; k++) {
    const dt = k === 0 ? 0 : timeS[k]! - timeS[k - 1]!;
    dts[k] = dt;
    if (k === 0) {
      vf[0] = firstMps;
      qvv[0] = 1;
      qbb[0] = FIRST_OFFSET ** 2;
      b[0] = 0;
    } else {
      const isFelt = dt < 1;
      const a = isFelt ? (feltMps2[k]! + feltMps2[k - 1]!) / 2 - b[k - 1]! : 0;
      vf[k] = v[k - 1]! + a * dt;
      qvv[k] =
        pvv[k - 1]! -
        2 * dt * pvb[k - 1]! +
        dt * dt * pbb[k - 1]! +
        (isFelt ? shakingMps2 ** 2 * dt : (UNFELT_MPS2 * dt) ** 2);
      qvb[k] = pvb[k - 1]! - dt * pbb[k - 1]!;
      qbb[k] = pbb[k - 1]! + OFFSET_DRIFT ** 2 * dt;
      b[k] = b[k - 1]!;
    }
    v[k] = vf[k]!;
    pvv[k] = qvv[k]!;
    pvb[k] = qvb[k]!;
    pbb[k] = qbb[k]!;
    while (next < readings.timeS.length && readings.timeS[next]! - delayS <= timeS[k]!) {
      const mps = readings.mps[next++]!;
      const noise = Math.hypot(mps === 0 ? RESTING_ERROR_MPS : readings.noiseMps, filteredS * (pace[k]! - b[k]!));
      const innovation = pvv[k]! + noise * noise;
      const [gv, gb] = [pvv[k]! / innovation, pvb[k]! / innovation];
      const miss = mps - v[k]!;
      v[k]! += gv * miss;
      b[k]! += gb * miss;
      const [was, both] = [pvv[k]!, pvb[k]!];
      pvv[k] = was * (1 - gv);
      pvb[k] = both * (1 - gv);
      pbb[k] = pbb[k]! - gb * both;
    }
  }
  smoothBack({ v, b, vf, pvv, pvb, pbb, qvv, qvb, qbb, dts });
  return {
    speedMps: v.map((value) => Math.max(0, value)),
    speedErrorMps: pvv.map((value) => Math.sqrt(Math.max(0, value))),
    accelerationMps2: feltMps2.map((value, k) => value - b[k]!),
  };
}

/** From the last sample to the first: what came later tells of what was before. In place. */
function smoothBack(
  of: Readonly<Record<'v' | 'b' | 'vf' | 'pvv' | 'pvb' | 'pbb' | 'qvv' | 'qvb' | 'qbb' | 'dts', Float64Array>>,
): void {
  const { v, b, vf, pvv, pvb, pbb, qvv, qvb, qbb, dts } = of;
  // The offset as it was foretold for the next sample is the one after this: before it is smoothed.
  for (let k = v.length - 2; k >= 0; k--) {
    const dt = dts[k + 1]!;
    const determinant = qvv[k + 1]! * qbb[k + 1]! - qvb[k + 1]! ** 2;
    if (!(determinant > 0)) continue;
    // P·Fᵀ, with F = [1 −dt; 0 1].
    const [a11, a12] = [pvv[k]! - dt * pvb[k]!, pvb[k]!];
    const [a21, a22] = [pvb[k]! - dt * pbb[k]!, pbb[k]!];
    const [i11, i12, i22] = [qbb[k + 1]! / determinant, -qvb[k + 1]! / determinant, qvv[k + 1]! / determinant];
    const [g11, g12] = [a11 * i11 + a12 * i12, a11 * i12 + a12 * i22];
    const [g21, g22] = [a21 * i11 + a22 * i12, a21 * i12 + a22 * i22];
    const [dv, db] = [v[k + 1]! - vf[k + 1]!, b[k + 1]! - b[k]!];
    v[k]! += g11 * dv + g12 * db;
    b[k]! += g21 * dv + g22 * db;
    const [d11, d12, d22] = [pvv[k + 1]! - qvv[k + 1]!, pvb[k + 1]! - qvb[k + 1]!, pbb[k + 1]! - qbb[k + 1]!];
    pvv[k]! += g11 * (g11 * d11 + g12 * d12) + g12 * (g11 * d12 + g12 * d22);
    const both = g21 * (g11 * d11 + g12 * d12) + g22 * (g11 * d12 + g12 * d22);
    pbb[k]! += g21 * (g21 * d11 + g22 * d12) + g22 * (g21 * d12 + g22 * d22);
    pvb[k]! += both;
  }
}
