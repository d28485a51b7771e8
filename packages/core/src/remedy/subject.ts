import { usualChains } from '../measure/overlap/lag.ts';
import { jointParts } from '../measure/parts.ts';
import { jointIndex, type Motion } from '../motion/motion.ts';
import { type WorldPose, worldPose } from '../motion/pose.ts';
import { labelOf, type PreparedShot, sampleAt } from '../motion/prepared-shot.ts';
import { smoothStep } from '../signal/smooth-step.ts';
import type { Role } from '../motion/role.ts';
import { chainJoints } from '../motion/roles.ts';
import type { Given } from './given.ts';
import { type ParameterKind, RemedyError } from './remedy.ts';

/** Frames over which a change eases in and out of what surrounds it, where nothing else is said; at 24 fps. */
export const FALLOFF = 4;

/** Over how many frames a change eases in and out: a parameter of every remedy that has one. */
export const SOFTLY = {
  is: 'number',
  unit: 'frames',
  range: [0, 100],
  default: FALLOFF,
  say: 'frames over which it eases in and out',
} as const satisfies ParameterKind;

/** Samples, both within; of a loop `to` may lie past the period. */
export interface Range {
  readonly from: number;
  readonly to: number;
}

/** What a remedy works on: the shot as it is measured, and the motion that is changed, sample by sample. */
export class Subject {
  private placed: WorldPose | undefined;

  constructor(
    readonly shot: PreparedShot,
    /** What is changed: as the file has it, nothing smoothed. */
    readonly motion: Motion,
  ) {}

  /** Where every joint is before the change. */
  get world(): WorldPose {
    return (this.placed ??= this.motion === this.shot.motion ? this.shot.world : worldPose(this.motion));
  }

  get wraps(): boolean {
    return this.shot.loop !== 'none';
  }

  get samples(): number {
    return this.motion.frames;
  }

  /** Samples of a loop's period; all of them where there is no loop. */
  get period(): number {
    return this.wraps ? Math.min(this.shot.period, this.samples) : this.samples;
  }

  /** A sample within the period that a sample shows. */
  within(sample: number): number {
    return this.wraps ? ((sample % this.period) + this.period) % this.period : sample;
  }

  label(sample: number): number {
    return labelOf(this.shot, sample);
  }

  private get last(): number {
    return this.shot.firstFrame + this.shot.played.motion.frames - 1;
  }

  /** The sample that shows a label. @throws RemedyError where the shot does not have it */
  sample(label: number): number {
    if (label < this.shot.firstFrame || label > this.last)
      throw new RemedyError(`frame ${label} is not in the shot: it has ${this.shot.firstFrame} to ${this.last}`);
    return Math.min(this.samples - 1, Math.floor(sampleAt(this.shot, label)));
  }

  /**
   * The range that `from` and `to` give, or the one frame of `at`; undefined where none is given. Of a loop it may go over its end.
   *
   * @param end what the last frame is called: of a remedy whose `to` is something else
   */
  range(given: Given, end = 'to'): Range | undefined {
    const at = given.number('at');
    if (at !== undefined) {
      const sample = this.sample(at);
      return { from: sample, to: sample };
    }
    const [from, to] = [given.number('from'), given.number(end)];
    if (from === undefined && to === undefined) return undefined;
    const first = from === undefined ? 0 : this.sample(from);
    const last = to === undefined ? this.samples - 1 : this.sample(to);
    if (last >= first) return { from: first, to: last };
    if (!this.wraps) throw new RemedyError(`a range goes forward: frame ${to} comes before ${from}`);
    return { from: first, to: last + this.period };
  }

  /** A range of at least so many frames after its first. @throws RemedyError where it is left out or shorter */
  stretch(given: Given, least: number, what: string): Range {
    const range = this.range(given);
    if (!range || range.to - range.from < least)
      throw new RemedyError(
        `${what} needs a range of ${least + 1} frames or more: from and to${range ? '' : ' are missing'}`,
      );
    return range;
  }

  /** How much of a change each sample takes: all of it in the range, less and less beside it, and round a loop's end. All of it everywhere without a range. */
  weights(range: Range | undefined, falloff: number): Float64Array {
    const weights = new Float64Array(this.samples).fill(1);
    if (!range) return weights;
    const { period } = this;
    for (let f = 0; f < this.samples; f++) {
      const away = (at: number): number => Math.max(range.from - at, at - range.to, 0);
      const own = this.within(f);
      const distance = this.wraps ? Math.min(away(own), away(own + period), away(own - period)) : away(f);
      weights[f] = distance === 0 ? 1 : distance > falloff ? 0 : smoothStep(1 - distance / (falloff + 1));
    }
    return weights;
  }

  /** A joint by its role or its name. @throws RemedyError */
  joint(name: string): number {
    const own = this.jointOrNone(name);
    if (own === undefined) throw new RemedyError(`there is no joint “${name}” in this figure`);
    return own;
  }

  private jointOrNone(name: string): number | undefined {
    const role = this.shot.roles[name as Role] ?? this.shot.roles[`chain:${name}`];
    const joint = role ?? jointIndex(this.motion, name);
    return joint < 0 ? undefined : joint;
  }

  /** Joints of parts, with + between them: of a part all its joints, of a joint's name that joint alone. @throws RemedyError */
  joints(names: string): number[] {
    const parts = jointParts(this.shot);
    const own = names.split('+').flatMap((name) => {
      const chain = `chain:${name}`;
      const within = parts.flatMap((part, j) =>
        part === name || part === chain || PARTS[name]?.includes(part) ? [j] : [],
      );
      return within.length > 0 ? within : [this.joint(name)];
    });
    return [...new Set(own)].sort((a, b) => a - b);
  }

  /** The joints of a chain, from its root to its tip: a usual one by its name, or joints with + between them. @throws RemedyError */
  chain(name: string): number[] {
    if (name.includes('+')) return name.split('+').map((own) => this.joint(own));
    const usual = usualChains(this.shot).find(([part]) => part === name || part === `chain:${name}`);
    if (usual) return usual[1];
    const chain = chainJoints(this.motion.joints, this.joint(name));
    if (chain.length < 2) throw new RemedyError(`nothing hangs from “${name}”: a chain has two joints or more`);
    return chain;
  }
}

/** Parts of a body that are several of the figure's parts. */
const PARTS: Readonly<Record<string, readonly string[]>> = {
  all: ['hips', 'spine', 'head', 'arm.L', 'arm.R', 'leg.L', 'leg.R'],
  upper: ['spine', 'head', 'arm.L', 'arm.R'],
  arms: ['arm.L', 'arm.R'],
  legs: ['leg.L', 'leg.R'],
  trunk: ['spine'],
};
