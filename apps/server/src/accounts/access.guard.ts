import { Injectable, type CanActivate, type ExecutionContext } from '@nestjs/common';
import type { Request, Response } from 'express';
import { accessOf, ROUTES, type Role, type Route } from '@ebrix/contract';
import { DomainError } from '../common/domain-error.js';
import { isAtLeast, type Who } from './account.repository.js';
import { Door } from './door.js';

export interface Asked extends Request {
  who?: Who | undefined;
  asked?: { readonly name: string; readonly route: Route };
}

/** How soon a stream of somebody who was signed out ends. */
const LOOK_AGAIN_MS = 10_000;

const nameless = (path: string): string => path.replaceAll(/\{\w+\}|:\w+/g, '*');
const BY_ADDRESS: ReadonlyMap<string, { readonly name: string; readonly route: Route }> = new Map(
  Object.entries<Route>(ROUTES).map(([name, route]) => [
    `${route.method} /api/${nameless(route.path)}`,
    { name, route },
  ]),
);
/** A calendar program sends no cookie: its address carries the key. */
const KEY_IN_ADDRESS: ReadonlySet<string> = new Set(['serviceCalendar']);
const ROLE_WORDS: Readonly<Record<Role, string>> = { reader: 'a reader', tester: 'a tester', owner: 'an owner' };

/** Lets a request pass by the table of routes; an address that is not in it passes nobody. */
@Injectable()
export class AccessGuard implements CanActivate {
  constructor(private readonly door: Door) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<Asked>();
    const { path } = request.route as { path: string };
    const method = request.method === 'HEAD' ? 'get' : request.method.toLowerCase();
    const asked = BY_ADDRESS.get(`${method} ${nameless(path)}`);
    if (!asked) throw new DomainError('not-allowed', 'This address is open to nobody.');
    request.asked = asked;
    const needed = accessOf(asked.route);
    if (!this.door.isClosed()) {
      if (!this.door.isFromHere(request))
        throw new DomainError(
          'not-allowed',
          'Ebrix has no accounts yet, so it answers only the machine it runs on. Add the first account there: npm run account -- add NAME',
        );
      return true;
    }
    if (needed === 'anyone') return true;
    const { key } = request.query;
    request.who = await this.door.whoIs(
      request,
      KEY_IN_ADDRESS.has(asked.name) && typeof key === 'string' ? key : undefined,
    );
    if (!request.who) throw new DomainError('signed-out', 'Sign in first. What you typed is kept on this page.');
    if (!isAtLeast(request.who.role, needed))
      throw new DomainError(
        'not-allowed',
        `This needs ${ROLE_WORDS[needed]}; ${request.who.name} is ${ROLE_WORDS[request.who.role]}. An owner can change that under Upkeep, People.`,
      );
    if (asked.route.answer === 'text/event-stream')
      this.endWhenSignedOut(request, context.switchToHttp().getResponse<Response>(), needed);
    return true;
  }

  /** A stream lasts for hours: who is signed out, blocked or made less meanwhile hears no more of it. */
  private endWhenSignedOut(request: Request, response: Response, needed: Role): void {
    const look = async (): Promise<void> => {
      const who = await this.door.stillIs(request);
      if (!who || !isAtLeast(who.role, needed)) response.destroy();
    };
    // While the database is away nobody can be asked; next time.
    const timer = setInterval(() => void look().catch(() => undefined), LOOK_AGAIN_MS).unref();
    response.once('close', () => clearInterval(timer));
  }
}
