import { Controller, Get, Put } from '@nestjs/common';
import type { z } from 'zod';
import { moneyBookPutSchema, purchasesPutSchema, type SetupCosts, type StoredMoneyBook } from '@ebrix/contract';
import { Id, ValidBody } from '../common/params.js';
import { CostService } from './cost.service.js';

@Controller()
export class MoneyController {
  constructor(private readonly costs: CostService) {}

  @Get('money')
  book(): Promise<StoredMoneyBook> {
    return this.costs.book();
  }

  @Put('money')
  saveBook(@ValidBody(moneyBookPutSchema) body: z.output<typeof moneyBookPutSchema>): Promise<StoredMoneyBook> {
    return this.costs.saveBook(body);
  }

  @Get('setups/:id/costs')
  costsOf(@Id() id: string): Promise<SetupCosts> {
    return this.costs.of(id);
  }

  @Put('setups/:id/purchases')
  savePurchases(
    @Id() id: string,
    @ValidBody(purchasesPutSchema) body: z.output<typeof purchasesPutSchema>,
  ): Promise<SetupCosts> {
    return this.costs.savePurchases(id, body);
  }
}
