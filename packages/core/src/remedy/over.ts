import { viewGait } from '../measure/gait/gait-view.ts';
import { measureReading } from '../measure/registry.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { add, dot, scale, subtract, type Vec3 } from '../motion/vector.ts';
import { figureAxes } from '../motion/way.ts';
import { quantitySignal } from '../quantity/measure-quantity.ts';
import { rangeOf } from '../signal/statistics.ts';
import { smooth } from '../signal/savitzky-golay.ts';
import { keepFeet } from './keep-feet.ts';
import { MotionEditor } from './motion-editor.ts';
import { wayTo } from './proposals.ts';
import { type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { Sampler } from './resample.ts';
import type { Subject } from './subject.ts';

/** The hips’ way over the carrying foot in a usual walk, %L to each side. Common practice. */
const USUAL = 3;

/**
 * Brings the hips over the foot that carries, and their lowest so many frames later; the feet stay.
 *
 * @example over:amount=4 // the hips go 4 % of a leg towards each foot while it carries
 * @example over:frames=2 // the hips are lowest two frames after each contact
 */
export const OVER: Remedy = {
  id: 'over',
  name: 'Over',
  does: 'the hips go over the carrying foot, and down after the contact',
  needs: 'hips and feet that take steps',
  works: 'poses',
  parameters: {
    amount: {
      is: 'number',
      unit: '% of a leg',
      range: [0, 30],
      say: 'how far the hips go to the side of the carrying foot',
    },
    frames: {
      is: 'number',
      unit: 'frames',
      range: [-48, 48],
      say: 'how long after each contact they are lowest; under 0 before it',
    },
  },
  marks: ['timing'],
  mends: {
    'gait.lowAfter': (asked) => {
      const { value } = asked.finding.reading;
      if (typeof value !== 'number' || asked.target === undefined) return [];
      return [
        {
          steps: [{ remedy: 'over', parameters: { frames: SOUGHT } }],
          seek: { from: value, to: value + 2 * wayTo(asked) },
        },
      ];
    },
    'plan.frame': ({ shot, finding: { reading } }) => {
      const now = lowAfter(shot);
      // Where the body is lowest and highest is moved by itself.
      return typeof reading.value === 'number' && now !== undefined && /^(down|up)\b/.test(reading.part ?? '')
        ? [{ steps: [{ remedy: 'over', parameters: { frames: now - reading.value } }] }]
        : [];
    },
    'gait.shift': ({ shot }) => {
      const side = quantitySignal(shot, 'shift', 'hips');
      const now = typeof side === 'string' ? USUAL : Math.max(1, rangeOf(side) / 2);
      return [now, USUAL].map((amount) => ({
        steps: [{ remedy: 'over', parameters: { amount: Number(amount.toFixed(1)) } }],
      }));
    },
    'balance.off': () => [{ steps: [{ remedy: 'over', parameters: { amount: SOUGHT } }], seek: { from: 0, to: 15 } }],
  },
  make(subject, given) {
    const view = viewGait(subject.shot);
    if (typeof view === 'string') throw new RemedyError(`over: ${view}`);
    const [amount, frames] = [given.number('amount'), given.number('frames')];
    const carrier = subject.motion.moving.find((joint) => subject.motion.joints[joint]!.parent < 0);
    if (carrier === undefined) throw new RemedyError('over: nothing that carries the hips moves by itself');
    const editor = new MotionEditor(subject.motion);
    if (amount === undefined && frames === undefined) return { motion: editor.motion };
    if (amount !== undefined) toTheSide(subject, editor, carrier, amount);
    if (frames !== undefined) {
      const now = lowAfter(subject.shot);
      if (now === undefined) throw new RemedyError('over: when the hips are lowest after a contact can’t be told here');
      later(subject, editor, carrier, (frames - now) / subject.shot.exposures.stride);
    }
    return { motion: editor.motion, notes: keepFeet(subject, editor) };
  },
};

/** Frames from the contact to the lowest hips, as it is read. */
function lowAfter(shot: PreparedShot): number | undefined {
  const value = measureReading(shot, 'gait.lowAfter')[0]?.value;
  return typeof value === 'number' ? value : undefined;
}

/** Moves the hips to the side of the foot that carries, by as much, in a soft wave. */
function toTheSide(subject: Subject, editor: MotionEditor, carrier: number, amount: number): void {
  const { shot, period, samples, wraps } = subject;
  const view = viewGait(shot);
  if (typeof view === 'string') return;
  const now = quantitySignal(shot, 'shift', 'hips');
  if (typeof now === 'string') throw new RemedyError(`over: ${now}`);
  const carries = new Float64Array(period);
  for (const { side, at, until } of view.landings)
    for (let s = at; s <= until; s++) {
      const f = view.index(s);
      if (f < period) carries[f]! += side === 'L' ? 1 : -1;
    }
  const step = Math.max(2, Math.round(period / Math.max(1, view.landings.length) / 2));
  const soft = smooth(smooth(carries, step, 1, wraps), Math.max(1, step >> 1), 1, wraps);
  const most = Math.max(...soft.map(Math.abs), 1e-9);
  for (let f = 0; f < samples; f++) {
    const wanted = (amount * soft[subject.within(f)]!) / most;
    const [, left] = figureAxes(shot, f);
    editor.shift(f, carrier, scale(left, ((wanted - now[f]!) * shot.scale.legLength) / 100));
  }
}

/** Plays the up and down of the body later; its way over the ground stays. */
function later(subject: Subject, editor: MotionEditor, carrier: number, by: number): void {
  const { up } = subject.shot.axes;
  const sampler = new Sampler(subject);
  const slot = subject.motion.moving.indexOf(carrier);
  for (let f = 0; f < subject.samples; f++) {
    const place: Vec3 = sampler.translation(slot, f - by);
    const own = editor.ownPlace(f, carrier);
    editor.setOwnPlace(f, carrier, add(own, scale(up, dot(subtract(place, sampler.translation(slot, f)), up))));
  }
}
