import type { Mark } from '@ypsigraph/contract/marks';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import { sayMark } from '@ypsigraph/core/mark/mark';
import { capital } from '@ypsigraph/core/say/words';
import { framesText } from '../../desk/margin/frames-text.ts';
import type { ChartFacts } from '../../desk/marks/kinds/mark-kind-view.ts';
import { chartOf } from '../../desk/marks/kinds/registry.tsx';
import type { Drawing } from './drawing.ts';

/** A mark as it stands on the sheet. */
export interface SheetMark {
  readonly id: string;
  readonly frames: string;
  readonly kind: string;
  readonly about: string;
  readonly words: string;
  readonly state: string;
  readonly now: string;
  readonly wanted: string;
  readonly replies: readonly string[];
  readonly chart: (ChartFacts & { readonly first: number }) | null;
  readonly drawing: Drawing | undefined;
  /** Of a picture shot the frame itself, as an address of data. */
  readonly picture: string | undefined;
}

/** Everything that stands on a return sheet. */
export interface Sheet {
  readonly title: string;
  readonly student: string;
  readonly about: string;
  readonly words: string | null;
  readonly asked: string | null;
  readonly marks: readonly SheetMark[];
  readonly from: string;
}

/**
 * The marks that go to a student with a revision, in the order of frames: its own, and earlier ones that are not done with.
 */
export const marksOnSheet = (shot: Shot, revision: Revision): Mark[] =>
  shot.marks
    .filter(
      (mark) =>
        mark.revision === revision.id ||
        ((mark.state === 'open' || mark.state === 'answered') && isEarlier(shot, mark, revision)),
    )
    .toSorted((a, b) => a.from - b.from || a.to - b.to);

const isEarlier = (shot: Shot, mark: Mark, revision: Revision): boolean =>
  (shot.revisions.find(({ id }) => id === mark.revision)?.number ?? 0) < revision.number;

interface Seen {
  readonly drawing?: Drawing | undefined;
  readonly picture?: string | undefined;
}

/**
 * A return sheet.
 * @param seen what a mark's frame looks like
 * @param when how a moment is written
 */
export function sheetOf(
  shot: Shot,
  revision: Revision,
  seen: (mark: Mark) => Seen,
  when: (iso: string) => string,
): Sheet {
  const { asked, askedBy, answeredAt, stage, number, state } = revision;
  return {
    title: shot.brief.title,
    student: shot.student.name,
    about: [`Revision ${number}`, stage, state, answeredAt && when(answeredAt)].filter(Boolean).join(', '),
    words: revision.words,
    asked: asked ? `${asked}${askedBy ? ` (by ${when(askedBy)})` : ''}` : null,
    from: shot.cohort.name,
    marks: marksOnSheet(shot, revision).map((mark): SheetMark => {
      const { payload, replies } = mark;
      const chart = chartOf(payload);
      const words = payload && (payload.measured !== null || payload.quote) ? sayMark(payload, mark) : undefined;
      return {
        id: mark.id,
        frames: framesText(mark),
        kind: mark.kind,
        about: [mark.point, mark.weight, mark.stage].filter(Boolean).join(', '),
        words: mark.words,
        state: mark.state,
        now: words ? capital(words.now) : '',
        wanted: words ? capital(words.wanted) : '',
        replies: replies.map(({ author, words: said }) => `${author.name}: ${said}`),
        chart: chart ? { ...chart, first: mark.from } : null,
        drawing: undefined,
        picture: undefined,
        ...seen(mark),
      };
    }),
  };
}
