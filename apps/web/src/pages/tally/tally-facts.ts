import type { Tally, TallyEntry } from '@ypsigraph/contract/folios';

/** One fault in one exercise. */
export interface TallyCell {
  readonly outside: number;
  readonly near: number;
  /** Shots that were measured. */
  readonly of: number;
  readonly entry: TallyEntry | undefined;
}

/** One fault over the term, exercise by exercise. */
export interface TallyRow {
  readonly reading: string;
  /** Students whose newest revision of anything shows it. */
  readonly students: number;
  readonly outside: number;
  readonly mended: number;
  readonly marks: number;
  readonly cells: readonly TallyCell[];
}

/** The faults a cohort shares: those that most students have first; within that those outside on the most shots. */
export function tallyRows({ entries, assignments }: Pick<Tally, 'entries' | 'assignments'>): TallyRow[] {
  const byReading = new Map<string, TallyEntry[]>();
  for (const entry of entries) byReading.set(entry.reading, [...(byReading.get(entry.reading) ?? []), entry]);
  return [...byReading]
    .map(([reading, own]): TallyRow => {
      const shown = own.flatMap(({ shots }) => shots).filter(({ judgement }) => judgement === 'outside');
      return {
        reading,
        students: new Set(shown.map(({ student }) => student.id)).size,
        outside: shown.length,
        mended: own.reduce((sum, { mended }) => sum + mended, 0),
        marks: own.reduce((sum, { marks }) => sum + marks, 0),
        cells: assignments.map(({ id, measured }) => {
          const entry = own.find(({ assignment }) => assignment === id);
          const count = (judgement: 'near' | 'outside'): number =>
            entry?.shots.filter((shot) => shot.judgement === judgement).length ?? 0;
          return { outside: count('outside'), near: count('near'), of: measured, entry };
        }),
      };
    })
    .filter(({ outside, mended, cells }) => outside > 0 || mended > 0 || cells.some(({ near }) => near > 0))
    .toSorted(
      (a, b) =>
        b.students - a.students || b.outside - a.outside || b.mended - a.mended || a.reading.localeCompare(b.reading),
    );
}

/** “5 of 9 outside, 1 near”. */
export function cellText({ outside, near, of, entry }: TallyCell): string {
  if (of === 0) return 'nothing measured';
  return [
    `${outside} of ${of} outside`,
    near > 0 && `${near} near`,
    entry && entry.mended > 0 && `${entry.mended} fixed`,
  ]
    .filter(Boolean)
    .join(', ');
}
