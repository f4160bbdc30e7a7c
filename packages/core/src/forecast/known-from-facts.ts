import { helpEndsKmh, isHub, noLoadRpm, ridingCircumferenceM, type ConvertedSetup } from '../bench/index.js';
import { USUAL_LIMITS } from '../ride/index.js';
import type { KnownOfBike } from './parameters.js';

/** What the bench knows of a setup, as a calibration takes it; what it does not know is left out. */
export function knownFromFacts(setup: ConvertedSetup): KnownOfBike {
  const { kit, packs, settings, bike } = setup;
  const [pack] = packs;
  const sum = (values: readonly (number | null)[]): number | undefined =>
    values.length > 0 && values.every((value) => value !== null)
      ? values.reduce<number>((all, value) => all + value, 0)
      : undefined;
  const circumferenceM = settings.wheelCircumferenceM ?? ridingCircumferenceM(setup) ?? undefined;
  const rpm = isHub(kit) ? noLoadRpm(setup) : null;
  const conductance = sum(
    packs.map(({ resistanceOhm }) => (resistanceOhm !== null && resistanceOhm > 0 ? 1 / resistanceOhm : null)),
  );
  const helpEnds = helpEndsKmh(setup);
  return withoutUndefined({
    chemistry: pack?.chemistry ?? undefined,
    seriesCells: pack?.seriesCells ?? undefined,
    nominalVoltageV: pack?.nominalVoltageV ?? undefined,
    capacityAh: sum(packs.map(({ capacityAh }) => capacityAh)),
    usableShare: pack?.usableShare ?? undefined,
    packOhm: conductance && 1 / conductance,
    cutoffV: settings.cutoffV ?? kit.cutoffV ?? undefined,
    dragAreaM2: (bike as { dragAreaM2?: number | null }).dragAreaM2 ?? undefined,
    rolling: (bike as { rollingCoefficient?: number | null }).rollingCoefficient ?? undefined,
    wheelCircumferenceM: circumferenceM,
    motorKind: kit.motorKind === 'mid' ? 'mid' : kit.motorKind === 'rear-hub-direct' ? 'direct hub' : 'geared hub',
    currentLimitA: settings.currentLimitA ?? kit.currentLimitA ?? undefined,
    maxTorqueNm: isHub(kit) ? (kit.maxTorqueNm ?? undefined) : undefined,
    noLoadMps: rpm && circumferenceM ? (rpm * circumferenceM) / 60 : undefined,
    speedLimitMps: helpEnds ? helpEnds / 3.6 : undefined,
    temperatureLimitC: USUAL_LIMITS.motorC ?? undefined,
  } as const);
}

function withoutUndefined<T extends object>(object: T): { [K in keyof T]: Exclude<T[K], undefined> } {
  return Object.fromEntries(Object.entries(object).filter(([, value]) => value !== undefined)) as never;
}
