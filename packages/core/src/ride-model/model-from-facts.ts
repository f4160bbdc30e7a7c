import {
  chainrings,
  helpEndsKmh,
  isHub,
  noLoadRpm,
  ridingCircumferenceM,
  totalMass,
  type ConvertedSetup,
} from '../bench/index.js';
import { CHEMISTRIES } from '../battery/index.js';
import type { RideModel } from './parameters.js';

/** How a ride is pedalled: `throttle` not at all, `ghost` only so that the sensor keeps the motor on, `off` without its help. */
export const EFFORTS = {
  throttle: { label: 'Throttle only, no pedalling', riderW: 0 },
  light: { label: 'Light pedalling', riderW: 60 },
  steady: { label: 'Steady pedalling', riderW: 90 },
  hard: { label: 'Hard pedalling', riderW: 160 },
  ghost: { label: 'Cranks turned without force', riderW: 5 },
  off: { label: 'Motor off', riderW: 150 },
} as const;
export type Effort = keyof typeof EFFORTS;

export interface WayOfRiding {
  readonly effort: Effort;
  /** Name of the assist level as programmed; null: the one in the settings. */
  readonly level: string | null;
  /** Rider's wanted speed; null: a little below the speed at which assist ends. */
  readonly targetSpeedKmh: number | null;
}
export interface ModelFromFacts {
  readonly model: RideModel;
  /** What the bench does not know and was taken as usual. */
  readonly assumed: readonly string[];
}

/** Usual values where the bench knows nothing; a forecast made with them says so. */
const USUAL = {
  bikeKg: 30,
  riderKg: 80,
  circumferenceM: 2.1,
  dragAreaM2: 0.62,
  rolling: 0.0085,
  packOhmPerCell: 0.009,
  seriesCells: 13,
  capacityAh: 13,
  helpEndsKmh: 25,
  ratedPowerW: 250,
  windingOhm: 0.18,
  currentA: 15,
  cutoffCellV: 3,
  gears: [0.9, 1.15, 1.4, 1.7, 2.1, 2.6, 3.2],
} as const;
const KINDS = {
  'front-hub': { gearRatio: 4.6, rpm: 260, iron: 0.1, heatJPerK: 1300, thermalKPerW: 0.6, freewheel: true },
  'rear-hub-geared': { gearRatio: 4.6, rpm: 260, iron: 0.1, heatJPerK: 1300, thermalKPerW: 0.6, freewheel: true },
  'rear-hub-direct': { gearRatio: 1, rpm: 300, iron: 1.1, heatJPerK: 3600, thermalKPerW: 0.4, freewheel: false },
  mid: { gearRatio: 22, rpm: 110, iron: 0.035, heatJPerK: 1500, thermalKPerW: 0.55, freewheel: true },
} as const;

/**
 * Bike, kit, pack and rider for the ride model from what the bench knows of a setup.
 * Every quantity that is not known takes a usual value and is named in `assumed`.
 */
export function modelFromFacts(setup: ConvertedSetup, way: WayOfRiding): ModelFromFacts {
  const assumed: string[] = [];
  const known = (value: number | null | undefined, usual: number, what: string): number => {
    if (value !== null && value !== undefined && value > 0) return value;
    assumed.push(what);
    return usual;
  };
  const { kit, packs, settings, bike } = setup;
  const [pack] = packs;
  const kind = KINDS[kit.motorKind];
  const gearRatio = known(kit.gearRatio, kind.gearRatio, 'gear ratio of the motor');
  const outputRpm = known(noLoadRpm(setup), kind.rpm, 'no-load speed of the motor');
  const chemistry = pack?.chemistry ?? 'li-ion-nmc';
  const seriesCells = Math.round(
    known(
      pack?.seriesCells ??
        (pack?.nominalVoltageV ? pack.nominalVoltageV / CHEMISTRIES[chemistry].nominalCellV : undefined),
      USUAL.seriesCells,
      'cells in series',
    ),
  );
  const packV = pack?.nominalVoltageV ?? seriesCells * CHEMISTRIES[chemistry].nominalCellV;
  const torqueConstant = packV / ((2 * Math.PI * outputRpm * gearRatio) / 60);
  const currentLimitA = known(settings.currentLimitA ?? kit.currentLimitA, USUAL.currentA, 'current limit');
  const phaseLimit = kit.maxTorqueNm ? kit.maxTorqueNm / (torqueConstant * gearRatio) : 2.2 * currentLimitA;
  const endsKmh = known(helpEndsKmh(setup), USUAL.helpEndsKmh, 'speed at which assist ends');
  const capacityAh = known(
    packs.length > 0 && packs.every(({ capacityAh: ah }) => ah !== null)
      ? packs.reduce((sum, { capacityAh: ah }) => sum + ah!, 0)
      : null,
    USUAL.capacityAh,
    'capacity of the pack',
  );
  const mass = totalMass(setup);
  const riderKg = known(setup.fit.riderMassKg, USUAL.riderKg, 'mass of the rider');
  const loadKg = setup.fit.payloadKg ?? 0;
  const massIsKnown = mass.missing.every((what) => what === 'rider');
  const bikeKg = known(massIsKnown ? mass.fittedKg : null, USUAL.bikeKg, 'mass of bike and kit');
  if (kit.maxTorqueNm === null) assumed.push('torque of the motor');
  const coast = bike as { dragAreaM2?: number | null; rollingCoefficient?: number | null };
  const rings = chainrings(setup);
  const gears =
    rings.length > 0 && bike.cogTeeth.length > 0
      ? rings.flatMap((ring) => bike.cogTeeth.map((cog) => ring / cog)).sort((a, b) => a - b)
      : USUAL.gears;
  return {
    assumed,
    model: {
      pack: {
        chemistry,
        seriesCells,
        capacityAh,
        resistanceOhm:
          packs.length > 0 && packs.every(({ resistanceOhm: ohm }) => ohm !== null && ohm > 0)
            ? 1 / packs.reduce((sum, { resistanceOhm: ohm }) => sum + 1 / ohm!, 0)
            : (USUAL.packOhmPerCell * seriesCells) / Math.max(1, packs.length),
        cutoffV: settings.cutoffV ?? kit.cutoffV ?? seriesCells * USUAL.cutoffCellV,
      },
      motor: {
        kind: isHub(kit) ? 'hub' : 'mid',
        torqueConstant,
        windingOhmAt25C: USUAL.windingOhm * (torqueConstant * gearRatio > 0.7 ? 1.2 : 1),
        gearRatio,
        ironLossNm: kind.iron,
        heatCapacityJPerK: kind.heatJPerK,
        thermalResistanceKPerW: kind.thermalKPerW,
        hasFreewheel: kind.freewheel,
      },
      controller: {
        batteryCurrentLimitA: currentLimitA,
        phaseCurrentLimitA: phaseLimit,
        idleW: 3,
        cutBackFromC: 100,
        cutBackToC: 120,
        speedLimitMps: endsKmh / 3.6,
        taperMps: 0.7,
        responseDelayS: 0.4,
        rampS: 0.6,
        levelShare: levelShare(setup, way, assumed),
        regenerationCurrentA: kind.freewheel ? 0 : (settings.regenerationA ?? 0),
      },
      rider: {
        powerW: EFFORTS[way.effort].riderW,
        massKg: riderKg + loadKg,
        targetSpeedMps: (way.targetSpeedKmh ?? endsKmh - 1.5) / 3.6,
        brakingMps2: 1.1,
      },
      bike: {
        massKg: bikeKg,
        dragAreaM2: known(coast.dragAreaM2, USUAL.dragAreaM2, 'drag area'),
        rollingResistanceCoefficient: known(coast.rollingCoefficient, USUAL.rolling, 'rolling resistance'),
        wheelCircumferenceM: known(
          settings.wheelCircumferenceM ?? ridingCircumferenceM(setup),
          USUAL.circumferenceM,
          'wheel circumference',
        ),
        rotatingMassFactor: 1.02,
        gears,
        drivetrainEfficiency: 0.94,
      },
    },
  };
}

function levelShare({ settings }: ConvertedSetup, way: WayOfRiding, assumed: string[]): number {
  if (way.effort === 'off') return 0;
  if (way.effort === 'throttle') {
    const share = settings.levels.find(({ name }) => name === (way.level ?? settings.assistLevel))?.throttleShare;
    return Math.min(1, share ?? 1);
  }
  const name = way.level ?? settings.assistLevel;
  const stored = settings.levels.find((level) => level.name === name)?.pedalShare;
  if (stored !== null && stored !== undefined && stored > 0) return Math.min(1, stored);
  assumed.push('assist share of the level');
  const number = Number(name);
  const of = Math.max(settings.levels.length, 5);
  return Number.isFinite(number) && number > 0 ? Math.min(1, number / of) : 0.6;
}
