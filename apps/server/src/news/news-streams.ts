import { createHash } from 'node:crypto';
import { Injectable, type MessageEvent } from '@nestjs/common';
import { concatMap, filter, finalize, from, interval, map, merge, type Observable, share, takeUntil } from 'rxjs';
import type { Person } from '@ypsigraph/contract/people';
import { ProblemException } from '../http/problem.ts';
import { SessionService } from '../people/session.service.ts';
import { ChangeFeed } from './change-feed.ts';

/** Often enough that no proxy takes the stream for dead. */
const HEARTBEAT_MS = 20_000;
/** Streams one person may have open at once in this process. */
const MOST = 12;

/** Streams of what changes while a page is open: so many a person, and no longer than the session they were opened in. */
@Injectable()
export class NewsStreams {
  private readonly open = new Map<string, number>();

  constructor(
    private readonly news: ChangeFeed,
    private readonly sessions: SessionService,
  ) {}

  /** A revision's state, now and each time it changes. */
  ofRevision(revision: string, person: string, session: string): Observable<MessageEvent> {
    return this.stream(this.news.of(revision).pipe(map((data) => ({ type: 'revision', data }))), person, session);
  }

  /** That something about a shot has changed. */
  ofShot(shot: string, { id, role }: Person, session: string): Observable<MessageEvent> {
    const news = this.news.ofShot(shot, role !== 'student').pipe(map((data) => ({ type: 'shot', data })));
    return this.stream(news, id, session);
  }

  private stream(news: Observable<MessageEvent>, person: string, session: string): Observable<MessageEvent> {
    const count = this.open.get(person) ?? 0;
    if (count >= MOST) throw new ProblemException(429, 'too-often', 'Too many pages of yours listen at once.');
    this.open.set(person, count + 1);
    const heartbeat = interval(HEARTBEAT_MS).pipe(share());
    const ended = merge(
      this.news.endOf(createHash('sha256').update(session).digest('hex')),
      heartbeat.pipe(
        concatMap(() => from(this.sessions.lives(session).catch(() => true))),
        filter((lives) => !lives),
      ),
    );
    return merge(news, heartbeat.pipe(map((): MessageEvent => ({ type: 'alive', data: '' })))).pipe(
      takeUntil(ended),
      finalize(() => {
        const left = (this.open.get(person) ?? 1) - 1;
        if (left > 0) this.open.set(person, left);
        else this.open.delete(person);
      }),
    );
  }
}
