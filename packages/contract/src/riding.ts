import { z } from 'zod';
import { EFFORTS, type Effort } from '@ebrix/core/ride-model';
import type { Immutable } from './common.js';

/** How a ride is pedalled, or not. */
export const effortSchema = z.enum(Object.keys(EFFORTS) as [Effort, ...Effort[]]);
export const LIMIT_MODES = ['legal', 'opened'] as const;

/** How a run was ridden; empty or null: not written down. As part of an arm or a trial: left open. */
export const ridingSchema = z.strictObject({
  way: effortSchema.nullable().default(null),
  level: z.string().trim().max(20).default(''),
  gear: z.string().trim().max(20).default(''),
  payloadKg: z.number().min(0).max(300).nullable().default(null),
  limitMode: z.enum(LIMIT_MODES).nullable().default(null),
  laps: z.int().min(1).max(200).nullable().default(null),
});
export type RidingDto = Immutable<z.output<typeof ridingSchema>>;
export const openRiding: RidingDto = ridingSchema.parse({});

/** Mends many runs at once: only what is given here changes. */
export const ridingChangeSchema = z.strictObject({
  runIds: z.array(z.uuid()).min(1).max(500),
  riding: z.strictObject({
    way: effortSchema.nullable().optional(),
    level: z.string().trim().max(20).optional(),
    gear: z.string().trim().max(20).optional(),
    payloadKg: z.number().min(0).max(300).nullable().optional(),
    limitMode: z.enum(LIMIT_MODES).nullable().optional(),
    laps: z.int().min(1).max(200).nullable().optional(),
  }),
  riderId: z.uuid().nullable().optional(),
  loggerId: z.uuid().nullable().optional(),
  outingId: z.uuid().optional(),
  /** True wheel circumference ÷ the one set. */
  wheelFactor: z.number().min(0.3).max(3).nullable().optional(),
});
export type RidingChange = Immutable<z.output<typeof ridingChangeSchema>>;
export const ridingChangedSchema = z.strictObject({ changed: z.int() });
