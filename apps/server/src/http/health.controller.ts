import { Controller, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CORE_VERSION } from '@ypsigraph/core/measure/registry';
import { Database } from '../database/database.module.ts';
import { On } from './on.ts';

@ApiTags('health')
@Controller()
export class HealthController {
  constructor(private readonly database: Database) {}

  /** 200 while the database answers, 503 while it does not. */
  @On(ROUTES.health)
  async health(@Res({ passthrough: true }) response: Response): Promise<{ status: string; core: string }> {
    try {
      await this.database.select('SELECT 1 AS one', []);
      return { status: 'well', core: CORE_VERSION };
    } catch {
      response.status(503);
      return { status: 'the database does not answer', core: CORE_VERSION };
    }
  }
}
