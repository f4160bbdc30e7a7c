import type { z } from 'zod';
import type { Role } from '../accounts.js';

export type Method = 'get' | 'post' | 'put' | 'delete';
/** What an answer is when it is no JSON. */
export type Download =
  | 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'
  | 'application/x-x509-ca-cert'
  | 'application/zip'
  | 'text/calendar'
  | 'text/csv'
  | 'text/html'
  | 'image/jpeg'
  | 'application/octet-stream'
  | 'text/event-stream';

/** One address of the API: the server's router, its description and the pages' requests are held against this table. */
export interface Route {
  readonly method: Method;
  /** Below `/api/`, with parameters in braces. */
  readonly path: string;
  readonly summary: string;
  /** The least that the asking account has to be; unsaid, a reader may get and a tester do the rest. */
  readonly access?: Role | 'anyone';
  readonly query?: z.ZodType;
  readonly body?: z.ZodType;
  /** Parts of a multipart body. */
  readonly multipart?: readonly string[];
  /** Schema of the JSON that comes back, the type of a download, or null for nothing. */
  readonly answer: z.ZodType | Download | null;
}

/** What is needed for a route, once there are accounts. */
export function accessOf({ method, access }: Route): Role | 'anyone' {
  return access ?? (method === 'get' ? 'reader' : 'tester');
}
