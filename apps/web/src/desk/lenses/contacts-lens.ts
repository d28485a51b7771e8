import { Footprints } from 'lucide-react';
import { findContacts } from '@ypsigraph/core/motion/feet/contacts';
import { footPoints, putPoint } from '@ypsigraph/core/motion/feet/foot-points';
import { labelOf } from '@ypsigraph/core/motion/prepared-shot';
import { FOOT_SLIDE, measureGaitFeet } from '@ypsigraph/core/measure/gait/gait-feet';
import { viewGait } from '@ypsigraph/core/measure/gait/gait-view';
import { ofLeg } from '@ypsigraph/core/say/words';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';
import { dot, haloText, WORDS } from './stick.ts';

/** One time a foot stands: where its most still point is over the ground, sample by sample. */
interface Stand {
  readonly side: 'L' | 'R';
  /** Labels from landing to leaving. */
  readonly from: number;
  readonly to: number;
  /** Places over the ground, x, y, z each: one place if the foot stays where it stands. */
  readonly track: Float64Array;
  /** How far the ground has gone by at each sample since the landing. */
  readonly gone: Float64Array;
  /** What its reading says: how far it slides, %L; undefined where it stands too short to be told. */
  readonly slide: number | undefined;
  /** The ground goes by under it: what is over the ground is shown where the ground is now. */
  readonly carried: boolean;
}

/** Stands by the label they are seen at: planted there, or, where the figure travels, a while before and behind. */
interface Stands {
  readonly at: ReadonlyMap<number, readonly Stand[]>;
}

/** Frames to each side at which the prints of a figure that travels are seen. */
const SEEN = 60;

function byLabel(stands: readonly Stand[], source: FrameSource): Stands {
  const period = periodOf(source);
  const at = new Map<number, Stand[]>();
  const put = (label: number, stand: Stand): void => {
    const own = period > 0 ? source.first + ((((label - source.first) % period) + period) % period) : label;
    const list = at.get(own);
    if (!list) at.set(own, [stand]);
    else if (!list.includes(stand)) list.push(stand);
  };
  for (const stand of stands) {
    const around = stand.carried ? 0 : SEEN;
    for (let label = stand.from - around; label <= stand.to + around; label++) put(label, stand);
  }
  // The last frame of a loop that repeats its first is the first again.
  if (source.loop === 'repeat') at.set(source.first + period, at.get(source.first) ?? []);
  return { at };
}

const periodOf = ({ loop, frames }: FrameSource): number =>
  loop === 'none' ? 0 : loop === 'repeat' ? frames - 1 : frames;

/** Width of a character of the words, about, pixels: nothing is measured while it is drawn. */
const CHARACTER = 5.9;

/** Frames at each end that are not asked whether the foot is still: it lands and leaves there. */
const TRIM = 1;

function standsOf(source: FrameSource): Stands | undefined {
  const { measured } = source.figure!;
  const view = viewGait(measured);
  const { feet, groundVelocity } = findContacts(measured);
  const stands: Stand[] = [];
  const frames = measured.loop === 'none' ? measured.motion.frames : measured.period;
  const slides = measured.exposures.blocking ? [] : FOOT_SLIDE.among(measureGaitFeet(measured).readings);
  for (const side of ['L', 'R'] as const) {
    const points = footPoints(measured, side);
    if (!points) continue;
    for (const { from, to } of feet[side] ?? []) {
      const n = to - from + 1;
      const gone = new Float64Array(3 * n);
      for (let k = 0; k < n; k++)
        for (let c = 0; c < 3; c++)
          gone[3 * k + c] = typeof view === 'string' ? k * groundVelocity[c]! : view.groundGone(from, from + k)[c]!;
      const tracks = [points.ankle, ...points.front].map((point) => {
        const track = new Float64Array(3 * n);
        for (let k = 0; k < n; k++) {
          putPoint(measured, (from + k) % frames, point, track, 3 * k);
          const beyond = typeof view === 'string' ? [0, 0, 0] : view.travelled(from + k);
          for (let c = 0; c < 3; c++) track[3 * k + c]! += beyond[c]! - gone[3 * k + c]!;
        }
        return track;
      });
      const up = measured.axes.up;
      const farthest = (track: Float64Array): number => {
        let most = 0;
        for (let a = TRIM; a < n - TRIM; a++)
          for (let b = a + 1; b < n - TRIM; b++) {
            const d = [0, 1, 2].map((c) => track[3 * b + c]! - track[3 * a + c]!);
            const rise = d[0]! * up[0] + d[1]! * up[1] + d[2]! * up[2];
            most = Math.max(most, Math.hypot(...d.map((v, c) => v - rise * up[c]!)));
          }
        return most;
      };
      const track = tracks.reduce((best, own) => (farthest(own) < farthest(best) ? own : best));
      stands.push({
        side,
        from: Math.round(labelOf(measured, from)),
        to: Math.round(labelOf(measured, from)) + Math.round((to - from) * measured.exposures.stride),
        track,
        gone,
        carried: gone.some((v) => v !== 0),
        slide: slides.find(({ part, detail }) => {
          const middle = labelOf(measured, from) + ((to - from) * measured.exposures.stride) / 2;
          return part === `leg.${side}` && detail.from <= middle && detail.to >= middle;
        })?.value,
      });
    }
  }
  return stands.length > 0 ? byLabel(stands, source) : undefined;
}

/** Where the feet stand, and how far each goes over the ground while it does: a foot that stays leaves a dot, one that slides a streak. */
export const CONTACTS: Lens<Stands> = {
  id: 'contacts',
  name: 'Ground, contacts and slide',
  key: 'q',
  icon: Footprints,
  needs: 'figure',
  prepare: standsOf,
  draw({ context, scene, source, sample, inks }, stands) {
    const label = source.first + sample;
    const period = periodOf(source);
    const at = { x: 0, y: 0, depth: 0 };
    for (const { side, from, to, track, gone, slide } of stands.at.get(label) ?? []) {
      const own = period > 0 && label < from ? label + period : label;
      const planted = own >= from && own <= to;
      const n = track.length / 3;
      const now = Math.min(n - 1, Math.max(0, Math.round(((own - from) / Math.max(1, to - from)) * (n - 1))));
      context.beginPath();
      for (let k = 0; k < n; k++) {
        scene.projectWorld(
          sample,
          track[3 * k]! + gone[3 * now]!,
          track[3 * k + 1]! + gone[3 * now + 1]!,
          track[3 * k + 2]! + gone[3 * now + 2]!,
          at,
        );
        if (k === 0) context.moveTo(at.x, at.y);
        else context.lineTo(at.x, at.y);
      }
      const ink = side === 'L' ? inks.left : inks.right;
      context.globalAlpha = planted ? 1 : 0.5;
      context.lineCap = 'round';
      context.lineWidth = planted ? 7 : 4;
      context.strokeStyle = inks.sheet;
      context.stroke();
      context.lineWidth = planted ? 4 : 2.5;
      context.strokeStyle = ink;
      context.setLineDash(side === 'R' ? [5, 4] : []);
      context.stroke();
      context.setLineDash([]);
      if (planted) {
        dot(context, at, 3.5, ink, inks.sheet);
        context.font = WORDS;
        context.textAlign = 'left';
        const told = slide === undefined ? '' : slide === 0 ? ', and stays' : `, to within ${ofLeg(slide)}`;
        const text = `${side} stands ${from} to ${to}${told}`;
        // Left above right, and both on the paper.
        const line = Math.min(at.y + 16, scene.size.height - 20) + (side === 'L' ? 0 : 14);
        // Whole on the paper: pushed in from its right edge.
        const x = Math.max(4, Math.min(at.x + 10, scene.size.width - CHARACTER * text.length - 6));
        haloText(context, text, x, line, inks.ink, inks.sheet);
      }
      context.globalAlpha = 1;
    }
  },
  legend: () => [
    { text: 'left foot over the ground', sign: 'M1 7H13' },
    { text: 'right foot', sign: 'M1 7H13', dashed: true },
  ],
};
