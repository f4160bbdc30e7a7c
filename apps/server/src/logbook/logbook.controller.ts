import { Controller, Delete, Get, Header, HttpCode, Post, Put } from '@nestjs/common';
import type { z } from 'zod';
import {
  archiveInputSchema,
  conversionChangeSchema,
  conversionInputSchema,
  entriesPostSchema,
  entriesQuerySchema,
  entryChangeSchema,
  logbookSettingsSchema,
  quickReliabilitySchema,
  reliabilityQuerySchema,
  versionQuerySchema,
  type Conversion,
  type ConversionInput,
  type DueList,
  type EntriesPage,
  type Life,
  type LogbookSettings,
  type LogEntry,
  type ReliabilityDto,
  type Subject,
} from '@ebrix/contract';
import { Clock } from '../common/clock.js';
import { Id, ValidBody, ValidQuery } from '../common/params.js';
import { LifeService } from './life.service.js';
import { LogbookService } from './logbook.service.js';
import { reliabilityOf } from './reliability.js';
import { ReliabilityService } from './reliability.service.js';
import { serviceCalendar } from './service-calendar.js';

@Controller()
export class LogbookController {
  constructor(
    private readonly logbook: LogbookService,
    private readonly lives: LifeService,
    private readonly faults: ReliabilityService,
    private readonly clock: Clock,
  ) {}

  @Get('logbook/entries')
  entries(@ValidQuery(entriesQuerySchema) query: z.output<typeof entriesQuerySchema>): Promise<EntriesPage> {
    const { kind, limit, after } = query;
    const [day, id] = after?.split(' ') ?? [];
    return this.logbook.page({
      subject: askedSubject(query),
      kind,
      limit,
      after: day !== undefined && id !== undefined ? { day, id } : undefined,
    });
  }

  @Post('logbook/entries')
  @HttpCode(200)
  add(
    @ValidBody(entriesPostSchema) { entries }: z.output<typeof entriesPostSchema>,
  ): Promise<{ stored: number; already: number }> {
    return this.logbook.add(entries);
  }

  @Put('logbook/entries/:id')
  change(
    @Id() id: string,
    @ValidBody(entryChangeSchema) { version, ...entry }: z.output<typeof entryChangeSchema>,
  ): Promise<LogEntry> {
    return this.logbook.change(id, version, entry);
  }

  @Delete('logbook/entries/:id')
  @HttpCode(204)
  remove(
    @Id() id: string,
    @ValidQuery(versionQuerySchema) { version }: z.output<typeof versionQuerySchema>,
  ): Promise<void> {
    return this.logbook.remove(id, version);
  }

  @Get('setups/:id/life')
  ofSetup(@Id() id: string): Promise<Life> {
    return this.lives.ofSetup(id);
  }

  @Get('bikes/:id/life')
  ofBike(@Id() id: string): Promise<Life> {
    return this.lives.ofBike(id);
  }

  @Get('conversions/:id/life')
  ofConversion(@Id() id: string): Promise<Life> {
    return this.lives.ofConversion(id);
  }

  @Get('logbook/due')
  due(): Promise<DueList> {
    return this.lives.dueEverywhere();
  }

  @Get('logbook/service.ics')
  @Header('Content-Type', 'text/calendar; charset=utf-8')
  @Header('Content-Disposition', 'attachment; filename="ebrix-service.ics"')
  async calendar(): Promise<string> {
    return serviceCalendar(await this.lives.dueEverywhere(), this.lives.today(), this.clock.now());
  }

  @Get('logbook/reliability')
  reliability(
    @ValidQuery(reliabilityQuerySchema) { by, part }: z.output<typeof reliabilityQuerySchema>,
  ): Promise<ReliabilityDto> {
    return this.faults.of(by, part);
  }

  @Post('quick-look/reliability')
  @HttpCode(200)
  quick(
    @ValidBody(quickReliabilitySchema) { conversions, by, part }: z.output<typeof quickReliabilitySchema>,
  ): ReliabilityDto {
    const kits = conversions.map(({ name, km, faults, replacements, kit, motorKind, pack, use }, k) => ({
      subject: null,
      id: String(k),
      name,
      km,
      isKept: true,
      answers: [],
      faults,
      replacements: replacements.map((one) => ({ ...one, isEndOfLife: one.why === 'worn' || one.why === 'failed' })),
      groups: { kit, motorKind, pack, use },
    }));
    return reliabilityOf(kits, by, part);
  }

  @Get('logbook/settings')
  settings(): Promise<LogbookSettings> {
    return this.logbook.settings();
  }

  @Put('logbook/settings')
  saveSettings(@ValidBody(logbookSettingsSchema) body: LogbookSettings): Promise<LogbookSettings> {
    return this.logbook.saveSettings(body);
  }

  @Get('conversions')
  conversions(): Promise<Conversion[]> {
    return this.logbook.conversions();
  }

  @Post('conversions')
  addConversion(@ValidBody(conversionInputSchema) body: ConversionInput): Promise<Conversion> {
    return this.logbook.addConversion(body);
  }

  @Put('conversions/:id')
  changeConversion(
    @Id() id: string,
    @ValidBody(conversionChangeSchema) { version, ...change }: z.output<typeof conversionChangeSchema>,
  ): Promise<Conversion> {
    return this.logbook.changeConversion(id, version, change);
  }

  @Put('conversions/:id/archive')
  archiveConversion(
    @Id() id: string,
    @ValidBody(archiveInputSchema) { version, archived }: z.output<typeof archiveInputSchema>,
  ): Promise<Conversion> {
    return this.logbook.changeConversion(id, version, { archived });
  }
}

function askedSubject({ setup, bike, conversion }: z.output<typeof entriesQuerySchema>): Subject | undefined {
  if (setup !== undefined) return { kind: 'setup', id: setup };
  if (bike !== undefined) return { kind: 'bike', id: bike };
  return conversion === undefined ? undefined : { kind: 'conversion', id: conversion };
}
