import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { worldPose } from '@ypsigraph/core/motion/pose';
import { quatAt, slerp } from '@ypsigraph/core/motion/quaternion';
import { figureShape } from '../../lenses/stick.ts';
import { Fields, NumberField, STROKE } from './fields.tsx';
import type { MarkKindView } from './mark-kind-view.ts';
import { labelNow, valueAt } from './traced.ts';

export const BREAKDOWN_VIEW: MarkKindView<'breakdown'> = {
  about: 'the pose between two poses, and which it favours',
  sign: <path {...STROKE} d="M-5 4V-4M5 4V-4M2-2.5L2 2.5M-5 0H5" />,
  Fields({ payload: { measured, wanted }, want, draft, setDraft }) {
    return (
      <Fields>
        <NumberField
          label="breakdown at"
          value={measured.at}
          onChange={(inner) => setDraft({ ...draft, inner, moved: true })}
        />
        <NumberField
          label={`favour ${draft.from} by, %`}
          value={wanted.favour}
          onChange={(favour) => want({ favour })}
        />
      </Fields>
    );
  },
  /** The pose with the favour that is wanted, as a ghost: each joint as far from the second pose as the first is favoured. */
  draw(frame, mark, { measured, wanted }) {
    const { context, scene, source, sample, inks } = frame;
    if (!source.figure || source.first + sample !== measured.at) return;
    const [a, b] = [source.sampleAt(mark.from), source.sampleAt(mark.to)];
    const place = posedBetween(source.figure.shown, a, b, 1 - wanted.favour / 100);
    context.strokeStyle = inks.instructor;
    context.lineWidth = 2;
    context.setLineDash([7, 5]);
    const shape = figureShape(frame, (joint, out) =>
      scene.projectWorld(sample, place[3 * joint]!, place[3 * joint + 1]!, place[3 * joint + 2]!, out),
    );
    context.stroke(shape);
    context.setLineDash([]);
  },
  /** From the pose before, through the value the breakdown should have, to the pose after. */
  trace({ measured, wanted }, place, traced) {
    const { from, to } = place;
    const at = labelNow(place, measured.at);
    if (traced.trace === 'speed' || at <= from || at >= to) return [];
    const [a, b] = [valueAt(traced, from), valueAt(traced, to)];
    return [
      [from, a],
      [at, b + (wanted.favour / 100) * (a - b)],
      [to, b],
    ];
  },
};

let lastPose: { key: string; shot: PreparedShot; positions: Float64Array } | undefined;

/** World places of every joint where each local rotation lies a share u of the way from pose a to pose b. Kept until another is asked for. */
function posedBetween(shot: PreparedShot, a: number, b: number, u: number): Float64Array {
  const key = `${a} ${b} ${u}`;
  if (lastPose?.key === key && lastPose.shot === shot) return lastPose.positions;
  const { motion } = shot;
  const n = motion.joints.length;
  const m = motion.moving.length;
  const rotations = new Float64Array(4 * n);
  for (let j = 0; j < n; j++)
    rotations.set(slerp(quatAt(motion.rotations, a * n + j), quatAt(motion.rotations, b * n + j), u), 4 * j);
  const translations = Float64Array.from({ length: 3 * m }, (_, k) => {
    const [from, to] = [motion.translations[3 * a * m + k]!, motion.translations[3 * b * m + k]!];
    return from + u * (to - from);
  });
  const { positions } = worldPose({ ...motion, frames: 1, rotations, translations });
  lastPose = { key, shot, positions };
  return positions;
}
