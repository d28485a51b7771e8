import { jointIndex, translationAt } from '../../motion/motion.ts';
import { angleAt } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { ancestors } from '../../motion/roles.ts';
import { length, reject, subtract } from '../../motion/vector.ts';
import { partName } from '../../say/part-names.ts';
import { degrees as inDegrees, ofHeight, ofLeg } from '../../say/words.ts';
import { describeReading, holding } from '../describe.ts';
import { made, type Measured, type Reading, refuse, roundTo4, together } from '../reading.ts';

const STRAY = describeReading({
  id: 'stray.motion',
  holds: holding<number, { degrees?: number; units?: number; legless?: true }>(),
  name: 'stray motion',
  unit: '%L',
  needs: 'a master, a camera, or a joint the brief says is still',
  kinds: ['overlap', 'any'],
  mark: 'note',
  say: ({ value, unit, part, detail }) => {
    const turns = unit === '°';
    if (value === 0) return `${partName(part)} ${turns ? 'does not turn' : 'stays where it is'}`;
    return `${partName(part)} should be still and ${turns ? `turns by ${inDegrees(value)}` : `moves by ${detail.legless ? ofHeight(value) : ofLeg(value)}`}`;
  },
});

export const STRAYS = [STRAY] as const;

/**
 * `stray.motion`: how far a joint moves that should not: the rig's master, a camera, or one the brief says is still. Two readings a joint:
 * its largest displacement in %L, and its largest turn in degrees, both against the first frame and against its parent.
 */
export function measureStrayMotion(shot: PreparedShot): Measured {
  const named = (['master', 'camera'] as const).flatMap((role) =>
    shot.roles[role] === undefined ? [] : [{ joint: shot.roles[role], part: role }],
  );
  const still = shot.still.map((name) => ({ joint: jointIndex(shot.motion, name), part: name }));
  const missing = still.filter(({ joint }) => joint < 0);
  const known = [...named, ...still.filter(({ joint }) => joint >= 0 && !named.some((other) => other.joint === joint))];
  if (known.length + missing.length === 0)
    return refuse(STRAYS, 'no joint is known as master or camera, and the brief names none that is still');
  const carrier = known.find(({ part, joint }) => part === 'master' && carriesBody(shot, joint));
  if (carrier) known.splice(known.indexOf(carrier), 1);
  const carried = carrier ? [refuse(STRAYS, 'it is what carries the body over the ground', 'master')] : [];
  return together(
    ...carried,
    made(...known.flatMap(({ joint, part }) => readings(shot, joint, part))),
    ...missing.map(({ part }) => refuse(STRAYS, `there is no joint called “${part}”`, part)),
  );
}

/** A body is carried by what goes at least so many times as far as the hips go on it, and at least so far, leg lengths. */
const CARRIES = 3;
const FAR = 0.15;

/** A joint above the hips that goes far over the ground while the hips only bob on it is no control left over: the body's way is in it. */
function carriesBody({ motion, roles, scale, axes }: PreparedShot, master: number): boolean {
  const { hips } = roles;
  if (hips === undefined || !ancestors(motion.joints, hips).includes(master)) return false;
  const goes = (joint: number, level: boolean): number => {
    const first = translationAt(motion, 0, joint);
    let farthest = 0;
    for (let f = 1; f < motion.frames; f++) {
      const step = subtract(translationAt(motion, f, joint), first);
      farthest = Math.max(farthest, length(level ? reject(step, axes.up) : step));
    }
    return farthest;
  };
  const [own, on] = [goes(master, false), goes(hips, true)];
  // Hips without any way of their own are carried by whatever moves.
  if (own > 0 && goes(hips, false) < 1e-9) return true;
  return own > FAR * scale.legLength && own > CARRIES * on;
}

function readings(shot: PreparedShot, joint: number, part: string): Reading[] {
  const { motion, scale } = shot;
  const n = motion.joints.length;
  const first = translationAt(motion, 0, joint);
  let moved = { size: 0, frame: 0 };
  let turned = { size: 0, frame: 0 };
  for (let f = 1; f < motion.frames; f++) {
    const place = translationAt(motion, f, joint);
    const distance = Math.hypot(place[0] - first[0], place[1] - first[1], place[2] - first[2]);
    const angle = angleAt(motion.rotations, 4 * joint, motion.rotations, 4 * (f * n + joint));
    if (distance > moved.size) moved = { size: distance, frame: f };
    if (angle > turned.size) turned = { size: angle, frame: f };
  }
  const value = roundTo4((100 * moved.size) / scale.legLength);
  const degrees = roundTo4(turned.size);
  const at = (size: number, frame: number) => (size > 0 ? { frames: [labelOf(shot, frame)] } : {});
  return [
    STRAY.of(value, {
      part,
      ...at(value, moved.frame),
      detail: { degrees, units: roundTo4(moved.size), ...(!scale.fromLegs && { legless: true }) },
    }),
    STRAY.of(degrees, { part, unit: '°', ...at(degrees, turned.frame), detail: {} }),
  ];
}
