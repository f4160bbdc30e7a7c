import { findRoot } from '../../numeric/index.js';
import { airDensityKgPerM3 } from '../../physics/index.js';
import { STANDARD_GRAVITY_MPS2 } from '../../units/index.js';
import { derivationNumber as num, fromLimit, type FigureParts, type Warn } from '../figure.js';
import { REFERENCE_CONDITIONS } from '../range/reference-correction.js';

/** The climb that all are put on: 1 000 m at 6 %. */
export const REFERENCE_CLIMB = { lengthM: 1000, grade: 0.06 } as const;
/** Further from the reference than this the model says more than the ride. */
const FAR_GRADE = 0.03;
const FAR_MASS = 0.3;
const RIDER_LIMIT = 0.02;

interface AsRidden {
  /** Mean power at the wheel, motor and rider together, W. */
  readonly wheelW: number;
  readonly riderW: number;
  readonly efficiency: number;
}

/**
 * `referenceClimbTime` s and `referenceClimbEnergy` Wh: the same power at the wheel on 1 000 m at 6 %, 100 kg, 20 °C, no wind.
 *
 * Method: speed v at which v·(½ρ·CdA·v² + m·g·(Crr·cosθ + sinθ)) = the wheel's power as ridden; energy = what the wheel needs
 * less what the rider gives in that time, ÷ the efficiency as ridden. Uncertainty by moving each input.
 */
export function referenceClimb(
  ridden: AsRidden,
  bike: { readonly cdaM2: number; readonly crr: number },
  u: { readonly efficiencyU: number; readonly wheelU: number },
  as: { readonly grade: number; readonly totalMassKg: number },
  warn: Warn,
): Omit<FigureParts, 'fromS' | 'n' | 'toS'>[] {
  if (!(ridden.wheelW > 0) || !(ridden.efficiency > 0)) return [];
  const base = solve(ridden, bike);
  if (!base) return [];
  if (
    Math.abs(as.grade - REFERENCE_CLIMB.grade) > FAR_GRADE ||
    Math.abs(as.totalMassKg / REFERENCE_CONDITIONS.totalMassKg - 1) > FAR_MASS
  )
    warn(
      'far-from-reference',
      'This climb lies far from the reference climb (6 %, 100 kg): its time and energy there lean on the model more than on the ride.',
    );
  const moves: readonly (readonly [string, AsRidden, { cdaM2: number; crr: number }])[] = [
    [
      'climb between the gates',
      { ...ridden, wheelW: ridden.wheelW + u.wheelU, efficiency: ridden.efficiency + u.efficiencyU },
      bike,
    ],
    ['drag area', ridden, { ...bike, cdaM2: bike.cdaM2 * (1 + fromLimit(0.1)) }],
    ['rolling resistance', ridden, { ...bike, crr: bike.crr * (1 + fromLimit(0.1)) }],
    [
      'mass as ridden',
      {
        ...ridden,
        wheelW: ridden.wheelW * (1 + fromLimit(0.01)),
        efficiency: ridden.efficiency * (1 + fromLimit(0.01)),
      },
      bike,
    ],
    ['rider power', { ...ridden, riderW: ridden.riderW * (1 + fromLimit(RIDER_LIMIT)) }, bike],
    // Efficiency changes a little with the speed it is worked at.
    ['efficiency at another speed', { ...ridden, efficiency: ridden.efficiency * (1 + fromLimit(0.02)) }, bike],
  ];
  const contributions = (of: (one: { seconds: number; energyWh: number }) => number) =>
    moves.map(([source, moved, at]) => ({
      source,
      standardUncertainty: Math.abs(of(solve(moved, at) ?? base) - of(base)),
      isSystematic: true,
    }));
  return [
    {
      key: 'referenceClimbTime',
      label: 'Time on the reference climb (1 000 m at 6 %, 100 kg)',
      value: base.seconds,
      unit: 's',
      contributions: contributions(({ seconds }) => seconds),
      formula: '1 000 m ÷ speed at which the reference climb takes the same power at the wheel',
      substituted: `1000 m ÷ ${num(base.speedMps)} m/s, ${num(ridden.wheelW)} W at the wheel`,
      inputs: ['driveEfficiency', 'climbTime', 'mass', 'drag area', 'rolling resistance'],
    },
    {
      key: 'referenceClimbEnergy',
      label: 'Energy on the reference climb (1 000 m at 6 %, 100 kg)',
      value: base.energyWh,
      unit: 'Wh',
      contributions: contributions(({ energyWh }) => energyWh),
      formula: '(work at the wheel − rider) ÷ efficiency as ridden',
      substituted: `(${num(ridden.wheelW)} − ${num(ridden.riderW)}) W × ${num(base.seconds)} s ÷ ${num(ridden.efficiency)} = ${num(base.energyWh)} Wh`,
      inputs: ['referenceClimbTime', 'driveEfficiency', 'riderWork'],
    },
  ];
}

function solve(
  { wheelW, riderW, efficiency }: AsRidden,
  { cdaM2, crr }: { readonly cdaM2: number; readonly crr: number },
): { speedMps: number; seconds: number; energyWh: number } | undefined {
  const { totalMassKg, airTemperatureC, pressurePa, relativeHumidity } = REFERENCE_CONDITIONS;
  const density = airDensityKgPerM3(airTemperatureC, pressurePa, relativeHumidity);
  const angle = Math.atan(REFERENCE_CLIMB.grade);
  const weight = totalMassKg * STANDARD_GRAVITY_MPS2 * (crr * Math.cos(angle) + Math.sin(angle));
  const surplus = (v: number): number => v * (0.5 * density * cdaM2 * v * v + weight) - wheelW;
  if (!(surplus(50) > 0)) return undefined;
  const speedMps = findRoot(surplus, 1e-3, 50, 1e-9);
  const seconds = REFERENCE_CLIMB.lengthM / speedMps;
  return { speedMps, seconds, energyWh: Math.max(0, ((wheelW - riderW) * seconds) / efficiency / 3600) };
}
