import { type CanActivate, type ExecutionContext, Injectable } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import type { Request } from 'express';
import type { Audience } from '@ypsigraph/contract/route';
import { Id, REQUEST_HEADER } from '@ypsigraph/contract/vocabulary';
import type { Person } from '@ypsigraph/contract/people';
import { Database } from '../database/database.module.ts';
import { AUDIENCE } from './route-keys.ts';
import { notAllowed, notSignedIn, ProblemException } from './problem.ts';

export interface PersonRequest extends Request {
  person?: Person;
}

/**
 * Lets a request through to a handler: it carries the header no form can send if it changes anything, and comes from someone the
 * route is for. Who may see which shot is decided behind it, by the policy of the noun.
 */
@Injectable()
export class SessionGuard implements CanActivate {
  constructor(
    private readonly reflector: Reflector,
    private readonly database: Database,
  ) {}

  async canActivate(context: ExecutionContext): Promise<boolean> {
    const request = context.switchToHttp().getRequest<PersonRequest>();
    if (request.method !== 'GET' && request.method !== 'HEAD' && !request.headers[REQUEST_HEADER]) {
      throw new ProblemException(
        403,
        'header-missing',
        `A request that changes something needs the header ${REQUEST_HEADER}.`,
      );
    }
    const personId = request.session?.personId;
    if (personId) {
      const found = await this.database.models.Person.findByPk(personId);
      if (found && !found.archivedAt) request.person = { id: found.id, name: found.name, role: found.role };
    }
    this.refuseForAnother(request);
    const audience = this.reflector.get<Audience | undefined>(AUDIENCE, context.getHandler());
    if (audience === 'anyone') return true;
    if (!request.person) throw notSignedIn();
    if (audience === undefined) throw notAllowed('This address is for nobody.');
    if (audience !== 'signed in' && !audience.includes(request.person.role)) {
      throw notAllowed(`This is for ${audience.join(' or ')} only.`);
    }
    return true;
  }

  /** A page of one person may still be open when another has signed in: what it sends is not theirs. */
  private refuseForAnother({ method, headers, person }: PersonRequest): void {
    if (method === 'GET' || method === 'HEAD') return;
    const meant = headers[REQUEST_HEADER];
    if (typeof meant !== 'string' || !Id.safeParse(meant).success || meant === person?.id) return;
    throw new ProblemException(
      409,
      'another-person',
      person ? 'Somebody else is signed in here now.' : 'You are signed out here.',
      'What you wrote is kept for you. Sign in again to send it.',
    );
  }
}
