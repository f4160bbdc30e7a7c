import { Body, Param, Query } from '@nestjs/common';
import { idSchema } from '@ebrix/contract';
import type { z } from 'zod';
import { ZodPipe } from './zod.pipe.js';

/** An id in the address, checked. */
export const Id = (name = 'id'): ParameterDecorator => Param(name, new ZodPipe(idSchema));

/** A part of the address that follows a schema. */
export const ValidParam = (name: string, schema: z.ZodType): ParameterDecorator => Param(name, new ZodPipe(schema));

/** What follows the question mark, all of it. */
export const ValidQuery = (schema: z.ZodType): ParameterDecorator => Query(new ZodPipe(schema));

/** The body, all of it. */
export const ValidBody = (schema: z.ZodType): ParameterDecorator => Body(new ZodPipe(schema));
