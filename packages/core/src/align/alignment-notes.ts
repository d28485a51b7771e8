import { partName } from '../say/part-names.ts';
import { list } from '../say/words.ts';

/** Which of two aligned shots. */
export type Which = 'first' | 'second';

/** Something that is different as a whole between two aligned shots. Labels are those of the shot that has the frames. */
export type AlignmentNote =
  | { readonly what: 'mirrored' }
  | { readonly what: 'only these changed'; readonly parts: readonly string[] }
  /** Frames of the first that the second was cut by. */
  | { readonly what: 'cut at the front' | 'cut at the end' | 'taken out'; readonly from: number; readonly to: number }
  /** Frames of the second that the first has not. */
  | { readonly what: 'put in front' | 'put behind' | 'put in'; readonly from: number; readonly to: number }
  /** Frames of one that hold a pose of the other, and the label it has there. */
  | { readonly what: 'held'; readonly by: Which; readonly from: number; readonly to: number; readonly pose: number };

/** What the two shots are called where a note is read. */
export type ShotNames = Readonly<Record<Which, string>>;
const NAMES: ShotNames = { first: 'the first', second: 'the second' };

const span = ({ from, to }: { readonly from: number; readonly to: number }): string => `frames ${from} to ${to}`;

/** A note in words: “frames 1 to 14 of R1 have no counterpart: R2 was cut at the front”. */
export function sayAlignmentNote(note: AlignmentNote, names: ShotNames = NAMES): string {
  const { first, second } = names;
  switch (note.what) {
    case 'mirrored':
      return `${second} is mirrored: left and right are swapped`;
    case 'only these changed':
      return `only ${inWords(note.parts)} changed`;
    case 'cut at the front':
    case 'cut at the end':
      return `${span(note)} of ${first} have no counterpart: ${second} was ${note.what}`;
    case 'taken out':
      return `${span(note)} of ${first} have no counterpart: they were taken out`;
    case 'put in front':
      return `${span(note)} of ${second} have no counterpart: it has frames in front`;
    case 'put behind':
      return `${span(note)} of ${second} have no counterpart: it has frames behind`;
    case 'put in':
      return `${span(note)} of ${second} have no counterpart: they were put in`;
    case 'held': {
      const other = note.by === 'first' ? second : first;
      return `${span(note)} of ${names[note.by]} hold frame ${note.pose} of ${other}`;
    }
  }
}

/** Parts in words, both arms and both legs as one. */
function inWords(parts: readonly string[]): string {
  const both = (limb: string): boolean => parts.includes(`${limb}.L`) && parts.includes(`${limb}.R`);
  const words = ['arm', 'leg'].filter(both).map((limb) => `the ${limb}s`);
  const rest = parts.filter((part) => !/^(arm|leg)\./.test(part) || !both(part.slice(0, 3)));
  return list([...words, ...rest.map(partName)]);
}
