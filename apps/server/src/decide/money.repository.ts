import { Inject, Injectable } from '@nestjs/common';
import type { Knex } from 'knex';
import {
  moneyBookSchema,
  purchaseLineSchema,
  type MoneyBook,
  type PurchaseLineDto,
  type StoredMoneyBook,
} from '@ebrix/contract';
import { KNEX } from '../database/database.module.js';

export interface StoredPurchases {
  readonly version: number;
  readonly lines: readonly PurchaseLineDto[];
}

/** What was bought for each setup, and the one book of prices, rates and alternatives. Version 0 is "nothing stored yet". */
@Injectable()
export class MoneyRepository {
  constructor(@Inject(KNEX) private readonly database: Knex) {}

  async book(): Promise<StoredMoneyBook> {
    const [row] = await this.database('money_book').select<{ version: number; book: unknown }[]>('version', 'book');
    return row
      ? { version: row.version, book: moneyBookSchema.parse(row.book) }
      : { version: 0, book: moneyBookSchema.parse({}) };
  }

  /** False when another window stored meanwhile. */
  saveBook(version: number, book: MoneyBook): Promise<boolean> {
    return this.save('money_book', { is_only: true }, version, { book: JSON.stringify(book) });
  }

  async purchases(setupIds: readonly string[]): Promise<ReadonlyMap<string, StoredPurchases>> {
    const rows = await this.database('purchase_list')
      .select<{ setup_id: string; version: number; lines: unknown }[]>('setup_id', 'version', 'lines')
      .whereIn('setup_id', [...setupIds]);
    return new Map(
      rows.map(({ setup_id: id, version, lines }) => [id, { version, lines: purchaseLineSchema.array().parse(lines) }]),
    );
  }

  /** False when another window stored meanwhile. */
  savePurchases(setupId: string, version: number, lines: readonly PurchaseLineDto[]): Promise<boolean> {
    return this.save('purchase_list', { setup_id: setupId }, version, { lines: JSON.stringify(lines) });
  }

  private async save(table: string, key: object, version: number, document: object): Promise<boolean> {
    const values = { ...document, updated_at: this.database.fn.now() };
    const touched =
      version === 0
        ? await this.database(table)
            .insert({ ...key, ...values })
            .onConflict(Object.keys(key))
            .ignore()
            .returning('version')
        : await this.database(table)
            .where({ ...key, version })
            .update({ ...values, version: version + 1 })
            .returning('version');
    return touched.length > 0;
  }
}
