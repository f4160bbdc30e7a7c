import { Logger } from '@nestjs/common';
import { isConnectionLost } from './connection-lost.js';

/**
 * A connection that breaks may reject a promise that nobody waits for, deep in a library. That is no reason to end: the
 * database comes back, and what was under way is taken up again. Anything else is a fault of the program, which ends it; the
 * starter starts it anew.
 */
export function surviveDatabaseLoss(logger = new Logger('process')): void {
  const take = (error: unknown): void => {
    if (isConnectionLost(error)) {
      logger.warn(`The database went away: ${error instanceof Error ? error.message : String(error)}`);
      return;
    }
    logger.error(error instanceof Error ? (error.stack ?? error.message) : String(error));
    process.exit(70);
  };
  process.on('unhandledRejection', take);
  process.on('uncaughtException', take);
}
