import type { Joint, Motion } from '../../motion/motion.ts';
import type { Vec3 } from '../../motion/vector.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import type { ReadMotion } from '../format.ts';
import { frameRate } from './frame-rate.ts';
import { type DeclaredJoint, readHierarchy } from './hierarchy.ts';
import { TextScanner } from './text-scanner.ts';

/**
 * Reads a BVH (Biovision hierarchy) file.
 *
 * Channels come in any order and number a joint; rotations are applied in the order given, the first outermost. Keywords in any
 * case, any white space and line ends. Rows beyond or short of what `Frames:` declares are used as they are, with a warning. Where
 * a joint has position channels and an offset, files disagree whether the channels include it: the reading under which the joint
 * stays nearer its offset is taken.
 *
 * @param bytes the file, at most 64 MB
 * @returns local rotations and translations in the file's own units and axes
 * @throws FormatError with the line and what was expected there
 */
export function readBvh(bytes: Uint8Array): ReadMotion {
  if (bytes.length > LIMITS.bytes) {
    throw new FormatError(`the file has ${(bytes.length / 1048576).toFixed(0)} MB; at most 64 MB can be read`);
  }
  if (bytes.length === 0) throw new FormatError('the file is empty');
  const warnings: string[] = [];
  const scanner = new TextScanner(bytes);
  const declared = readHierarchy(scanner, warnings);
  const { frames, fps } = readHeader(scanner);
  const width = declared.reduce((sum, joint) => sum + joint.channels.length, 0);
  if (width === 0) throw new FormatError('no joint has a channel: the file holds no motion', scanner.line);
  const most = Math.min(LIMITS.frames, Math.floor(LIMITS.poses / declared.length));
  const rows = readRows(scanner, { width, declaredFrames: frames, most }, warnings);
  return { motion: toMotion(declared, rows, width, fps, warnings), warnings };
}

function readHeader(scanner: TextScanner): { frames: number; fps: number } {
  keyword(scanner, 'Frames', /^frames$/i);
  const frames = scanner.number('the number of frames');
  if (!Number.isInteger(frames) || frames < 0) {
    throw new FormatError(`expected a whole number of frames, found ${frames}`, scanner.line);
  }
  keyword(scanner, 'Frame Time', /^frametime$/i);
  scanner.skipSpace();
  const start = scanner.at;
  const time = scanner.number('the frame time in seconds');
  if (!(time > 0)) {
    throw new FormatError(`expected a frame time above 0 seconds, found ${time}`, scanner.line);
  }
  const fps = frameRate(scanner.text(start, scanner.at));
  if (!(fps >= LIMITS.slowest && fps <= LIMITS.fastest)) {
    const between = `from ${1 / LIMITS.fastest} to ${1 / LIMITS.slowest} seconds`;
    throw new FormatError(`expected a frame time ${between}, found ${time}`, scanner.line);
  }
  return { frames, fps };
}

/** Reads “Frames:” or “Frame Time:”, with or without blanks in it and before the colon. */
function keyword(scanner: TextScanner, name: string, pattern: RegExp): void {
  scanner.skipSpace();
  const { bytes } = scanner;
  const line = scanner.line;
  const start = scanner.at;
  while (scanner.at < bytes.length && isKeywordByte(bytes[scanner.at]!)) scanner.at++;
  const found = scanner.text(start, scanner.at);
  if (bytes[scanner.at] === 58) scanner.at++;
  if (!pattern.test(found.replace(/\s+/g, ''))) {
    const what = found.trim() === '' ? 'something else' : `“${found.trim().slice(0, 24)}”`;
    throw new FormatError(`expected “${name}:”, found ${scanner.ended ? 'the end of the file' : what}`, line);
  }
}

const isKeywordByte = (c: number): boolean => c === 32 || c === 9 || (c >= 65 && c <= 90) || (c >= 97 && c <= 122);

interface RowShape {
  /** Numbers a frame. */
  readonly width: number;
  readonly declaredFrames: number;
  /** As many frames as may be read of so many joints. */
  readonly most: number;
}

/** All rows of numbers, one line a row; a file whose every row is spread over several lines is read as well. */
function readRows(scanner: TextScanner, { width, declaredFrames, most }: RowShape, warnings: string[]): Float64Array {
  // The declared count is a hint for the first allocation only, bounded by what the rest of the file can hold.
  const room = Math.ceil((scanner.bytes.length - scanner.at) / (2 * width)) + 1;
  let values = new Float64Array(width * Math.max(1, Math.min(declaredFrames, room, most)));
  let filled = 0;
  let rowStart = 0;
  let rowLine = 0;
  let spread = false;
  for (;;) {
    scanner.skipSpace();
    if (scanner.ended) break;
    const lineStart = filled;
    const line = scanner.line;
    if (rowStart + width > values.length) values = grow(values, width, most);
    filled += scanner.numbersHere(values, filled, rowStart + width - filled);
    if (scanner.skipBlanks()) {
      const found = filled - rowStart + countRest(scanner);
      throw new FormatError(`expected ${width} numbers, found ${spread ? 'more' : found}`, line);
    }
    if (lineStart === rowStart) rowLine = line;
    const have = filled - rowStart;
    if (have === width) {
      rowStart = filled;
      if (filled / width > most) {
        const why = most < LIMITS.frames ? ' of so many joints' : '';
        throw new FormatError(`more than ${most.toLocaleString('en')} frames${why}`, line);
      }
      continue;
    }
    scanner.skipSpace();
    if (scanner.ended) {
      throw new FormatError(`expected ${width} numbers, found ${have}: the file ends within a frame`, rowLine);
    }
    // Only a file that spreads its very first row over lines may go on doing so; elsewhere a short line is a fault.
    if (rowStart === 0 && spreadFits(scanner, width - have)) spread = true;
    if (!spread) throw new FormatError(`expected ${width} numbers, found ${have}`, line);
  }
  const frames = filled / width;
  if (frames === 0) {
    throw new FormatError(`the file declares ${declaredFrames} frames and holds no row of numbers`, scanner.line);
  }
  if (spread) warnings.push('each frame is spread over several lines; read all the same');
  if (frames !== declaredFrames) {
    warnings.push(`the file declares ${declaredFrames} frames and holds ${frames}; the ${frames} are used`);
  }
  return filled === values.length ? values : values.slice(0, filled);
}

/** Whether the lines that follow complete a row of which `missing` numbers are wanting, without running over it. */
function spreadFits(scanner: TextScanner, missing: number): boolean {
  const { at, line } = scanner;
  let left = missing;
  while (left > 0 && !scanner.ended) {
    left -= countRest(scanner);
    scanner.skipSpace();
  }
  scanner.at = at;
  scanner.line = line;
  return left === 0;
}

/** How many words are left on this line; moves past them. */
function countRest(scanner: TextScanner): number {
  let count = 0;
  while (scanner.skipBlanks()) {
    count++;
    while (!scanner.ended && scanner.bytes[scanner.at]! > 32) scanner.at++;
  }
  return count;
}

function grow(values: Float64Array, width: number, most: number): Float64Array<ArrayBuffer> {
  const rows = Math.min(most + 1, Math.ceil((values.length / width) * 1.5) + 1);
  const larger = new Float64Array(rows * width);
  larger.set(values);
  return larger;
}

const HALF_RADIAN = Math.PI / 360;

function toMotion(
  declared: readonly DeclaredJoint[],
  rows: Float64Array,
  width: number,
  fps: number,
  warnings: string[],
): Motion {
  const count = declared.length;
  const frames = rows.length / width;
  const rotations = new Float64Array(4 * count * frames);
  const moving = declared.flatMap((joint, j) => (joint.channels.some((channel) => channel < 3) ? [j] : []));
  const translations = new Float64Array(3 * moving.length * frames);

  composeRotations(declared, rows, width, rotations);
  let start = 0;
  declared.forEach((joint, j) => {
    const slot = moving.indexOf(j);
    if (slot >= 0) fillTranslations(joint, start, rows, width, translations, moving.length, slot, warnings);
    start += joint.channels.length;
  });

  const joints: Joint[] = declared.map(({ name, parent, offset, ends }) => ({ name, parent, offset, ends }));
  return { joints, frames, fps, rotations, moving, translations };
}

/**
 * A joint's rotations, composed channel by channel: q becomes q · (axis, angle), written out for each axis. Frame by frame, in the order in
 * which both arrays lie.
 */
function composeRotations(
  declared: readonly DeclaredJoint[],
  rows: Float64Array,
  width: number,
  rotations: Float64Array,
): void {
  const count = declared.length;
  // Columns and axes of all joints' rotation channels one after the other, and where each joint's begin.
  const columns: number[] = [];
  const axes: number[] = [];
  const begins = [0];
  let column = 0;
  for (const { channels } of declared) {
    for (const channel of channels) {
      if (channel >= 3) {
        columns.push(column);
        axes.push(channel);
      }
      column++;
    }
    begins.push(columns.length);
  }
  const [at, about, begin] = [Int32Array.from(columns), Uint8Array.from(axes), Int32Array.from(begins)];
  const frames = rows.length / width;
  for (let f = 0, to = 0; f < frames; f++) {
    const row = f * width;
    for (let j = 0; j < count; j++, to += 4) {
      let x = 0;
      let y = 0;
      let z = 0;
      let w = 1;
      const end = begin[j + 1]!;
      for (let k = begin[j]!; k < end; k++) {
        const half = rows[row + at[k]!]! * HALF_RADIAN;
        const s = Math.sin(half);
        const c = Math.cos(half);
        const px = x;
        const py = y;
        const pz = z;
        const axis = about[k]!;
        if (axis === 3) {
          x = px * c + w * s;
          y = py * c + pz * s;
          z = pz * c - py * s;
          w = w * c - px * s;
        } else if (axis === 4) {
          x = px * c - pz * s;
          y = py * c + w * s;
          z = pz * c + px * s;
          w = w * c - py * s;
        } else {
          x = px * c + py * s;
          y = py * c - px * s;
          z = pz * c + w * s;
          w = w * c - pz * s;
        }
      }
      rotations[to] = x;
      rotations[to + 1] = y;
      rotations[to + 2] = z;
      rotations[to + 3] = w;
    }
  }
}

/** Position channels of one joint, with the offset added where the channels leave it out. */
function fillTranslations(
  joint: DeclaredJoint,
  start: number,
  rows: Float64Array,
  width: number,
  translations: Float64Array,
  stride: number,
  slot: number,
  warnings: string[],
): void {
  const frames = rows.length / width;
  const columns = [0, 1, 2].map((axis) => joint.channels.lastIndexOf(axis as 0));
  const included = offsetIncluded(joint.offset, columns, start, rows, width);
  const hasOffset = columns.some((column, axis) => column >= 0 && joint.offset[axis] !== 0);
  if (hasOffset && (joint.parent >= 0 || !included)) {
    const how = included ? 'taken as including' : 'added to';
    warnings.push(
      `line ${joint.line}: “${joint.name}” has an offset and position channels; the channels are ${how} the offset`,
    );
  }
  for (let axis = 0; axis < 3; axis++) {
    const column = columns[axis]!;
    const offset = joint.offset[axis]!;
    for (let f = 0; f < frames; f++) {
      const value = column < 0 ? offset : rows[f * width + start + column]! + (included ? 0 : offset);
      translations[3 * (f * stride + slot) + axis] = value;
    }
  }
}

/** Whether the channels lie nearer the offset than nearer zero, summed over all frames and the axes that have a channel. */
export function offsetIncluded(
  offset: Vec3,
  columns: readonly number[],
  start: number,
  rows: Float64Array,
  width: number,
): boolean {
  let toOffset = 0;
  let toZero = 0;
  for (let row = start; row < rows.length; row += width) {
    let a = 0;
    let b = 0;
    for (let axis = 0; axis < 3; axis++) {
      if (columns[axis]! < 0) continue;
      const value = rows[row + columns[axis]!]!;
      a += (value - offset[axis]!) ** 2;
      b += value * value;
    }
    toOffset += Math.sqrt(a);
    toZero += Math.sqrt(b);
  }
  return toOffset < toZero;
}
