import { z } from 'zod';
import { ROUTES, type Route, type RouteName } from '@ebrix/contract';

/** An answer as the table of routes has it. Throws where it is another. */
export function parseAnswer(name: RouteName, answer: unknown): unknown {
  const { answer: schema }: Route = ROUTES[name];
  return schema instanceof z.ZodType ? schema.parse(answer) : undefined;
}
