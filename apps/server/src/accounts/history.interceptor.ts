import { Injectable, Logger, type CallHandler, type ExecutionContext, type NestInterceptor } from '@nestjs/common';
import { from, mergeMap, type Observable } from 'rxjs';
import { accessOf, idSchema } from '@ebrix/contract';
import { z } from 'zod';
import type { Asked } from './access.guard.js';
import { HistoryRepository } from './history.repository.js';

/** Lines of loggers are no deeds of a person, and marks of a ride are kept with it. */
const NOT_NOTED: ReadonlySet<string> = new Set(['sendLoggerLines', 'sendMarks']);

/** Notes who changed what, after it was stored. */
@Injectable()
export class HistoryInterceptor implements NestInterceptor {
  private readonly logger = new Logger('history');

  constructor(private readonly history: HistoryRepository) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const request = context.switchToHttp().getRequest<Asked>();
    const { asked } = request;
    const isNoted =
      asked &&
      asked.route.method !== 'get' &&
      !['reader', 'anyone'].includes(accessOf(asked.route)) &&
      !NOT_NOTED.has(asked.name);
    if (!isNoted) return next.handle();
    return next
      .handle()
      .pipe(
        mergeMap((answer: unknown) =>
          from(this.note(request, asked.name, objectsOf(request, answer)).then(() => answer)),
        ),
      );
  }

  /** What was stored stands, whatever becomes of the note. */
  private async note(request: Asked, operation: string, objects: readonly (string | null)[]): Promise<void> {
    try {
      await this.history.add(request.who, operation, objects);
    } catch (error) {
      this.logger.error(error instanceof Error ? error.message : String(error));
    }
  }
}

/** The things that were named together, the one in the address, or else the one that was made. */
function objectsOf(request: Asked, answer: unknown): readonly (string | null)[] {
  const many = z
    .array(idSchema)
    .min(1)
    .safeParse((request.body as { runIds?: unknown } | undefined)?.runIds);
  if (many.success) return many.data;
  const named = request.params['id'] ?? (answer as { id?: unknown } | null | undefined)?.id;
  return [idSchema.safeParse(named).data ?? null];
}
