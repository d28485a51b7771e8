import type { Vec3 } from '../../motion/vector.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import type { TextScanner } from './text-scanner.ts';

/** What one number of a motion row sets: 0 to 2 a position along x, y, z; 3 to 5 a rotation about x, y, z. */
export type Channel = 0 | 1 | 2 | 3 | 4 | 5;

/** A joint as the file declares it. */
export interface DeclaredJoint {
  name: string;
  parent: number;
  offset: Vec3;
  ends: Vec3[];
  /** In the order given: rotations are applied so, the first outermost. */
  channels: Channel[];
  line: number;
}

const CHANNELS: Record<string, Channel> = {
  xposition: 0,
  yposition: 1,
  zposition: 2,
  xrotation: 3,
  yrotation: 4,
  zrotation: 5,
};

/**
 * Reads the part of a BVH file up to the word MOTION.
 * @throws FormatError with the line and what was expected
 */
export function readHierarchy(scanner: TextScanner, warnings: string[]): DeclaredJoint[] {
  const first = scanner.word();
  if (first.toLowerCase() !== 'hierarchy') {
    throw new FormatError(`expected the word HIERARCHY, found ${quote(first)}: this is not a BVH file`, scanner.line);
  }
  const joints: DeclaredJoint[] = [];
  for (;;) {
    const word = scanner.word().toLowerCase();
    if (word === 'motion') break;
    if (word !== 'root') throw unexpected(scanner, word, joints.length > 0 ? 'ROOT or MOTION' : 'ROOT');
    readJoints(scanner, joints, warnings);
  }
  if (joints.length === 0) throw new FormatError('expected ROOT before MOTION: the file has no joints', scanner.line);
  return joints;
}

/** Reads one root and everything inside its braces; a list of open joints instead of recursion bounds the nesting. */
function readJoints(scanner: TextScanner, joints: DeclaredJoint[], warnings: string[]): void {
  const open: number[] = [];
  open.push(declare(scanner, joints, -1, warnings));
  while (open.length > 0) {
    const current = joints[open[open.length - 1]!]!;
    const word = scanner.word();
    switch (word.toLowerCase()) {
      case 'offset':
        current.offset = readOffset(scanner, current.name);
        break;
      case 'channels':
        readChannels(scanner, current);
        break;
      case 'joint':
        open.push(declare(scanner, joints, open[open.length - 1]!, warnings));
        break;
      case 'end':
        readEnd(scanner, current);
        break;
      case '}':
        open.pop();
        break;
      default:
        throw unexpected(scanner, word, `OFFSET, CHANNELS, JOINT, End Site or } of joint “${current.name}”`);
    }
  }
}

function declare(scanner: TextScanner, joints: DeclaredJoint[], parent: number, warnings: string[]): number {
  if (joints.length >= LIMITS.joints) {
    throw new FormatError(`more than ${LIMITS.joints.toLocaleString('en')} joints`, scanner.line);
  }
  const label = scanner.label();
  const line = scanner.line;
  const name = label || `joint ${joints.length + 1}`;
  if (!label) warnings.push(`line ${line}: a joint has no name; called “${name}”`);
  else if (joints.some((joint) => joint.name === name))
    warnings.push(`line ${line}: a second joint is called “${name}”`);
  const brace = scanner.word();
  if (brace !== '{') throw unexpected(scanner, brace, `{ after joint “${name}”`);
  joints.push({ name, parent, offset: [0, 0, 0], ends: [], channels: [], line });
  return joints.length - 1;
}

function readOffset(scanner: TextScanner, name: string): Vec3 {
  const what = `three numbers after OFFSET of “${name}”`;
  return [scanner.number(what), scanner.number(what), scanner.number(what)];
}

function readChannels(scanner: TextScanner, joint: DeclaredJoint): void {
  const count = scanner.number(`the number of channels of “${joint.name}”`);
  if (!Number.isInteger(count) || count < 0 || count > 64) {
    throw new FormatError(`expected a number of channels from 0 to 64, found ${count}`, scanner.line);
  }
  for (let k = 0; k < count; k++) {
    const word = scanner.peek();
    const channel = CHANNELS[word.toLowerCase()];
    if (channel === undefined) {
      throw unexpected(scanner, word, `channel ${k + 1} of ${count} of “${joint.name}” (such as Xrotation)`);
    }
    scanner.word();
    joint.channels.push(channel);
  }
}

function readEnd(scanner: TextScanner, joint: DeclaredJoint): void {
  // “Site”, and sometimes a name behind it: nothing depends on either.
  scanner.label();
  const brace = scanner.word();
  if (brace !== '{') throw unexpected(scanner, brace, `{ after End Site of “${joint.name}”`);
  for (;;) {
    const word = scanner.word();
    const lower = word.toLowerCase();
    if (lower === '}') return;
    if (lower === 'offset') {
      if (joint.ends.length >= LIMITS.ends)
        throw new FormatError(`more than ${LIMITS.ends} end sites of “${joint.name}”`, scanner.line);
      joint.ends.push(readOffset(scanner, `${joint.name}, End Site`));
    } else if (lower === 'channels') {
      const count = scanner.number('a number of channels');
      if (count !== 0) throw new FormatError('an End Site cannot have channels', scanner.line);
    } else throw unexpected(scanner, word, `OFFSET or } of the End Site of “${joint.name}”`);
  }
}

const quote = (word: string): string => (word === '' ? 'the end of the file' : `“${printable(word)}”`);

/** At most 24 characters, with what can't be printed left out: a renamed picture's bytes are no help to anyone. */
const printable = (word: string): string => {
  // eslint-disable-next-line no-control-regex
  const clean = word.replace(/[\u0000-\u001f\u007f-\u009f\ufffd]/g, '·');
  return clean.length > 24 ? `${clean.slice(0, 24)}…` : clean;
};

const unexpected = (scanner: TextScanner, word: string, expected: string): FormatError =>
  new FormatError(`expected ${expected}, found ${quote(word)}`, scanner.line);
