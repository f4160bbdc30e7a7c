import type { Calibration } from './calibrate.js';
import type { PathOutcome, PathProfile } from './path.js';
import type { ForecastWarning, Scenario } from './scenario.js';
import { GRADE_OVER_M } from './what-was-ridden.js';

const MASS_BEYOND = 0.15;
const GRADE_BEYOND = 0.012;
const AIR_BEYOND_K = 5;
const SPEED_BEYOND = 1.1;

/** Where a question leaves what was ridden, in words a rider can judge by. */
export function beyondWhatWasRidden(
  { ridden, fixed, command }: Calibration,
  scenario: Scenario,
  way: PathProfile,
  likely: PathOutcome,
): ForecastWarning[] {
  const warnings: ForecastWarning[] = [];
  const warn = (code: string, message: string): void => void warnings.push({ code, message });
  if (!ridden) {
    warn(
      'no-rides',
      'No ride of this bike was used: everything here is what is usual for such a kit, so the spans are wide. One logged ride narrows them.',
    );
  } else {
    const mass = scenario.totalMassKg + (scenario.secondPack?.massKg ?? 0);
    const [light, heavy] = ridden.massKg;
    if (mass > heavy * (1 + MASS_BEYOND) || mass < light * (1 - MASS_BEYOND))
      warn('mass-beyond', `Ridden so far with ${spoken(light, heavy, 'kg')}; here ${mass.toFixed(0)} kg.`);
    const steepest = steepestPiece(way);
    if (ridden.steepest === null) {
      if (steepest > 0.02) warn('grade-beyond', `No ride so far has an altitude; here it climbs ${percent(steepest)}.`);
    } else if (steepest > ridden.steepest + GRADE_BEYOND)
      warn('grade-beyond', `Steepest you rode: ${percent(ridden.steepest)}; here ${percent(steepest)}.`);
    const air = scenario.airTemperatureC;
    if (air !== undefined && ridden.airC && air < ridden.airC[0] - AIR_BEYOND_K)
      warn(
        'cold-beyond',
        `Never ridden below ${ridden.airC[0].toFixed(0)} °C; here ${air.toFixed(0)} °C. Cold packs give less.`,
      );
    if (air !== undefined && ridden.airC && air > ridden.airC[1] + AIR_BEYOND_K)
      warn('warm-beyond', `Never ridden above ${ridden.airC[1].toFixed(0)} °C; here ${air.toFixed(0)} °C.`);
    if (
      scenario.riding.targetSpeedKmh !== undefined &&
      scenario.riding.targetSpeedKmh / 3.6 > ridden.fastestMps * SPEED_BEYOND
    )
      warn(
        'speed-beyond',
        `Fastest so far: ${(ridden.fastestMps * 3.6).toFixed(0)} km/h; here ${scenario.riding.targetSpeedKmh.toFixed(0)} km/h.`,
      );
    if (likely.timeS > 3 * ridden.longestS && likely.peakMotorC > 60)
      warn(
        'duration-beyond',
        `The longest ride so far took ${(ridden.longestS / 60).toFixed(0)} min; how warm the motor gets in ${(likely.timeS / 60).toFixed(0)} min is worked out, not seen.`,
      );
  }
  const { level } = scenario.riding;
  if (level !== undefined && !command.levels.some((seen) => seen.level === level))
    warn(
      'level-unseen',
      `Level ${level} is in no log of these rides${command.levels.length > 0 ? ` (${command.levels.map((seen) => seen.level).join(', ')} are)` : ''}: the most help that was seen is taken.`,
    );
  if (likely.endedBy === 'cut-off')
    warn('cut-off', `The battery would cut off after about ${(likely.distanceM / 1000).toFixed(1)} km.`);
  if (likely.endedBy === 'stall')
    warn(
      'stall',
      `The bike would come to a stand after about ${(likely.distanceM / 1000).toFixed(1)} km: motor and rider together cannot hold it there.`,
    );
  if (fixed.temperatureLimitC === null)
    warn(
      'no-temperature-limit',
      'No limit for the motor’s temperature is known, so none is said to be reached. Write it into the kit.',
    );
  return warnings;
}

function steepestPiece({ endM, sine, cosine, lengthM }: PathProfile): number {
  // Over the same length as what was ridden, so that one short ramp is not set against a hill.
  let steepest = -Infinity;
  const span = Math.min(GRADE_OVER_M, lengthM);
  const altitudes = [0];
  endM.forEach((end, k) =>
    altitudes.push(altitudes[k]! + ((end - (k > 0 ? endM[k - 1]! : 0)) * sine[k]!) / cosine[k]!),
  );
  const altitudeAt = (x: number): number => {
    let k = endM.findIndex((end) => end >= x);
    if (k < 0) k = endM.length - 1;
    const from = k > 0 ? endM[k - 1]! : 0;
    return altitudes[k]! + ((x - from) * sine[k]!) / cosine[k]!;
  };
  const steps = Math.min(400, Math.max(1, Math.ceil((lengthM - span) / 50)));
  for (let k = 0; k <= steps; k++) {
    const x = ((lengthM - span) * k) / steps;
    steepest = Math.max(steepest, (altitudeAt(x + span) - altitudeAt(x)) / span);
  }
  return steepest;
}

function percent(grade: number): string {
  return `${(100 * grade).toFixed(Math.abs(grade) < 0.03 ? 1 : 0)} %`;
}

function spoken(low: number, high: number, unit: string): string {
  return low.toFixed(0) === high.toFixed(0)
    ? `${low.toFixed(0)} ${unit}`
    : `${low.toFixed(0)} to ${high.toFixed(0)} ${unit}`;
}
