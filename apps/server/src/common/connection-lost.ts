const CONNECTION_CODES: ReadonlySet<string> = new Set([
  'ECONNREFUSED',
  'ECONNRESET',
  'EPIPE',
  '57P01',
  '57P02',
  '57P03',
  '08006',
  '08003',
  '53300',
]);

/** Whether an error says that the database went away or does not answer: worth another try, nothing wrong with the request. */
export function isConnectionLost(error: unknown): boolean {
  const { code, name, message } = (error ?? {}) as { code?: unknown; name?: string; message?: string };
  return (
    (typeof code === 'string' && CONNECTION_CODES.has(code)) ||
    name === 'KnexTimeoutError' ||
    /Connection terminated|Connection ended|connection error and is not queryable/.test(message ?? '')
  );
}
