import { Controller } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Audit } from '@ypsigraph/contract/audit';
import type { Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CoursePolicy } from '../courses/course.policy.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { AuditService } from './audit.service.ts';

@ApiTags('audit')
@Controller()
export class AuditController {
  constructor(
    private readonly audit: AuditService,
    private readonly courses: CoursePolicy,
  ) {}

  @On(ROUTES.audit)
  page(@Asked() { query: { kind, after } }: Asked<typeof ROUTES.audit>): Promise<Audit> {
    return this.audit.page(kind, after);
  }

  /** The page makes the table: what is written down of it is the route's own. */
  @On(ROUTES.noteLedgerExport)
  async noteLedgerExport(
    @Current() person: Person,
    @Asked() { params: { id } }: Asked<typeof ROUTES.noteLedgerExport>,
  ): Promise<{ noted: true }> {
    await this.courses.mustBelong(person, id);
    return { noted: true };
  }
}
