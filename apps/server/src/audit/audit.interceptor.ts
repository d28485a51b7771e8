import { type CallHandler, type ExecutionContext, Injectable, Logger, type NestInterceptor } from '@nestjs/common';
import { Reflector } from '@nestjs/core';
import { catchError, concatMap, from, map, type Observable, throwError } from 'rxjs';
import type { Route } from '@ypsigraph/contract/route';
import { Database } from '../database/database.module.ts';
import { ROUTE } from '../http/route-keys.ts';
import type { PersonRequest } from '../http/session.guard.ts';
import { AuditService } from './audit.service.ts';

/** Shots by their students and exercises. */
const SHOTS = `(SELECT s.id, p.name || ', ' || b.title AS about
   FROM shots s JOIN people p ON p.id = s.student_id JOIN briefs b ON b.id = s.brief_id) s`;
const REVISIONS = `(SELECT r.id, s.about || ', R' || r.number AS about FROM revisions r JOIN ${SHOTS} ON s.id = r.shot_id) r`;

/** What an address names, in words. */
const NAMED: Readonly<Record<string, string>> = {
  cohort: 'SELECT name AS about FROM cohorts WHERE id = $1',
  person: 'SELECT name AS about FROM people WHERE id = $1',
  assignment: 'SELECT b.title AS about FROM assignments a JOIN briefs b ON b.id = a.brief_id WHERE a.id = $1',
  shot: `SELECT about FROM ${SHOTS} WHERE id = $1`,
  revision: `SELECT about FROM ${REVISIONS} WHERE id = $1`,
  mark: `SELECT r.about FROM marks m JOIN ${REVISIONS} ON r.id = m.revision_id WHERE m.id = $1`,
  brief: 'SELECT title AS about FROM briefs WHERE id = $1',
};

/** Writes down who did what, of the routes that say so, once it is done. What can't be written down is logged, and undoes nothing. */
@Injectable()
export class AuditInterceptor implements NestInterceptor {
  private readonly logger = new Logger(AuditInterceptor.name);

  constructor(
    private readonly reflector: Reflector,
    private readonly database: Database,
    private readonly audit: AuditService,
  ) {}

  intercept(context: ExecutionContext, next: CallHandler): Observable<unknown> {
    const route = this.reflector.get<Route | undefined>(ROUTE, context.getHandler());
    const noted = route?.more.noted;
    if (!noted) return next.handle();
    const request = context.switchToHttp().getRequest<PersonRequest>();
    // Signing out ends the session that says who it was.
    const before = { person: request.session?.personId, session: request.sessionID };
    const { kind, did, refused } = noted;
    return next.handle().pipe(
      concatMap((answer: unknown) => from(this.write(route, request, before, { kind, did })).pipe(map(() => answer))),
      catchError((error: unknown) =>
        refused === undefined
          ? throwError(() => error)
          : from(this.write(route, request, before, { kind, did: refused })).pipe(
              concatMap(() => throwError(() => error)),
            ),
      ),
    );
  }

  private async write(
    route: Route,
    request: PersonRequest,
    before: { readonly person: string | undefined; readonly session: string },
    note: { kind: NonNullable<Route['more']['noted']>['kind']; did: string },
  ): Promise<void> {
    try {
      const now = request.session?.personId;
      // Of what anybody may ask, who asks is who was signed in only where that began or ended a session; else it is whose address was typed.
      const isOfNobody = route.audience === 'anyone' && now !== undefined && request.sessionID === before.session;
      const person = (isOfNobody ? undefined : (now ?? before.person)) ?? (await this.called(request));
      // Nobody of this school: nothing is written down of an address that was mistyped.
      if (person === undefined) return;
      await this.audit.note({ ...note, person, about: await this.named(route, request) });
    } catch (error) {
      this.logger.error({ err: error, what: note.did }, 'what somebody did could not be written down');
    }
  }

  /** Whose address was typed. */
  private async called({ body }: PersonRequest): Promise<string | undefined> {
    const { email } = (body ?? {}) as { email?: unknown };
    if (typeof email !== 'string') return undefined;
    const [row] = await this.database.select<{ id: string }>('SELECT id FROM people WHERE lower(email) = lower($1)', [
      email.trim(),
    ]);
    return row?.id;
  }

  private async named({ concerns, names }: Route, { params }: PersonRequest): Promise<string> {
    const [what, id] = concerns ? [concerns, params.id] : [names[0] ?? '', params[names[0] ?? '']];
    const sql = NAMED[what];
    if (sql === undefined || id === undefined) return '';
    const [row] = await this.database.select<{ about: string }>(sql, [id]);
    return row?.about ?? '';
  }
}
