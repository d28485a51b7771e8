export type Side = 'L' | 'R';

/** A joint's name taken apart: its side, and what is left in lower case without separators, digits and decoration. */
export interface NameParts {
  readonly side?: Side;
  readonly word: string;
}

/** Words that say what kind of thing a node is, not which part of the body. */
const DECORATION = new Set([
  'jnt',
  'joint',
  'bone',
  'bn',
  'ctrl',
  'control',
  'def',
  'bind',
  'skin',
  'sk',
  'fk',
  'rig',
  'drv',
]);

/** Words that say a joint is on the centre line. */
const CENTRE = new Set(['c', 'm', 'cn', 'md', 'mid', 'middle', 'center', 'centre']);

/** A word at the same end of more than this share of the names says nothing about any of them. */
const SHARED = 0.5;

/**
 * Takes joint names apart in the usual spellings: any case and separator, camel case, words that most names begin or end with, a
 * namespace before a colon, the side as `l`, `left`, `L_`, `.L`, `_l`, or glued to the front (`lThigh`, `LeftArm`), the centre line as
 * `c_`, `_M`, `mid`.
 *
 * @example nameParts(['rig:L_Thigh_jnt'])[0] // { side: 'L', word: 'thigh' }
 */
export function nameParts(names: readonly string[]): NameParts[] {
  const words = withoutShared(
    names.map((name) => split(name.slice(Math.max(name.lastIndexOf(':'), name.lastIndexOf('|')) + 1))),
  );
  return words.map((list) => {
    let side: Side | undefined;
    const rest: string[] = [];
    for (const word of list) {
      const asSide = sideOf(word);
      if (asSide !== undefined && side === undefined) side = asSide;
      else if (!DECORATION.has(word)) rest.push(word);
    }
    // A single letter may be all there is of a name.
    const own = rest.filter((word) => !CENTRE.has(word));
    let word = (own.length > 0 ? own : rest).join('');
    if (side === undefined) {
      // All in one case (“leftarm”, “RIGHTFOOT”): only whole words of side count, so that “leg” is not left.
      const glued = /^(left|right)(.+)$/.exec(word) ?? /^(.+?)(left|right)$/.exec(word);
      if (glued) {
        const first = sideOf(glued[1]!) !== undefined;
        side = sideOf(first ? glued[1]! : glued[2]!);
        word = first ? glued[2]! : glued[1]!;
      }
    }
    return side === undefined ? { word } : { side, word };
  });
}

/** Names without the words that most of them begin or end with. */
function withoutShared(words: readonly (readonly string[])[]): (readonly string[])[] {
  let left = [...words];
  for (const end of [0, -1]) {
    for (;;) {
      const counts = new Map<string, number>();
      for (const list of left) if (list.length > 1) counts.set(list.at(end)!, (counts.get(list.at(end)!) ?? 0) + 1);
      const shared = [...counts].find(
        ([word, count]) => count > SHARED * left.length && count > 2 && sideOf(word) === undefined,
      );
      if (!shared) break;
      left = left.map((list) =>
        list.length > 1 && list.at(end) === shared[0] ? (end === 0 ? list.slice(1) : list.slice(0, -1)) : list,
      );
    }
  }
  return left;
}

const sideOf = (word: string): Side | undefined =>
  word === 'l' || word === 'left' || word === 'lft' || word === 'lf'
    ? 'L'
    : word === 'r' || word === 'right' || word === 'rgt' || word === 'rt'
      ? 'R'
      : undefined;

/** Splits at separators, digits and changes of case, and lowers the case. */
function split(name: string): string[] {
  return name
    .replace(/([\p{Ll}])([\p{Lu}])/gu, '$1 $2')
    .replace(/([\p{Lu}])([\p{Lu}][\p{Ll}])/gu, '$1 $2')
    .split(/[^\p{L}]+/u)
    .filter((word) => word !== '')
    .map((word) => word.toLowerCase());
}
