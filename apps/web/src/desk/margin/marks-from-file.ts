import { type Mark, Weight } from '@ypsigraph/contract/marks';
import { MarkKind } from '@ypsigraph/contract/vocabulary';
import { type ReadMark, readWebAnnotations } from '@ypsigraph/core/formats/marks/web-annotations';
import type { FrameSource } from '../frames/frame-source.ts';
import { type Draft, newDraft } from './draft.ts';

/** Marks of a file, as drafts of this shot; what could not become one, in words. */
export interface BroughtIn {
  readonly drafts: readonly Draft[];
  readonly leftOut: readonly string[];
}

/** Words of one mark at most. */
const MOST_WORDS = 4000;

const isOneOf = <T extends string>(list: readonly T[], word: string): word is T =>
  (list as readonly string[]).includes(word);

/**
 * The marks of a file of web annotations, of another installation or of any program, as drafts on a shot: on the same frames, with the same words;
 * measured anew when they are made. One that is there already is not made twice.
 *
 * @throws FormatError where the file can't be read
 */
export function marksFromFile(text: string, source: FrameSource, there: readonly Mark[], me: string): BroughtIn {
  const { first, frames, fps, pointNames } = source;
  const last = first + frames - 1;
  const leftOut: string[] = [];
  const drafts = readWebAnnotations(text, { fps, first }).flatMap((read): Draft[] => {
    const { from, to, kind, weight, point } = read;
    const words = wordsOf(read, me);
    const name = `“${(read.words || read.kind).slice(0, 40)}”, ${from} to ${to}`;
    if (from > last || to < first) return (leftOut.push(`${name}: the shot has no such frames`), []);
    if (words === '') return (leftOut.push(`${name}: it says nothing`), []);
    const own = {
      ...newDraft(
        isOneOf(MarkKind.options, kind) ? kind : 'note',
        Math.max(first, from),
        Math.min(last, to),
        point !== null && pointNames.includes(point) ? point : null,
      ),
      ...(isOneOf(Weight.options, weight) && { weight }),
      // It lies where it was put.
      typed: true,
      words,
    };
    const isThere = there.some(
      (mark) =>
        mark.kind === own.kind && mark.from === own.from && mark.to === own.to && mark.words.startsWith(read.words),
    );
    return isThere ? (leftOut.push(`${name}: it is here already`), []) : [own];
  });
  return { drafts, leftOut };
}

/** What a mark says, with what was measured where it comes from, and who said it. */
function wordsOf({ words, described, author }: ReadMark, me: string): string {
  if (words.trim() === '' && described.length === 0) return '';
  const by = author === '' || author === me ? [] : [`(${author})`];
  return [words.trim(), ...described, ...by]
    .filter((line) => line !== '')
    .join('\n')
    .slice(0, MOST_WORDS);
}
