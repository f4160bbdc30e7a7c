import { z } from 'zod';

/** Separated by commas. */
const list = z
  .string()
  .default('')
  .transform((text) =>
    text
      .split(',')
      .map((name) => name.trim())
      .filter(Boolean),
  );

const environment = z.object({
  DATABASE_URL: z.string().min(1, 'DATABASE_URL must name the database.'),
  HOST: z.string().default('127.0.0.1'),
  PORT: z.coerce.number().int().min(0).max(65_535).default(4180),
  /** Names this server is reached by beside the loopback ones. */
  EBRIX_HOSTS: list,
  /** Addresses that other devices open, as `npm start -- --share` works them out. */
  EBRIX_SHARED: list,
  /** Proxies whose word on who is asking is taken. */
  EBRIX_PROXIES: list,
  /** Where other devices are answered over TLS, once there is an account: port, certificate, key, and who signed it. */
  EBRIX_SHARE_PORT: z.coerce.number().int().min(1).max(65_535).optional(),
  EBRIX_TLS_CERT: z.string().optional(),
  EBRIX_TLS_KEY: z.string().optional(),
  EBRIX_AUTHORITY: z.string().optional(),
  /** Where backups go, and where PostgreSQL's programs are; without, none are made. */
  EBRIX_BACKUPS: z.string().optional(),
  EBRIX_PG_BIN: z
    .string()
    .optional()
    .transform((folder) => folder || undefined),
  /** Where data packages lie that are made or were made within a day; without, they end with the server. */
  EBRIX_PACKAGES: z.string().optional(),
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
