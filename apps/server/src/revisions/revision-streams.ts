import { createHash } from 'node:crypto';
import { Injectable, type MessageEvent } from '@nestjs/common';
import { concatMap, filter, finalize, from, interval, map, merge, type Observable, share, takeUntil } from 'rxjs';
import { ProblemException } from '../http/problem.ts';
import { SessionService } from '../people/session.service.ts';
import { RevisionNews } from './revision-news.ts';

/** Often enough that no proxy takes the stream for dead. */
const HEARTBEAT_MS = 20_000;
/** Streams one person may have open at once in this process. */
const MOST = 12;

/** Streams of a revision's progress: so many a person, and no longer than the session they were opened in. */
@Injectable()
export class RevisionStreams {
  private readonly open = new Map<string, number>();

  constructor(
    private readonly news: RevisionNews,
    private readonly sessions: SessionService,
  ) {}

  of(revision: string, person: string, session: string): Observable<MessageEvent> {
    const count = this.open.get(person) ?? 0;
    if (count >= MOST) throw new ProblemException(429, 'too-often', 'Too many pages of yours listen at once.');
    this.open.set(person, count + 1);
    const beat = interval(HEARTBEAT_MS).pipe(share());
    const ended = merge(
      this.news.endOf(createHash('sha256').update(session).digest('hex')),
      beat.pipe(
        concatMap(() => from(this.sessions.lives(session).catch(() => true))),
        filter((lives) => !lives),
      ),
    );
    return merge(
      this.news.of(revision).pipe(map((data): MessageEvent => ({ type: 'revision', data }))),
      beat.pipe(map((): MessageEvent => ({ type: 'alive', data: '' }))),
    ).pipe(
      takeUntil(ended),
      finalize(() => {
        const left = (this.open.get(person) ?? 1) - 1;
        if (left > 0) this.open.set(person, left);
        else this.open.delete(person);
      }),
    );
  }
}
