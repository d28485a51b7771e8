import { Controller, Inject, Req, Res } from '@nestjs/common';
import { ApiTags } from '@nestjs/swagger';
import type { Request, Response } from 'express';
import { CalendarAddress, type Person } from '@ypsigraph/contract/people';
import { ROUTES } from '@ypsigraph/contract/routes';
import { CONFIGURATION, type Configuration } from '../config.ts';
import { Asked } from '../http/asked.ts';
import { Current } from '../http/current-person.ts';
import { On } from '../http/on.ts';
import { ownAddress } from '../http/own-address.ts';
import { CalendarService } from './calendar.service.ts';

@ApiTags('courses')
@Controller()
export class CalendarController {
  constructor(
    private readonly calendars: CalendarService,
    @Inject(CONFIGURATION) private readonly configuration: Configuration,
  ) {}

  @On(ROUTES.calendar)
  async calendar(
    @Asked() { params: { key } }: Asked<typeof ROUTES.calendar>,
    @Req() request: Request,
    @Res() response: Response,
  ): Promise<void> {
    const text = await this.calendars.calendar(key.replace(/\.ics$/, ''), ownAddress(this.configuration, request));
    response
      .type('text/calendar; charset=utf-8')
      .set({ 'Cache-Control': 'private, max-age=300', 'X-Content-Type-Options': 'nosniff' })
      .send(text);
  }

  @On(ROUTES.renewCalendar)
  async renew(@Current() person: Person, @Req() request: Request): Promise<CalendarAddress> {
    return {
      address: `${ownAddress(this.configuration, request)}/api/calendars/${await this.calendars.renew(person)}.ics`,
    };
  }

  @On(ROUTES.dropCalendar)
  async drop(@Current() person: Person): Promise<CalendarAddress> {
    await this.calendars.drop(person);
    return { address: null };
  }
}
