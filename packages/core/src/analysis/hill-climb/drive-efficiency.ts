import type { CleanLog } from '../../logs/index.js';
import { dragForceN } from '../../physics/index.js';
import { JOULES_PER_WATT_HOUR, STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { derivationNumber as num, fromLimit, type Warn } from '../figure.js';
import { RIDER_POWER_LIMIT } from '../range/rider-figures.js';
import { integrateOverRide } from '../range/ride-integrals.js';
import { airDensityOf, type TestContext } from '../test-context.js';
import type { Put } from './put-figure.js';
import { referenceClimb } from './reference-climb.js';

/** What of the electrical energy became climbing, rolling, air and speed, less what the rider did. */
export function addDriveEfficiency(
  log: CleanLog,
  context: TestContext,
  climb: { gainM: number; gainU: number; energyWh: number; energyU: number; distanceM: number },
  put: Put,
  warn: Warn,
): void {
  const { totalMassKg, cdaM2, crr } = context;
  const { speed, riderPower } = log.channels;
  const density = airDensityOf(context);
  if (totalMassKg === undefined || cdaM2 === undefined || crr === undefined || density === undefined || !speed) {
    warn('no-drive-efficiency', 'Drive efficiency needs mass, drag area, rolling resistance, air and speed.');
    return;
  }
  const weight = totalMassKg * STANDARD_GRAVITY_MPS2;
  const wind = context.windMps ?? 0;
  const airWith = (headWind: number): number =>
    integrateOverRide(
      log.timeS,
      speed.map((v) => dragForceN(density, cdaM2, v, headWind) * v),
      log.report.gapLimitS,
    ).measured;
  // From ahead or from behind: what lies between the two is doubt, not drag.
  const isUnsided = context.windIsUnsided === true && wind !== 0;
  const [ahead, behind] = isUnsided ? [airWith(wind), airWith(-wind)] : [airWith(wind), airWith(wind)];
  const airJ = (ahead + behind) / 2;
  const windJ = Math.abs(ahead - behind) / 2;
  const known = speed.filter((v) => !Number.isNaN(v));
  const few = Math.min(5, known.length);
  const mean = (values: Float64Array): number => values.reduce((sum, v) => sum + v, 0) / values.length;
  const [v0, v1] = [mean(known.subarray(0, few)), mean(known.subarray(-few))];
  const inertia = totalMassKg * (context.rotatingMassFactor ?? 1.02);
  const climbJ = weight * climb.gainM;
  const rollingJ = weight * crr * climb.distanceM;
  const kineticJ = (inertia * (v1 * v1 - v0 * v0)) / 2;
  const riderJ = riderPower ? integrateOverRide(log.timeS, riderPower, log.report.gapLimitS).measured : 0;
  if (!riderPower) warn('rider-not-measured', 'Rider power was not logged: what the rider did counts as the motor’s.');
  const electricalJ = climb.energyWh * JOULES_PER_WATT_HOUR;
  if (!(electricalJ > 0)) return;
  const usefulJ = climbJ + rollingJ + airJ + kineticJ - riderJ;
  const value = usefulJ / electricalJ;
  put({
    key: 'driveEfficiency',
    label: 'Drive efficiency',
    value,
    unit: '1',
    contributions: [
      {
        source: 'climb between the gates',
        standardUncertainty: (weight * climb.gainU) / electricalJ,
        isSystematic: true,
      },
      {
        source: 'mass',
        standardUncertainty: fromLimit((0.01 * (climbJ + rollingJ + kineticJ)) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'rolling resistance',
        standardUncertainty: fromLimit((0.1 * rollingJ) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'drag area and wind',
        standardUncertainty: fromLimit((0.1 * Math.abs(airJ)) / electricalJ),
        isSystematic: true,
      },
      ...(windJ > 0
        ? [
            {
              source: 'wind, from whichever side',
              standardUncertainty: fromLimit(windJ / electricalJ),
              isSystematic: true,
            },
          ]
        : []),
      {
        source: 'rider power',
        standardUncertainty: fromLimit((RIDER_POWER_LIMIT * Math.abs(riderJ)) / electricalJ),
        isSystematic: true,
      },
      {
        source: 'electrical energy',
        standardUncertainty: Math.abs((value * climb.energyU) / climb.energyWh),
        isSystematic: true,
      },
    ],
    formula: '(climbing + rolling + air + speed gained − rider) ÷ electrical energy',
    substituted: `(${num(climbJ / 3600)} + ${num(rollingJ / 3600)} + ${num(airJ / 3600)} + ${num(kineticJ / 3600)} − ${num(riderJ / 3600)}) Wh ÷ ${num(climb.energyWh)} Wh`,
    inputs: ['mass', 'drag area', 'rolling resistance', 'air density', 'speed', 'voltage', 'current'],
  });
  const seconds = log.timeS.at(-1)! - log.timeS[0]!;
  const reference = referenceClimb(
    { wheelW: (usefulJ + riderJ) / seconds, riderW: riderJ / seconds, efficiency: value },
    { cdaM2, crr },
    { efficiencyU: climb.gainU * (weight / electricalJ), wheelU: (weight * climb.gainU) / seconds },
    { grade: climb.gainM / climb.distanceM, totalMassKg },
    warn,
  );
  reference.forEach((figure) => put(figure));
}
