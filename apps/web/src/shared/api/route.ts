import type { FetchArgs } from '@reduxjs/toolkit/query/react';
import type { z } from 'zod';
import { ADDRESSES, roomOf, type Room, type Route, type RouteName, type ROUTES } from '@ebrix/contract';
import { ROUTES_OF } from './schemas.js';

/** The JSON that a route answers with; nothing where it answers with none. */
export type AnswerOf<Name extends RouteName> = (typeof ROUTES)[Name]['answer'] extends z.ZodType
  ? z.output<(typeof ROUTES)[Name]['answer']>
  : void;

interface Parts {
  /** What stands in the braces of the path. */
  readonly params?: Readonly<Record<string, string>>;
  readonly query?: Readonly<Record<string, unknown>> | string;
  readonly body?: unknown;
  /** Fields of a multipart body; what is empty is left out. */
  readonly form?: Readonly<Record<string, string | File | readonly File[] | undefined>>;
}

/**
 * What the first page shows comes in before the schemas are there: they are as large as all else of that page. It is held against
 * them as soon as they are (`checkFirstAnswers`); nothing in it is filled in by its schema.
 */
const FIRST: ReadonlySet<RouteName> = new Set<RouteName>(['listTrials', 'dueEverywhere', 'getDemo']);
/** Until what came in was checked: from then on every answer waits for its schemas. */
let isFirstPage = true;
const comesFirst = (name: RouteName): boolean => isFirstPage && FIRST.has(name);

type Parse = (name: RouteName, answer: unknown) => unknown;
const parsers = new Map<Room, Parse>();
const loading = new Map<Room, Promise<Parse>>();
const unchecked: { readonly name: RouteName; readonly answer: unknown }[] = [];

/** The schemas of the answers of a room, once. */
export function loadSchemas(room: Room): Promise<Parse> {
  const begun = loading.get(room);
  if (begun) return begun;
  const coming = ROUTES_OF[room]().then(
    (routes) => {
      const parse: Parse = (name, answer) => parsed(routes[name], answer);
      parsers.set(room, parse);
      return parse;
    },
    (failure: unknown) => {
      // Asked for again by the next answer.
      loading.delete(room);
      throw failure;
    },
  );
  loading.set(room, coming);
  return coming;
}

/** An answer as the table of routes has it; nothing where it is no JSON. Throws where it is another. */
function parsed(route: Route | undefined, answer: unknown): unknown {
  const schema = route?.answer;
  return typeof schema === 'object' && schema !== null ? schema.parse(answer) : undefined;
}

/** Holds what came in before the schemas against them, and tells where one of it is not what the table says. */
export async function checkFirstAnswers(onOdd: (name: RouteName) => void): Promise<void> {
  isFirstPage = false;
  for (const { name, answer } of unchecked.splice(0)) {
    const parse = await loadSchemas(roomOf(name));
    try {
      parse(name, answer);
    } catch {
      onOdd(name);
    }
  }
}

/** A request by the contract's table: method and address stand there, once. */
export function requestTo(name: RouteName, { params = {}, query, body, form }: Parts = {}): FetchArgs {
  // What its answer is held against comes beside it. Where it does not come, the answer says so.
  if (!comesFirst(name)) loadSchemas(roomOf(name)).catch(() => undefined);
  const route = ADDRESSES[name];
  const path = route.path.replaceAll(/\{(\w+)\}/g, (_, brace: string) => encodeURIComponent(params[brace]!));
  return {
    url: typeof query === 'string' && query !== '' ? `${path}?${query}` : path,
    method: route.method.toUpperCase(),
    ...(typeof query === 'object' && { params: query }),
    ...(body !== undefined && { body }),
    ...(form && { body: formOf(form) }),
  };
}

/** Checks an answer where it comes in; inside, its type is trusted. */
export function answerOf<Name extends RouteName>(
  name: Name,
): (answer: unknown) => AnswerOf<Name> | Promise<AnswerOf<Name>> {
  return (answer) => {
    const parse = parsers.get(roomOf(name));
    if (parse) return parse(name, answer) as AnswerOf<Name>;
    if (!comesFirst(name))
      return loadSchemas(roomOf(name)).then((parseNow) => parseNow(name, answer) as AnswerOf<Name>);
    unchecked.push({ name, answer });
    return answer as AnswerOf<Name>;
  };
}

function formOf(fields: NonNullable<Parts['form']>): FormData {
  const form = new FormData();
  for (const [name, value] of Object.entries(fields)) {
    if (value === undefined || value === '') continue;
    for (const one of Array.isArray(value) ? (value as File[]) : [value as string | File]) form.append(name, one);
  }
  return form;
}
