import type { z } from 'zod';

export type Method = 'get' | 'post' | 'put' | 'delete';
/** What an answer is when it is no JSON. */
export type Download =
  | 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet'
  | 'application/zip'
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
  readonly query?: z.ZodType;
  readonly body?: z.ZodType;
  /** Parts of a multipart body. */
  readonly multipart?: readonly string[];
  /** Schema of the JSON that comes back, the type of a download, or null for nothing. */
  readonly answer: z.ZodType | Download | null;
}
