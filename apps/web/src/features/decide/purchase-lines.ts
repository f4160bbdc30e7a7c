import type { PurchaseLineDto } from '@ebrix/contract';
import type { Difference } from '../../shared/ui/ConflictChoice.js';

/** A line as the form holds it: the price is not known while its amount is empty. */
export interface FormLine {
  readonly what?: string;
  readonly kind: PurchaseLineDto['kind'];
  readonly source: PurchaseLineDto['source'];
  readonly amount?: number | null;
  readonly currency?: string;
  readonly sharedBy?: number | null;
  readonly isOfBike: boolean;
}

export function lineToForm({ price, ...line }: PurchaseLineDto): FormLine {
  return { ...line, amount: price?.amount ?? null, currency: price?.currency ?? '' };
}
export function lineOfForm({ amount, currency, sharedBy, what, ...line }: FormLine, home: string): PurchaseLineDto {
  const written = (currency ?? '').trim().toUpperCase();
  return {
    ...line,
    what: (what ?? '').trim(),
    sharedBy: sharedBy ?? 1,
    price: amount === null || amount === undefined ? null : { amount, currency: written === '' ? home : written },
  };
}

/** Lines that only one window has, or has otherwise. */
export function purchaseDifferences(
  theirs: readonly PurchaseLineDto[],
  mine: readonly PurchaseLineDto[],
): Difference[] {
  const text = (line: PurchaseLineDto | undefined): string =>
    line
      ? `${line.kind}, ${line.source}, ${line.price ? `${line.price.amount} ${line.price.currency}` : 'no price'}${line.sharedBy > 1 ? `, shared by ${line.sharedBy}` : ''}`
      : '–';
  return [...new Set([...theirs, ...mine].map(({ what }) => what))]
    .map((what) => ({
      label: what,
      theirs: text(theirs.find((line) => line.what === what)),
      mine: text(mine.find((line) => line.what === what)),
    }))
    .filter((row) => row.theirs !== row.mine);
}
