import { Given } from './given.ts';
import { type ParameterKind, type Recipe, RemedyError, type Step } from './remedy.ts';

/** Which drawing each frame of a clip shows, 0 for its first one. */
export type Exposed = readonly number[];

/** What may be done to how drawings are exposed: every new frame shows one of the drawings there are. */
interface ExposureRemedy {
  readonly id: string;
  readonly does: string;
  readonly parameters: Readonly<Record<string, ParameterKind>>;
  readonly make: (exposed: Exposed, given: Given, sample: (name: string) => number | undefined) => number[];
}

const frame = (say: string): ParameterKind => ({ is: 'frame', say });
const count = (say: string, low: number, high: number): ParameterKind => ({
  is: 'number',
  unit: 'frames',
  range: [low, high],
  say,
});
const RANGE = { from: frame('first frame'), to: frame('last frame') };

/** The range that is given; all of it where none is. */
function rangeOf(exposed: Exposed, sample: (name: string) => number | undefined): [from: number, to: number] {
  const [from, to] = [sample('from') ?? 0, sample('to') ?? exposed.length - 1];
  if (to < from) throw new RemedyError('a range goes forward');
  return [from, to];
}

/** A range of drawings put through something, with what surrounds it as it was. */
const within = (exposed: Exposed, [from, to]: readonly [number, number], work: (own: Exposed) => readonly number[]) => [
  ...exposed.slice(0, from),
  ...work(exposed.slice(from, to + 1)),
  ...exposed.slice(to + 1),
];

function at(sample: (name: string) => number | undefined, name = 'at'): number {
  const own = sample(name);
  if (own === undefined) throw new RemedyError(`${name} is missing`);
  return own;
}

/** First and last frame of the exposure that a frame lies in. */
function exposureAt(exposed: Exposed, f: number): [from: number, to: number] {
  let [from, to] = [f, f];
  while (from > 0 && exposed[from - 1] === exposed[f]) from--;
  while (to + 1 < exposed.length && exposed[to + 1] === exposed[f]) to++;
  return [from, to];
}

/** Every way to expose drawings otherwise, spelled as the remedies of motions are where they do the same. */
export const EXPOSURE_REMEDIES: readonly ExposureRemedy[] = [
  {
    id: 'hold',
    does: 'a drawing stands more frames, or fewer',
    parameters: { at: frame('a frame it stands at'), frames: count('frames more; under 0 fewer', -500, 500) },
    make(exposed, given, sample) {
      const f = at(sample);
      const frames = Math.round(given.number('frames') ?? 0);
      const [from, to] = exposureAt(exposed, f);
      if (to - from + 1 + frames < 1)
        throw new RemedyError(`hold: the drawing stands ${to - from + 1} frames; drop takes it out`);
      return within(exposed, [from, to], (own) => Array.from({ length: own.length + frames }, () => own[0]!));
    },
  },
  {
    id: 'drop',
    does: 'a drawing goes, with all its frames',
    parameters: { at: frame('a frame it stands at') },
    make(exposed, _, sample) {
      const left = within(exposed, exposureAt(exposed, at(sample)), () => []);
      if (left.length === 0) throw new RemedyError('drop: no frame is left');
      return left;
    },
  },
  {
    id: 'swap',
    does: 'two drawings change places',
    parameters: { a: frame('a frame the one stands at'), b: frame('a frame the other stands at') },
    make(exposed, _, sample) {
      const [a, b] = [exposed[at(sample, 'a')]!, exposed[at(sample, 'b')]!];
      return exposed.map((own) => (own === a ? b : own === b ? a : own));
    },
  },
  {
    id: 'move',
    does: 'a drawing goes, with all its frames, before another one, or behind the last',
    parameters: {
      at: frame('a frame it stands at'),
      before: frame('a frame of the drawing it goes before; behind the last where it is left out'),
    },
    make(exposed, _, sample) {
      const [from, to] = exposureAt(exposed, at(sample));
      const before = sample('before');
      const goal = before === undefined ? exposed.length : exposureAt(exposed, before)[0];
      if (goal >= from && goal <= to + 1) return [...exposed];
      const own = exposed.slice(from, to + 1);
      return goal < from
        ? [...exposed.slice(0, goal), ...own, ...exposed.slice(goal, from), ...exposed.slice(to + 1)]
        : [...exposed.slice(0, from), ...exposed.slice(to + 1, goal), ...own, ...exposed.slice(goal)];
    },
  },
  {
    id: 'show',
    does: 'frames from one on show these drawings',
    parameters: {
      from: frame('first frame'),
      drawings: { is: 'parts', say: 'numbers of the drawings, 1 for the first, with + between them' },
    },
    make(exposed, given, sample) {
      const from = at(sample, 'from');
      const most = 1 + exposed.reduce((last, own) => Math.max(last, own), 0);
      const names = (given.text('drawings') ?? '').split('+');
      const drawings = names.map(Number);
      const strange = drawings.findIndex((own) => !Number.isInteger(own) || own < 1 || own > most);
      if (strange >= 0) throw new RemedyError(`show: there are drawings 1 to ${most}, and no “${names[strange]!}”`);
      return [...exposed.slice(0, from), ...drawings.map((own) => own - 1), ...exposed.slice(from + drawings.length)];
    },
  },
  {
    id: 'rate',
    does: 'the same drawings in the same time, at another rate',
    parameters: {
      of: { is: 'number', unit: 'frames a second', range: [1, 240], say: 'the rate it has' },
      to: { is: 'number', unit: 'frames a second', range: [1, 240], say: 'the rate it gets' },
    },
    make(exposed, given) {
      const [of, to] = [given.number('of'), given.number('to')];
      if (of === undefined || to === undefined) throw new RemedyError('rate needs of and to, frames a second');
      const frames = Math.max(1, Math.round((exposed.length * to) / of));
      // A frame shows what stands in the middle of its time: no drawing of a frame or more is lost by rounding.
      return Array.from({ length: frames }, (_, k) => exposed[Math.floor(((k + 0.5) * exposed.length) / frames)]!);
    },
  },
  {
    id: 'mirror',
    does: 'a range goes there and back: its drawings once more, backwards, without the one it turns round at',
    parameters: RANGE,
    make: (exposed, _, sample) => {
      const range = rangeOf(exposed, sample);
      const turns = exposureAt(exposed, range[1])[0];
      return within(exposed, range, (own) => [...own, ...own.slice(0, Math.max(0, turns - range[0])).reverse()]);
    },
  },
  {
    id: 'retime',
    does: 'a range takes another number of frames',
    parameters: { ...RANGE, frames: count('frames from the first to the last', 1, 5000) },
    make(exposed, given, sample) {
      const frames = given.number('frames');
      if (frames === undefined) throw new RemedyError('retime needs frames');
      const range = rangeOf(exposed, sample);
      const steps = Math.round(frames);
      return within(exposed, range, (own) =>
        Array.from({ length: steps + 1 }, (_, k) => own[Math.round((k * (own.length - 1)) / steps)]!),
      );
    },
  },
  {
    id: 'trim',
    does: 'frames are cut off or put in front or behind; drawings are put on ones, twos or threes',
    parameters: {
      ...RANGE,
      front: count('frames put in front; under 0 cut off', -10000, 500),
      behind: count('frames put behind; under 0 cut off', -10000, 500),
      exposure: count('frames that every drawing stands', 1, 12),
    },
    make(exposed, given, sample) {
      const [from, to] = rangeOf(exposed, sample);
      const [front, behind] = ['front', 'behind'].map((name) => Math.round(given.number(name) ?? 0)) as [
        number,
        number,
      ];
      const kept = exposed.slice(from, to + 1);
      const left = kept.slice(Math.max(0, -front), kept.length - Math.max(0, -behind));
      if (left.length === 0) throw new RemedyError('trim: no frame is left');
      const all = [
        ...Array.from({ length: Math.max(0, front) }, () => left[0]!),
        ...left,
        ...Array.from({ length: Math.max(0, behind) }, () => left.at(-1)!),
      ];
      const hold = Math.round(given.number('exposure') ?? 1);
      return all.map((_, f) => all[f - (f % hold)]!);
    },
  },
  {
    id: 'reverse',
    does: 'a range runs backwards',
    parameters: RANGE,
    make: (exposed, _, sample) => within(exposed, rangeOf(exposed, sample), (own) => [...own].reverse()),
  },
];

/**
 * Exposes a clip's drawings otherwise.
 *
 * @param firstFrame label of the first frame; labels are of the list as each step finds it
 * @throws RemedyError that says why a step can't be made
 * @example exposedBy([0, 1, 2, 3], 1, [{ remedy: 'trim', parameters: { exposure: 2 } }]) // [0, 0, 2, 2]
 */
export function exposedBy(drawings: Exposed, firstFrame: number, recipe: Recipe): Exposed {
  return recipe
    .filter(({ off }) => off !== true)
    .reduce((exposed, step) => exposedOnce(exposed, firstFrame, step), drawings);
}

function exposedOnce(exposed: Exposed, firstFrame: number, { remedy, parameters }: Step): Exposed {
  const own = EXPOSURE_REMEDIES.find(({ id }) => id === remedy);
  if (!own)
    throw new RemedyError(
      `drawings can’t be bent: of a clip there are ${EXPOSURE_REMEDIES.map(({ id }) => id).join(', ')}, and no “${remedy}”`,
    );
  const given = Given.of(own, parameters);
  const last = firstFrame + exposed.length - 1;
  return own.make(exposed, given, (name) => {
    const label = given.number(name);
    if (label === undefined) return undefined;
    if (label < firstFrame || label > last)
      throw new RemedyError(`frame ${label} is not in the clip: it has ${firstFrame} to ${last}`);
    return label - firstFrame;
  });
}
