/** A number with its standard uncertainty, in one unit. */
export interface Uncertain {
  readonly value: number;
  readonly standardUncertainty: number;
}

/** What riding costs; money in one currency. */
export interface RunningFacts {
  /** Wh/km out of the battery, from ordinary runs. */
  readonly consumption: Uncertain;
  /** Energy into the pack per energy from the socket, 0…1. */
  readonly chargerEfficiency: Uncertain;
  readonly pricePerKWh: number;
  /** Chains, cassettes, tyres, pads: price of a set, and the kilometres it lasts, from … to. */
  readonly wear: readonly {
    readonly what: string;
    readonly price: number;
    readonly lastsKm: readonly [number, number];
  }[];
  /** Price of the pack, its usable energy, Wh, and the full cycles it lasts, from … to; null where it is not to be counted. */
  readonly pack: {
    readonly price: number;
    readonly usableWh: Uncertain;
    readonly cycles: readonly [number, number];
  } | null;
}

export interface CostPart extends Uncertain {
  readonly what: string;
}
/** Money for 100 km, with what it is made of. */
export interface RunningCosts extends Uncertain {
  readonly interval95: readonly [number, number];
  readonly parts: readonly CostPart[];
}

const NORMAL_95 = 1.96;

/**
 * Running costs of 100 km: electricity = consumption ÷ charger's efficiency × price; wear = price ÷ life; pack = its price for the share of its
 * life that 100 km use up. Uncertainties by first order, lives as spans in which all is equally likely.
 * Units: Wh/km, Wh, km, money. The consumption moves electricity and pack together, so that their shares of it are added before squaring.
 */
export function runningCosts({ consumption, chargerEfficiency, pricePerKWh, wear, pack }: RunningFacts): RunningCosts {
  const electricity = ((consumption.value / chargerEfficiency.value) * pricePerKWh) / 10;
  const parts: CostPart[] = [
    {
      what: 'electricity',
      value: electricity,
      standardUncertainty: electricity * Math.hypot(shareOf(consumption), shareOf(chargerEfficiency)),
    },
    ...wear.map(({ what, price, lastsKm }): CostPart => ({ what, ...perHundred(price, lastsKm) })),
  ];
  let ofConsumption = electricity * shareOf(consumption);
  let variance = (electricity * shareOf(chargerEfficiency)) ** 2;
  for (const { standardUncertainty } of parts.slice(1)) variance += standardUncertainty ** 2;
  if (pack) {
    const kmACycle = pack.usableWh.value / consumption.value;
    const life = [pack.cycles[0] * kmACycle, pack.cycles[1] * kmACycle] as const;
    const { value, standardUncertainty: ofCycles } = perHundred(pack.price, life);
    const ofPack = Math.hypot(ofCycles, value * shareOf(pack.usableWh));
    parts.push({
      what: 'pack',
      value,
      standardUncertainty: Math.hypot(ofPack, value * shareOf(consumption)),
    });
    ofConsumption += value * shareOf(consumption);
    variance += ofPack ** 2;
  }
  const value = parts.reduce((sum, part) => sum + part.value, 0);
  const standardUncertainty = Math.sqrt(variance + ofConsumption ** 2);
  return {
    value,
    standardUncertainty,
    interval95: [value - NORMAL_95 * standardUncertainty, value + NORMAL_95 * standardUncertainty],
    parts,
  };
}

const shareOf = ({ value, standardUncertainty }: Uncertain): number => standardUncertainty / value;

/** Price for 100 km of a thing that lasts from … to so many kilometres: mean and deviation of 1 ÷ life over the span. */
function perHundred(price: number, [from, to]: readonly [number, number]): Uncertain {
  if (!(to > from)) return { value: (100 * price) / from, standardUncertainty: 0 };
  // Of 1 ÷ x with x equally likely between a and b: mean ln(b ÷ a) ÷ (b − a), mean of squares 1 ÷ (a·b).
  const mean = Math.log(to / from) / (to - from);
  const variance = Math.max(0, 1 / (from * to) - mean ** 2);
  return { value: 100 * price * mean, standardUncertainty: 100 * price * Math.sqrt(variance) };
}
