import { UserRound } from 'lucide-react';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { choice } from '../choice.ts';
import { drawBehind } from '../paper/figure-behind.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { Lens } from './lens.ts';

const periodOf = ({ loop, frames }: Pick<FrameSource, 'loop' | 'frames'>): number =>
  loop === 'repeat' ? frames - 1 : frames;

/** The sample of an exemplar that belongs to one of the shot: of loops at the same share of the cycle, of anything else the same frame. */
export function inPace(source: FrameSource, theirs: PreparedShot, sample: number): number {
  const loops = source.loop !== 'none' && theirs.loop !== 'none';
  if (!loops) return Math.min(theirs.motion.frames - 1, Math.max(0, sample));
  return Math.floor((sample / periodOf(source)) * theirs.period) % theirs.period;
}

/** The exemplar behind the figure, or on a paper of its own beside it. */
export const EXEMPLAR_STANDS = choice({
  id: 'exemplar stands',
  label: 'Where the exemplar is',
  first: 'behind',
  options: { behind: 'exemplar behind', beside: 'exemplar beside' },
});

const known = new WeakMap<FrameSource, PreparedShot>();

/** The exemplar of a shot's exercise: the one its brief has chosen, or the usual one of its kind; undefined where there is none. */
export function exemplarOf(source: FrameSource): PreparedShot | undefined {
  const { figure, exemplar: chosen } = source;
  if (!figure) return undefined;
  const { kind } = figure.measured;
  const exemplar = EXEMPLARS[chosen?.name ?? kind];
  const made = known.get(source) ?? (exemplar && prepareShot(exemplar.make({ ...chosen?.set }, {}), { kind }));
  if (made) known.set(source, made);
  return made;
}

/** The exercise's exemplar behind the figure, its hips where the figure's are: of a loop at the same share of the cycle. */
export const REFERENCE: Lens<PreparedShot> = {
  id: 'reference',
  name: 'Exemplar of the exercise, behind or beside',
  key: 'y',
  icon: UserRound,
  needs: 'figure',
  under: true,
  choices: [EXEMPLAR_STANDS],
  prepare: (source) => exemplarOf(source),
  draw({ context, scene, source, sample, inks, desk }, exemplar) {
    if (EXEMPLAR_STANDS.of(desk) === 'beside') return [];
    const at = inPace(source, exemplar, sample);
    drawBehind(context, scene, { shot: source.figure!.shown, sample }, { shot: exemplar, sample: at }, inks.graphite);
  },
  legend: () => [{ text: 'the exemplar, its hips where these are' }],
};
