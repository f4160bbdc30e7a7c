import type { FetchArgs } from '@reduxjs/toolkit/query/react';
import { z } from 'zod';
import type { Route } from '@ebrix/contract';

/** The JSON that a route answers with; nothing where it answers with none. */
export type AnswerOf<R extends Route> = R['answer'] extends z.ZodType ? z.output<R['answer']> : void;

interface Parts {
  /** What stands in the braces of the path. */
  readonly params?: Readonly<Record<string, string>>;
  readonly query?: Readonly<Record<string, unknown>> | string;
  readonly body?: unknown;
  /** Fields of a multipart body; what is empty is left out. */
  readonly form?: Readonly<Record<string, string | File | readonly File[] | undefined>>;
}

/** A request by the contract's table: method and address stand there, once. */
export function requestTo(route: Route, { params = {}, query, body, form }: Parts = {}): FetchArgs {
  const path = route.path.replaceAll(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(params[name]!));
  return {
    url: typeof query === 'string' && query !== '' ? `${path}?${query}` : path,
    method: route.method.toUpperCase(),
    ...(typeof query === 'object' && { params: query }),
    ...(body !== undefined && { body }),
    ...(form && { body: formOf(form) }),
  };
}

/** Checks an answer where it comes in; inside, its type is trusted. */
export function answerOf<R extends Route>({ answer: schema }: R): (answer: unknown) => AnswerOf<R> {
  return (answer) => (schema instanceof z.ZodType ? schema.parse(answer) : undefined) as AnswerOf<R>;
}

function formOf(fields: NonNullable<Parts['form']>): FormData {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) {
    if (value === undefined || value === '') continue;
    for (const one of Array.isArray(value) ? (value as File[]) : [value as string | File]) form.append(name, one);
  }
  return form;
}
