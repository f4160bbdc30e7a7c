import type { AddOnFacts, BikeFacts, ChargerFacts, KitFacts, PackFacts, Place } from './part-facts.js';

export type * from './part-facts.js';

/** Limits of a place or a class of vehicle, as the user wrote them down. Nothing here is asserted as current law. */
export interface LimitFacts {
  readonly name: string;
  readonly maxAssistKmh: number | null;
  readonly maxRatedPowerW: number | null;
  readonly throttle: 'free' | 'start-only' | 'none' | null;
  readonly startOnlyKmh: number | null;
  readonly minimumAge: number | null;
  readonly helmet: 'needed' | 'not-needed' | null;
  readonly registration: 'needed' | 'not-needed' | null;
}

export interface LevelSetting {
  readonly name: string;
  readonly speedCapKmh: number | null;
  readonly pedalShare: number | null;
  readonly throttleShare: number | null;
}
export interface SettingFacts {
  readonly assistLevel: string;
  readonly speedLimitKmh: number | null;
  readonly wheelCircumferenceM: number | null;
  readonly currentLimitA: number | null;
  readonly cutoffV: number | null;
  readonly regenerationA: number | null;
  readonly levels: readonly LevelSetting[];
}

/** How the parts were put together, and with what load it is to be ridden. */
export interface FitFacts {
  readonly washersLeftMm: number | null;
  readonly washersRightMm: number | null;
  readonly cogSpacerMm: number | null;
  readonly cogSpacers: number | null;
  readonly discBoltMm: number | null;
  readonly discWasherMm: number | null;
  readonly rotorThicknessMm: number | null;
  readonly shellSpacerMm: number | null;
  readonly shellSpacers: number | null;
  readonly chainLineMm: number | null;
  readonly batteryTube: 'down-tube' | 'seat-tube' | null;
  /** At rest, just before the packs are joined; in the order of the packs. */
  readonly restVoltagesV: readonly number[];
  readonly riderMassKg: number | null;
  readonly payloadKg: number | null;
  readonly payloadPlace: Place;
  readonly electricityPerKWh: number | null;
  readonly currency: string;
}

/** All a check or a sum may look at. */
export interface SetupFacts {
  readonly bike: BikeFacts;
  /** Null: the bike as it was before conversion, which has no pack either. */
  readonly kit: KitFacts | null;
  readonly packs: readonly PackFacts[];
  readonly charger: ChargerFacts | null;
  readonly addOns: readonly AddOnFacts[];
  readonly limits: LimitFacts | null;
  readonly settings: SettingFacts;
  readonly fit: FitFacts;
}
export type ConvertedSetup = SetupFacts & { readonly kit: KitFacts };
export function isConverted(setup: SetupFacts): setup is ConvertedSetup {
  return setup.kit !== null;
}

export function isHub(kit: Pick<KitFacts, 'motorKind'>): boolean {
  return kit.motorKind !== 'mid';
}
export function isFrontHub(kit: Pick<KitFacts, 'motorKind'>): boolean {
  return kit.motorKind === 'front-hub';
}
