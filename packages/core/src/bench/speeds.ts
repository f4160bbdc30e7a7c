import { estimate, missingOf, type EstimateOrReason } from './estimate.js';
import { isHub, type SetupFacts } from './facts.js';

/** Stated speeds of windings and the charge of a pack at the start scatter about as much. */
const WINDING_DOUBT = 0.05;

/** Circumference as ridden: tyres that were added replace the bike's own. */
export function ridingCircumferenceM({ bike, addOns }: SetupFacts): number | null {
  return (
    addOns.find(({ kind, wheelCircumferenceM }) => kind === 'tyres' && wheelCircumferenceM !== null)
      ?.wheelCircumferenceM ?? bike.wheelCircumferenceM
  );
}

/** No-load speed of the winding at the pack's nominal voltage, in 1/min; null where the kit does not say. */
export function noLoadRpm({ kit, packs }: SetupFacts): number | null {
  const packV = packs[0]?.nominalVoltageV ?? null;
  if (kit === null) return null;
  if (kit.rpmPerVolt !== null && packV !== null) return kit.rpmPerVolt * packV;
  if (kit.noLoadRpm === null) return null;
  // No-load speed follows the voltage.
  return kit.nominalVoltageV !== null && packV !== null ? (kit.noLoadRpm * packV) / kit.nominalVoltageV : kit.noLoadRpm;
}

/**
 * Road speed at which the winding's voltage equals the pack's: the speed with the wheel off the ground.
 * Units: km/h. Method: rpm × circumference; a mid motor turns the chainring, so its highest gear is taken.
 */
export function noLoadSpeed(setup: SetupFacts): EstimateOrReason {
  if (setup.kit === null) return { missing: ['a motor'] };
  const rpm = noLoadRpm(setup);
  const circumferenceM = ridingCircumferenceM(setup);
  const missing = missingOf({ 'no-load speed of the winding': rpm, 'wheel circumference': circumferenceM });
  const ratio = isHub(setup.kit) ? 1 : topGearRatio(setup);
  if (ratio === null) missing.push('teeth of chainring and cogs');
  if (missing.length > 0) return { missing };
  const speed = (rpm! * ratio! * circumferenceM! * 60) / 1000;
  return estimate(speed, WINDING_DOUBT, 'km/h', 'no-load rpm × wheel circumference');
}

export function chainrings({ bike, addOns }: SetupFacts): readonly number[] {
  const added = addOns.filter(({ kind, teeth }) => kind === 'chainring' && teeth !== null).map(({ teeth }) => teeth!);
  return added.length > 0 ? added : bike.chainringTeeth;
}
function topGearRatio(setup: SetupFacts): number | null {
  const rings = chainrings(setup);
  const cogs = setup.bike.cogTeeth;
  return rings.length > 0 && cogs.length > 0 ? Math.max(...rings) / Math.min(...cogs) : null;
}

/** The speed at which help has to end: the lower of what is set and what the chosen limits say. Null when neither is known. */
export function helpEndsKmh({ settings, limits }: SetupFacts): number | null {
  const known = [settings.speedLimitKmh, limits?.maxAssistKmh ?? null].filter((v): v is number => v !== null);
  return known.length > 0 ? Math.min(...known) : null;
}

/** The speed this setup reaches with help on the level: no more than the winding gives and no more than the limit lets it. */
export function topAssistedKmh(setup: SetupFacts): number | null {
  const winding = noLoadSpeed(setup);
  const set = setup.settings.speedLimitKmh;
  if ('value' in winding) return set === null ? winding.value : Math.min(set, winding.value);
  return set;
}

export interface GearSpeed {
  readonly ring: number;
  readonly cog: number;
  readonly ratio: number;
  /** At `cadenceRpm`. */
  readonly speedKmh: number;
  /** Cadence at which help ends in this gear. */
  readonly cadenceAtLimitRpm: number | null;
}

/** Road speed of each gear at a cadence, slowest first; empty when teeth or wheel are not known. Exact: no slip in a chain. */
export function gearSpeeds(setup: SetupFacts, cadenceRpm: number): readonly GearSpeed[] {
  const circumferenceM = ridingCircumferenceM(setup);
  if (circumferenceM === null) return [];
  const limit = helpEndsKmh(setup);
  return chainrings(setup)
    .flatMap((ring) =>
      setup.bike.cogTeeth.map((cog) => {
        const ratio = ring / cog;
        const kmhPerRpm = (ratio * circumferenceM * 60) / 1000;
        return {
          ring,
          cog,
          ratio,
          speedKmh: cadenceRpm * kmhPerRpm,
          cadenceAtLimitRpm: limit === null ? null : limit / kmhPerRpm,
        };
      }),
    )
    .sort((a, b) => a.ratio - b.ratio);
}
