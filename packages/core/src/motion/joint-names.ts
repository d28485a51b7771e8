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

/**
 * Takes joint names apart in the usual spellings: any case and separator, camel case, a prefix shared by all, a namespace before a
 * colon, the side as `l`, `left`, `L_`, `.L`, `_l`, or glued to the front (`lThigh`, `LeftArm`).
 *
 * @example nameParts(['rig:L_Thigh_jnt'])[0] // { side: 'L', word: 'thigh' }
 */
export function nameParts(names: readonly string[]): NameParts[] {
  const words = names.map((name) => split(name.slice(name.lastIndexOf(':') + 1)));
  const shared = words.length > 2 && words.every((list) => list.length > 1 && list[0] === words[0]![0]) ? 1 : 0;
  return words.map((list) => {
    let side: Side | undefined;
    const rest: string[] = [];
    for (const word of list.slice(shared)) {
      const asSide = sideOf(word);
      if (asSide !== undefined && side === undefined) side = asSide;
      else if (!DECORATION.has(word)) rest.push(word);
    }
    let word = rest.join('');
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
