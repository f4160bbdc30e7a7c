/** What a line of a purchase list is. A discount and a return take off. */
export const PURCHASE_KINDS = ['part', 'tool', 'consumable', 'shipping', 'duty', 'discount', 'return'] as const;
export type PurchaseKind = (typeof PURCHASE_KINDS)[number];

export interface PurchaseLine {
  readonly what: string;
  readonly kind: PurchaseKind;
  /** Only what was bought costs anything; what was owned or borrowed is listed all the same. */
  readonly source: 'bought' | 'borrowed' | 'owned';
  /** Whole price of the line, taken as positive whatever its kind; null where it is not known. */
  readonly price: { readonly amount: number; readonly currency: string } | null;
  /** A tool bought once for several conversions: how many share it. */
  readonly sharedBy?: number;
  /** Bought in any case, with or without a conversion. */
  readonly isOfBike?: boolean;
}
/** What one unit of a currency is worth in the home currency, on a stated day. */
export interface Rate {
  readonly currency: string;
  readonly inHome: number;
  readonly day: string;
}

export interface PurchaseSums {
  readonly home: string;
  /** In the home currency, to the cent. */
  readonly conversion: number;
  readonly withBike: number;
  readonly byKind: Readonly<Partial<Record<PurchaseKind, number>>>;
  /** Lines without a price, and currencies without a rate: what they are worth stands in no sum. */
  readonly unpriced: readonly string[];
  readonly unrated: readonly string[];
  readonly rates: readonly Rate[];
}

/**
 * Sums of a purchase list in the home currency. Each line is turned into cents and rounded once, so that any order gives the same sum.
 * A foreign line without a rate, and a line without a price, are named and not taken for nothing.
 */
export function sumPurchases(lines: readonly PurchaseLine[], rates: readonly Rate[], home: string): PurchaseSums {
  const rateOf = (currency: string): number | undefined =>
    currency === home ? 1 : rates.find((rate) => rate.currency === currency)?.inHome;
  const byKind: Partial<Record<PurchaseKind, number>> = {};
  const unpriced: string[] = [];
  const unrated = new Set<string>();
  const used = new Set<string>();
  let [conversion, bike] = [0, 0];
  for (const { what, kind, source, price, sharedBy = 1, isOfBike = false } of lines) {
    if (source !== 'bought') continue;
    if (price === null) {
      unpriced.push(what);
      continue;
    }
    const rate = rateOf(price.currency);
    if (rate === undefined) {
      unrated.add(price.currency);
      continue;
    }
    used.add(price.currency);
    const cents = Math.round((100 * Math.abs(price.amount) * rate) / Math.max(1, sharedBy)) * signOf(kind);
    byKind[kind] = (byKind[kind] ?? 0) + cents;
    if (isOfBike) bike += cents;
    else conversion += cents;
  }
  return {
    home,
    conversion: conversion / 100,
    withBike: (conversion + bike) / 100,
    byKind: Object.fromEntries(Object.entries(byKind).map(([kind, cents]) => [kind, cents / 100])),
    unpriced,
    unrated: [...unrated],
    rates: rates.filter(({ currency }) => used.has(currency)),
  };
}

function signOf(kind: PurchaseKind): 1 | -1 {
  return kind === 'discount' || kind === 'return' ? -1 : 1;
}
