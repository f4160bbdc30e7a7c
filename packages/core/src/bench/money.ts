import { exactSum } from './exact-sum.js';
import type { Price, SetupFacts } from './facts.js';

export interface MoneyItem {
  readonly what: string;
  readonly part: 'bike' | 'kit' | 'pack' | 'charger' | 'add-on';
  readonly price: Price;
}
export interface MoneyRollUp {
  readonly items: readonly MoneyItem[];
  readonly missing: readonly string[];
  /** One sum per currency: amounts in different currencies are never added. The bike is left out: it was there before. */
  readonly totals: readonly { readonly currency: string; readonly amount: number }[];
  readonly byPart: readonly { readonly part: MoneyItem['part']; readonly currency: string; readonly amount: number }[];
}

/** What the conversion costs by part and currency, exact to the cent. */
export function money({ bike, kit, packs, charger, addOns }: SetupFacts): MoneyRollUp {
  const items: MoneyItem[] = [];
  const missing: string[] = [];
  const put = (what: string, part: MoneyItem['part'], price: Price | null): void => {
    if (price) items.push({ what, part, price });
    else if (part !== 'bike') missing.push(what);
  };
  put(bike.name, 'bike', bike.price);
  if (kit) put(kit.name, 'kit', kit.price);
  for (const pack of packs) put(pack.name, 'pack', pack.price);
  if (charger) put(charger.name, 'charger', charger.price);
  for (const addOn of addOns) put(addOn.name, 'add-on', addOn.price);
  const sum = (keep: (item: MoneyItem) => boolean): number =>
    exactSum(
      items.filter(keep).map(({ price }) => price.amount),
      2,
    );
  const currencies = [...new Set(items.map(({ price }) => price.currency))].sort();
  const parts = [...new Set(items.map(({ part }) => part))];
  return {
    items,
    missing,
    totals: currencies
      .map((currency) => ({
        currency,
        amount: sum(({ part, price }) => part !== 'bike' && price.currency === currency),
      }))
      .filter(({ amount }) => amount !== 0),
    byPart: parts.flatMap((part) =>
      currencies
        .filter((currency) => items.some((item) => item.part === part && item.price.currency === currency))
        .map((currency) => ({
          part,
          currency,
          amount: sum((item) => item.part === part && item.price.currency === currency),
        })),
    ),
  };
}
