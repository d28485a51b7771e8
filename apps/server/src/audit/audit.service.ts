import { Inject, Injectable, type OnApplicationBootstrap, type OnModuleDestroy } from '@nestjs/common';
import type { Audit, AuditEntry, AuditKind } from '@ypsigraph/contract/audit';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Hourly } from '../hourly.ts';
import { Database } from '../database/database.module.ts';
import { ProblemException } from '../http/problem.ts';
import { requestId } from '../http/request-id.ts';

/** Entries of one page. */
const PAGE = 60;

/** What is written down: of whom, what they did, and about what. */
export interface Note {
  readonly kind: AuditKind;
  readonly did: string;
  readonly about?: string;
  /** A person's id; left out, the command line. */
  readonly person?: string;
}

/** Who did what, kept as long as the school says. */
@Injectable()
export class AuditService implements OnApplicationBootstrap, OnModuleDestroy {
  private hourly: Hourly | undefined;

  constructor(
    private readonly database: Database,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  onApplicationBootstrap(): void {
    this.hourly = new Hourly(AuditService.name, 'old entries could not be removed', () => this.forget());
  }

  onModuleDestroy(): void {
    this.hourly?.end();
  }

  /** Writes down what somebody did. */
  async note({ kind, did, about = '', person }: Note): Promise<void> {
    await this.database.run(
      `INSERT INTO audit (kind, did, about, person_id, request, who)
       VALUES ($1, $2, $3, $4, $5, coalesce((SELECT name FROM people WHERE id = $4), 'The command line'))`,
      [kind, did, about, person ?? null, requestId()],
    );
  }

  /** The newest entries, or those before a page's last. */
  async page(kind: AuditKind | undefined, after: string | undefined): Promise<Audit> {
    if (after !== undefined && !/^\d{1,18}$/.test(after))
      throw new ProblemException(400, 'invalid', 'There is no such page.', undefined, [
        { field: 'after', message: 'what the page before gave as “next”' },
      ]);
    const rows = await this.database.list<Omit<AuditEntry, 'at'> & { at: Date }>(
      `SELECT id::text, at, kind, who, person_id AS person, did, about FROM audit
        WHERE ($1::text IS NULL OR kind = $1) AND ($2::bigint IS NULL OR audit.id < $2) ORDER BY audit.id DESC LIMIT ${PAGE + 1}`,
      [kind ?? null, after ?? null],
    );
    const entries = rows.slice(0, PAGE).map(({ at, ...entry }) => ({ ...entry, at: at.toISOString() }));
    return {
      entries,
      next: rows.length > PAGE ? entries.at(-1)!.id : null,
      days: this.configuration.AUDIT_DAYS,
    };
  }

  /** Removes what is older than the school keeps it. */
  async forget(): Promise<void> {
    await this.database.run('DELETE FROM audit WHERE at < now() - make_interval(days => $1)', [
      this.configuration.AUDIT_DAYS,
    ]);
  }
}
