import { exactSum } from './exact-sum.js';
import { isFrontHub, isHub, type KitFacts, type PackFacts, type Place, type SetupFacts } from './facts.js';

export interface MassItem {
  readonly what: string;
  readonly massKg: number;
  readonly place: Place | 'bike' | 'rider';
  readonly part: 'bike' | 'kit' | 'pack' | 'add-on' | 'rider' | 'payload';
}
export interface MassRollUp {
  readonly items: readonly MassItem[];
  /** Things without a known mass: the sum is a lower bound while this is not empty. */
  readonly missing: readonly string[];
  /** Bike with all that is fitted, without rider and payload. */
  readonly fittedKg: number;
  /** What the conversion adds to the bike. */
  readonly addedKg: number;
  readonly totalKg: number;
  /** By place, heaviest first; the bike itself and the rider are listed as such. */
  readonly byPlace: readonly { readonly place: MassItem['place']; readonly massKg: number }[];
}

export function packPlace(pack: PackFacts): Place {
  switch (pack.mountKind) {
    case 'rear-rack':
      return 'rear-rack';
    case 'front-rack':
      return 'front-rack';
    case 'trailer':
      return 'trailer';
    case 'bag':
      return 'handlebar';
    case null:
    case 'bosses':
    case 'rivet-nuts':
    case 'straps':
    case 'glued':
      return 'frame';
  }
}

/** Where the mass of a kit sits when its box is not listed: nearly all of it is the motor. */
function kitPlace(kit: KitFacts): Place {
  if (!isHub(kit)) return 'frame';
  return isFrontHub(kit) ? 'front-wheel' : 'rear-wheel';
}

/** Masses of a setup as stated or weighed, summed to the gram, and where they sit. Nothing unknown is taken as zero unsaid. */
export function totalMass({ bike, kit, packs, addOns, fit }: SetupFacts): MassRollUp {
  const items: MassItem[] = [];
  const missing: string[] = [];
  const put = (what: string, massKg: number | null, place: MassItem['place'], part: MassItem['part']): void => {
    if (massKg === null) missing.push(what);
    else items.push({ what, massKg, place, part });
  };
  put(bike.name, bike.massKg, 'bike', 'bike');
  if (kit?.box.some(({ massKg }) => massKg !== null))
    for (const { what, massKg, place } of kit.box) put(`${what} (${kit.name})`, massKg, place, 'kit');
  else if (kit) put(kit.name, kit.massKg, kitPlace(kit), 'kit');
  for (const pack of packs) put(pack.name, pack.massKg, packPlace(pack), 'pack');
  for (const addOn of addOns) put(addOn.name, addOn.massKg, addOn.place, 'add-on');
  put('rider', fit.riderMassKg, 'rider', 'rider');
  // No payload is a load one can ride with; an unknown rider is not.
  if (fit.payloadKg !== null) put('payload', fit.payloadKg, fit.payloadPlace, 'payload');

  const sumOf = (keep: (item: MassItem) => boolean): number => exactSum(items.filter(keep).map(({ massKg }) => massKg));
  const places = [...new Set(items.map(({ place }) => place))];
  return {
    items,
    missing,
    fittedKg: sumOf(({ part }) => part !== 'rider' && part !== 'payload'),
    addedKg: sumOf(({ part }) => part === 'kit' || part === 'pack' || part === 'add-on'),
    totalKg: sumOf(() => true),
    byPlace: places
      .map((place) => ({ place, massKg: sumOf((item) => item.place === place) }))
      .sort((a, b) => b.massKg - a.massKg),
  };
}
