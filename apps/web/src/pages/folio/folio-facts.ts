import { STAGES } from '@ypsigraph/core/trade/stages';
import type { Folio, FolioRevision } from '@ypsigraph/contract/folios';

/** A fault over a student's revisions, in the order they were handed in. */
export interface ReturningFault {
  readonly reading: string;
  readonly times: number;
  readonly trail: readonly { readonly exercise: string; readonly revision: FolioRevision; readonly shown: boolean }[];
}

type Exercises = Folio['exercises'];

const outsideIn = ({ faults }: FolioRevision): Set<string> =>
  new Set(faults.filter(({ judgement }) => judgement === 'outside').map(({ reading }) => reading));

/** Revisions that were measured, in the order they were handed in. */
const measured = (exercises: Exercises) =>
  exercises
    .flatMap(({ brief, revisions }) => revisions.map((revision) => ({ exercise: brief.title, revision })))
    .filter(({ revision }) => revision.verdicts !== null)
    .toSorted((a, b) => a.revision.at.localeCompare(b.revision.at));

/**
 * Faults that were gone and came back: outside on a revision, not on a later one, and outside again after that, on the same exercise or another. The most
 * frequent first. What a stage does not look at yet does not count as gone.
 */
export function returningFaults(exercises: Exercises): ReturningFault[] {
  const all = measured(exercises).map((own) => ({ ...own, outside: outsideIn(own.revision) }));
  const readings = new Set(all.flatMap(({ outside }) => [...outside]));
  return [...readings]
    .flatMap((reading) => {
      const trail = all.map(({ exercise, revision, outside }) => ({ exercise, revision, shown: outside.has(reading) }));
      const first = trail.findIndex(({ shown }) => shown);
      const gone = trail.findIndex(
        ({ shown, revision }, k) => k > first && !shown && isAsFarAs(revision, trail[first]!.revision),
      );
      const back = gone >= 0 && trail.some(({ shown }, k) => k > gone && shown);
      return back ? [{ reading, times: trail.filter(({ shown }) => shown).length, trail: trail.slice(first) }] : [];
    })
    .toSorted((a, b) => b.times - a.times || a.reading.localeCompare(b.reading));
}

const isAsFarAs = (a: FolioRevision, b: FolioRevision): boolean => STAGES.indexOf(a.stage) >= STAGES.indexOf(b.stage);

/** How long each revision waited for its answer, hours; those that still wait are left out. */
export const answerTimes = (
  exercises: Exercises,
): { readonly at: Date; readonly hours: number; readonly of: string }[] =>
  exercises
    .flatMap(({ brief, revisions }) =>
      revisions.flatMap(({ at, judged, number }) =>
        judged
          ? [
              {
                at: new Date(at),
                hours: (new Date(judged).getTime() - new Date(at).getTime()) / 3_600_000,
                of: `${brief.title}, R${number}`,
              },
            ]
          : [],
      ),
    )
    .toSorted((a, b) => a.at.getTime() - b.at.getTime());

/** What a course comes to in numbers. */
export interface FolioTotals {
  readonly revisions: number;
  readonly signedOff: number;
  readonly raised: number;
  readonly cleared: number;
  readonly waived: number;
  readonly late: number;
}

export function folioTotals(exercises: Exercises): FolioTotals {
  const all = exercises.flatMap(({ revisions }) => revisions);
  const sum = (of: (revision: FolioRevision) => number): number => all.reduce((total, own) => total + of(own), 0);
  return {
    revisions: all.length,
    signedOff: all.filter(({ state }) => state === 'signed off').length,
    raised: sum(({ marks }) => marks.open + marks.answered + marks.cleared + marks.waived),
    cleared: sum(({ marks }) => marks.cleared),
    waived: sum(({ marks }) => marks.waived),
    late: exercises.filter(({ revisions }) => revisions[0]?.late).length,
  };
}

/** “3 hours”, “2 days”. */
export function spanText(hours: number): string {
  const days = Math.round(hours / 24);
  if (hours < 36) return `${Math.max(1, Math.round(hours))} ${Math.round(hours) <= 1 ? 'hour' : 'hours'}`;
  return `${days} days`;
}
