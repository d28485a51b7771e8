import { facePath } from '../measure/head/head-moves.ts';
import { headFacing } from '../measure/head/head-signal.ts';
import { ARC_RISE, measureRise, riseReading } from '../measure/spacing/paths.ts';
import { axisAngle, rotate, vec3At } from '../motion/quaternion.ts';
import { worldPose } from '../motion/pose.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { add, cross, dot, length, normalise, reject, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { LoosePose } from '../posing/loose-pose.ts';
import { pullJoint } from '../posing/pull.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { spansOf } from './proposals.ts';
import { type Remedy, RemedyError } from './remedy.ts';
import type { Range, Subject } from './subject.ts';

/** A head that turns by more than this, degrees, and goes less far than this share of a leg, is followed by its face. */
const TURNS = 8;
const GOES = 0.15;

/** So many rounds bring a bent way to its rise: where it is highest moves as it is bent. */
const ROUNDS = 4;

/**
 * Bends the way of a point between two frames to a rise over its chord.
 *
 * @example arc:joint=hand.R,from=1,to=13,rise=20 // at its highest the way lies a fifth of the chord over it
 */
export const ARC: Remedy = {
  id: 'arc',
  name: 'Arc',
  does: 'the way of a point is bent to a rise over its chord, or flattened',
  needs: 'a point that goes from one place to another in three frames or more',
  works: 'poses',
  parameters: {
    joint: { is: 'joint', say: 'the point' },
    from: { is: 'frame', say: 'first frame of its way' },
    to: { is: 'frame', say: 'last frame of its way' },
    rise: { is: 'number', unit: '% of the chord', range: [-100, 100], say: 'over 0 up, or to the left as it is seen' },
  },
  marks: ['arc'],
  mends: {
    'arc.rise': (asked) => {
      const { target, finding } = asked;
      const joint = finding.reading.part;
      if (target === undefined || joint === undefined) return [];
      return [
        { steps: spansOf(asked).map((span) => ({ remedy: 'arc', parameters: { joint, ...span, rise: target } })) },
      ];
    },
  },
  strength(given, subject) {
    const name = given.text('joint');
    if (name === undefined || !given.has('rise')) return undefined;
    const joint = subject.joint(name);
    const range = subject.stretch(given, 2, 'arc');
    const shot = edited(subject, new MotionEditor(subject.motion));
    return { parameter: 'rise', none: riseOf(shot, joint, name, range, facesAbout(subject, joint, range)) };
  },
  make(subject, given) {
    const name = given.text('joint');
    const rise = given.number('rise');
    if (name === undefined) throw new RemedyError('arc needs a joint');
    const joint = subject.joint(name);
    const range = subject.stretch(given, 2, 'arc');
    if (range.to >= subject.samples) throw new RemedyError('arc: the range goes over the end of the loop');
    const editor = new MotionEditor(subject.motion);
    if (rise === undefined) return { motion: editor.motion };
    const face = facesAbout(subject, joint, range);
    const riseNow = (): number => riseOf(edited(subject, editor), joint, name, range, face);
    for (let round = 0; round < ROUNDS; round++) {
      const now = riseNow();
      if (Math.abs(rise - now) < 0.01) break;
      if (face) nod(subject, editor, joint, range, rise - now);
      else bend(subject, editor, joint, range, rise - now);
    }
    const came = riseNow();
    const feet = joint === subject.shot.roles.hips ? keepFeet(subject, editor) : [];
    const short = Math.abs(rise - came) > 1 ? [`the joint reaches a rise of ${came.toFixed(1)} %`] : [];
    return { motion: editor.motion, notes: [...feet, ...short] };
  },
};

/** The shot as the editor has it. */
const edited = ({ shot }: Subject, { motion }: MotionEditor): PreparedShot => ({
  ...shot,
  motion,
  world: worldPose(motion),
});

/** A head that turns and hardly goes anywhere: its arc is that of the face, as it is seen from where it mostly looks. */
function facesAbout({ shot, world, motion }: Subject, joint: number, { from, to }: Range): Vec3 | undefined {
  const facing = joint === shot.roles.head ? headFacing(shot) : undefined;
  if (!facing || Math.abs(facing.turn[to]! - facing.turn[from]!) < TURNS) return undefined;
  const n = motion.joints.length;
  const gone = subtract(vec3At(world.positions, to * n + joint), vec3At(world.positions, from * n + joint));
  return length(gone) < GOES * shot.scale.legLength ? facing.forward : undefined;
}

function riseOf(shot: PreparedShot, joint: number, part: string, range: Range, face?: Vec3): number {
  const measured = face ? riseReading(shot, facePath(shot, face), part, range) : measureRise(shot, joint, part, range);
  const [reading] = ARC_RISE.among(measured.readings);
  if (!reading) throw new RemedyError('arc: the point ends where it starts, so it has no chord');
  return reading.value;
}

/** Nods a head that turns, most in the middle of its turn, so that its face dips or rises by so many percent of its way. */
function nod(subject: Subject, editor: MotionEditor, joint: number, { from, to }: Range, percent: number): void {
  const { up, forward } = subject.shot.axes;
  const ahead = (f: number): Vec3 => normalise(rotate(editor.turn(f, joint), forward));
  const [first, last] = [ahead(from), ahead(to)];
  const chord = length(subtract(last, first));
  for (let f = from + 1; f < to; f++) {
    const facing = ahead(f);
    const way = dot(subtract(facing, first), subtract(last, first)) / (chord * chord);
    const u = Math.min(1, Math.max(0, way));
    const degrees = ((percent / 100) * chord * 16 * u * u * (1 - u) * (1 - u) * 180) / Math.PI;
    const aside = cross(facing, up);
    if (length(aside) > 1e-6) editor.turnBy(f, joint, axisAngle(normalise(aside), degrees));
  }
}

/** Bends the way by so many percent of its chord, most in its middle and nothing at its ends. */
function bend(subject: Subject, editor: MotionEditor, joint: number, { from, to }: Range, percent: number): void {
  const places = Array.from({ length: to - from + 1 }, (_, k) => editor.place(from + k, joint));
  const chord = subtract(places.at(-1)!, places[0]!);
  const size = length(chord);
  const { up } = subject.shot.axes;
  const across = reject(up, normalise(chord));
  // A way that goes straight up rises to its left.
  const way: Vec3 = length(across) > 0.2 ? normalise(across) : normalise(cross(up, subject.shot.axes.forward));
  for (let k = 1; k < places.length - 1; k++) {
    const u = Math.min(1, Math.max(0, dot(subtract(places[k]!, places[0]!), chord) / (size * size)));
    const target = add(places[k]!, scale(way, (percent / 100) * size * 16 * u * u * (1 - u) * (1 - u)));
    const f = from + k;
    try {
      editor.put(f, pullJoint(subject.shot, f, LoosePose.at(editor.motion, f), joint, target));
    } catch (error) {
      if (error instanceof RangeError) throw new RemedyError(`arc: ${error.message}`);
      throw error;
    }
  }
}
