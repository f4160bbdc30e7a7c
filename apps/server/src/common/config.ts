import { z } from 'zod';

const environment = z.object({
  DATABASE_URL: z.string().min(1, 'DATABASE_URL must name the database.'),
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number().int().min(0).max(65_535).default(4180),
  /** Names this server is reached by beside the loopback ones, separated by commas. */
  EBRIX_HOSTS: z
    .string()
    .default('')
    .transform((list) =>
      list
        .split(',')
        .map((name) => name.trim())
        .filter(Boolean),
    ),
  /** Folder of the built pages; absent in tests. */
  EBRIX_WEB: z.string().optional(),
  EBRIX_DEMO: z.enum(['yes', 'no']).default('no'),
  LOG_LEVEL: z.enum(['fatal', 'error', 'warn', 'info', 'debug', 'silent']).default('warn'),
});

export type Config = z.output<typeof environment>;
export const CONFIG = Symbol('config');
export const VERSION = '0.1.0';

export function readConfig(env: NodeJS.ProcessEnv): Config {
  return environment.parse(env);
}
