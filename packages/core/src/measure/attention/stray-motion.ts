import { jointIndex, translationAt } from '../../motion/motion.ts';
import { angleAt } from '../../motion/pose-distance.ts';
import { labelOf, type PreparedShot } from '../../motion/prepared-shot.ts';
import { ancestors } from '../../motion/roles.ts';
import { made, type Measured, type Reading, tidy, together, unmade } from '../reading.ts';

/**
 * `stray.motion`: how far a joint moves that should not: the rig's master, a camera, or one the brief says is still. Two readings a joint:
 * its largest displacement in %L, and its largest turn in degrees, both against the first frame and against its parent.
 */
export function measureStrayMotion(shot: PreparedShot): Measured {
  const named = (['master', 'camera'] as const).flatMap((role) =>
    shot.roles[role] === undefined ? [] : [{ joint: shot.roles[role], part: role as string }],
  );
  const still = shot.still.map((name) => ({ joint: jointIndex(shot.motion, name), part: name }));
  const missing = still.filter(({ joint }) => joint < 0);
  const known = [...named, ...still.filter(({ joint }) => joint >= 0 && !named.some((other) => other.joint === joint))];
  if (known.length + missing.length === 0)
    return unmade('stray.motion', 'no joint is known as master or camera, and the brief names none that is still');
  const carrier = known.find(({ part, joint }) => part === 'master' && carriesBody(shot, joint));
  if (carrier) known.splice(known.indexOf(carrier), 1);
  const carried = carrier
    ? [unmade('stray.motion', 'the hips stay where they are on it: it is what carries the body', 'master')]
    : [];
  return together(
    ...carried,
    made(...known.flatMap(({ joint, part }) => readings(shot, joint, part))),
    ...missing.map(({ part }) => unmade('stray.motion', `there is no joint called “${part}”`, part)),
  );
}

/** A joint above the hips that moves while the hips do not move against it is no control left over: the body's way is in it. */
function carriesBody({ motion, roles }: PreparedShot, master: number): boolean {
  const { hips } = roles;
  if (hips === undefined || !ancestors(motion.joints, hips).includes(master)) return false;
  const moves = (joint: number): boolean => {
    const first = translationAt(motion, 0, joint);
    for (let f = 1; f < motion.frames; f++)
      if (translationAt(motion, f, joint).some((v, k) => Math.abs(v - first[k]!) > 1e-9)) return true;
    return false;
  };
  return moves(master) && !moves(hips);
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
  const value = tidy((100 * moved.size) / scale.legLength);
  const degrees = tidy(turned.size);
  const at = (size: number, frame: number) => (size > 0 ? { frames: [labelOf(shot, frame)] } : {});
  return [
    {
      id: 'stray.motion',
      part,
      value,
      unit: '%L',
      ...at(value, moved.frame),
      detail: { degrees, units: tidy(moved.size) },
    },
    { id: 'stray.motion', part, value: degrees, unit: '°', ...at(degrees, turned.frame) },
  ];
}
