import type { Gap } from '../measure/cycle/missing-frames.ts';
import { spansOf } from './proposals.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { type Recipe, type Remedy, RemedyError, SOUGHT } from './remedy.ts';
import { retimedTo } from './resample.ts';

/**
 * A pose on another frame, with what lies before and behind it in the rest of the shot’s time; no steps where it can’t lie there.
 *
 * @example movedTo(shot, 8, 11) // of a shot of 24 frames: 1 to 8 in ten frames, and the rest in thirteen
 */
export function movedTo(shot: PreparedShot, now: number, wanted: number): Recipe {
  const first = shot.firstFrame;
  const last = first + shot.played.motion.frames - 1;
  const inside = (label: number): boolean => label > first && label < last;
  if (now === wanted || !inside(now) || !inside(wanted)) return [];
  return [
    { remedy: 'retime', parameters: { from: first, to: now, frames: wanted - first } },
    { remedy: 'retime', parameters: { from: wanted, to: last + wanted - now, frames: last - wanted } },
  ];
}

/**
 * A range, or the whole shot, in another number of frames.
 *
 * @example retime:from=1,to=25,frames=20 // from label 1 to label 25 there are 20 frames then: what followed 25 follows 21
 */
export const RETIME: Remedy = {
  id: 'retime',
  name: 'Retime',
  does: 'a range, or all of the shot, takes another number of frames',
  needs: 'a range of two frames or more',
  works: 'poses',
  parameters: {
    from: { is: 'frame', say: 'first frame' },
    to: { is: 'frame', say: 'last frame' },
    frames: { is: 'number', unit: 'frames', range: [1, 5000], say: 'frames from the first to the last' },
  },
  marks: ['timing'],
  mends: {
    'move.frames': (asked) => {
      const { target } = asked;
      const spans = spansOf(asked).filter(({ from, to }) => to > from);
      if (target === undefined) return [];
      return [0, -1, 1].map((by) => ({
        steps: spans.map((span) => ({
          remedy: 'retime',
          parameters: { ...span, frames: Math.max(1, Math.round(target) + by) },
        })),
      }));
    },
    'exposure.missing': ({ finding: { reading } }) => {
      const { each = [] } = (reading.detail ?? {}) as { each?: readonly Gap[] };
      // The last first: what is put in moves only what comes behind it.
      const steps = each.toReversed().map(({ behind, frames }) => ({
        remedy: 'retime',
        parameters: { from: behind, to: behind + 1, frames: frames + 1 },
      }));
      return [{ steps }];
    },
    'plan.frame': ({ shot, finding: { reading } }) => {
      const { found, planned } = (reading.detail ?? {}) as { found?: number; planned?: number };
      if (found === undefined || planned === undefined) return [];
      const { frames } = shot.played.motion;
      const steps = frames - (shot.loop === 'follow' ? 0 : 1);
      const [now, wanted] = [found - shot.firstFrame, planned - shot.firstFrame];
      // A loop that is slower or faster than its plan has every pose off by more and more.
      const all = shot.loop === 'none' || now < 1 || wanted < 1 ? [] : [Math.round((steps * wanted) / now)];
      return [
        ...all.map((own) => ({ steps: [{ remedy: 'retime', parameters: { frames: own } }] })),
        { steps: movedTo(shot, Math.round(found), Math.round(planned)) },
      ];
    },
    ...Object.fromEntries(
      (['cycle.cadence', 'gait.step', 'breath.cycle', 'cycle.length'] as const).map((id) => [
        id,
        ({ shot, finding, target }: Parameters<NonNullable<Remedy['mends']['move.frames']>>[0]) => {
          const { value } = finding.reading;
          if (typeof value !== 'number' || target === undefined || value <= 0 || target <= 0) return [];
          const now = shot.played.motion.frames - (shot.loop === 'follow' ? 0 : 1);
          const ratio = id === 'cycle.cadence' ? value / target : target / value;
          return [
            { steps: [{ remedy: 'retime', parameters: { frames: Math.max(1, Math.round(now * ratio)) } }] },
            {
              steps: [{ remedy: 'retime', parameters: { frames: SOUGHT } }],
              seek: { from: now, to: Math.max(2, Math.round(now * ratio ** 2)), whole: true as const },
            },
          ];
        },
      ]),
    ),
  },
  make(subject, given) {
    const frames = given.number('frames');
    if (frames === undefined) throw new RemedyError('retime needs frames: how many it should take');
    const count = Math.max(1, Math.round(frames / subject.shot.exposures.stride));
    const range = subject.range(given);
    // A loop that goes on to its first frame has one step more than it has poses between them.
    if (!range && subject.wraps && subject.period === subject.samples)
      return retimedTo(
        subject,
        Array.from({ length: count }, (_, k) => (k * subject.period) / count),
      );
    const { from, to } = range ?? { from: 0, to: subject.samples - 1 };
    if (to <= from) throw new RemedyError('retime needs a range of two frames or more');
    if (to >= subject.samples) throw new RemedyError('retime: the range goes over the end of the loop');
    const all = Array.from({ length: subject.samples }, (_, f) => f);
    const own = Array.from({ length: count + 1 }, (_, k) => (k === count ? to : from + (k * (to - from)) / count));
    return retimedTo(subject, [...all.slice(0, from), ...own, ...all.slice(to + 1)]);
  },
};
