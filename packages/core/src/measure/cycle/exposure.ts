import { angleAt } from '../../motion/pose-distance.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { made, type Measured, tidy, unmade } from '../reading.ts';

/** A pose is held exactly while no joint turns by more than this (degrees; files keep four to six decimals) … */
const HELD_DEGREES = 2e-3;
/** … and no joint moves by more than this, in leg lengths. */
const HELD_LENGTHS = 2e-5;

/**
 * `exposure.pattern`: how long poses are held exactly: `ones`, `twos`, `threes`, `stepped` (longer than three) or `mixed`, each
 * where at least four fifths of the frames are exposed so. Detail: the share of frames on each, and every exposure's length.
 */
export function measureExposure(shot: PreparedShot): Measured {
  const { motion } = shot;
  const frames = shot.loop === 'repeat' ? motion.frames - 1 : motion.frames;
  if (frames < 4) return unmade('exposure.pattern', `it needs 4 frames or more, the shot has ${frames}`);
  const lengths: number[] = [1];
  let moves = false;
  for (let f = 1; f < frames; f++) {
    if (isHeld(shot, f)) lengths[lengths.length - 1]!++;
    else {
      lengths.push(1);
      moves = true;
    }
  }
  if (!moves) return unmade('exposure.pattern', 'nothing moves: the whole shot is one pose');
  const share = { ones: 0, twos: 0, threes: 0, stepped: 0 };
  for (const length of lengths) {
    const name = length === 1 ? 'ones' : length === 2 ? 'twos' : length === 3 ? 'threes' : 'stepped';
    share[name] += length / frames;
  }
  const main = (Object.keys(share) as (keyof typeof share)[]).find((name) => share[name] >= 0.8);
  return made({
    id: 'exposure.pattern',
    value: main ?? 'mixed',
    unit: '–',
    detail: { ...Object.fromEntries(Object.entries(share).map(([name, s]) => [name, tidy(s)])), lengths },
  });
}

function isHeld({ motion, scale }: PreparedShot, f: number): boolean {
  const n = motion.joints.length;
  for (let j = 0; j < n; j++) {
    if (angleAt(motion.rotations, 4 * ((f - 1) * n + j), motion.rotations, 4 * (f * n + j)) > HELD_DEGREES)
      return false;
  }
  const width = 3 * motion.moving.length;
  for (let k = 0; k < width; k++) {
    const step = Math.abs(motion.translations[f * width + k]! - motion.translations[(f - 1) * width + k]!);
    if (step > HELD_LENGTHS * scale.legLength) return false;
  }
  return true;
}
