import type { Finding } from '../gauge/findings.ts';
import type { Reading } from '../measure/reading.ts';
import type { ReadingId } from '../measure/registry.ts';
import type { Motion } from '../motion/motion.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import type { MarkKind } from '../trade/mark-kinds.ts';
import type { Given } from './given.ts';
import type { Subject } from './subject.ts';

/** A remedy that can't be made: why, in words a person understands. */
export class RemedyError extends Error {
  override readonly name = 'RemedyError';
}

/** What a parameter of a remedy may be. */
export type ParameterKind = {
  /** What it says, for people. */
  readonly say: string;
  /** Taken where it is left out. */
  readonly default?: string | number;
} & (
  | { readonly is: 'number'; readonly unit: string; readonly range: readonly [low: number, high: number] }
  /** A frame's label. */
  | { readonly is: 'frame' }
  | { readonly is: 'one of'; readonly words: readonly string[] }
  /** A joint by its role or its name, a part, several of them with + between, or a chain. */
  | { readonly is: 'joint' | 'parts' | 'chain' | 'fractions' }
);

/** Parameters as they are given and stored: numbers, words, names; frames are labels. */
export type Parameters = Readonly<Record<string, string | number>>;

/** One remedy of a recipe, with its parameters. */
export interface Step {
  readonly remedy: string;
  readonly parameters: Parameters;
  /** Kept in the recipe, and not made. */
  readonly off?: boolean;
}
/** Remedies in the order in which they are made. */
export type Recipe = readonly Step[];

/** What a remedy made of a motion. */
export interface Made {
  readonly motion: Motion;
  /** Where its count of frames changed: the old sample each new one shows. */
  readonly map?: readonly number[];
  /** What could not be done as it was asked, in words. */
  readonly notes?: readonly string[];
  /** The label of its first frame, where that changed. */
  readonly firstFrame?: number;
  /** How it loops is found out again. */
  readonly loopsAnew?: true;
}

/** A way to put something right: steps whose parameters are known, but for one that is found by bisection. */
export interface Proposal {
  readonly steps: Recipe;
  /** The parameter that is sought, between two values; the first changes least. It stands in every step that names it `sought`. */
  readonly seek?: { readonly from: number; readonly to: number; readonly whole?: true };
}

/** Stands for the parameter that is sought. */
export const SOUGHT = 'sought';

/** What a proposal is asked for. */
export interface Asked {
  readonly shot: PreparedShot;
  readonly finding: Finding;
  /** Every reading of the same part that its gauge finds as wrong: several holds, several moves; by place, the last first. */
  readonly all: readonly Reading[];
  /** The value that is wanted of its reading; undefined of one that is not a number. */
  readonly target: number | undefined;
}

/** Proposals for the readings that a remedy mends, the likeliest first. */
export type Mends = Readonly<Partial<Record<ReadingId, (asked: Asked) => readonly Proposal[]>>>;

/** A parameter by which there is more or less of a remedy. */
export interface Strength {
  readonly parameter: string;
  /** The value at which it changes nothing. */
  readonly none: number;
}

/**
 * A correction of a motion: pure, described once. Adding one is a file and a line in `remedies.ts`.
 */
export interface Remedy {
  readonly id: string;
  /** What people call it. */
  readonly name: string;
  /** What it does, as a sentence without a full stop. */
  readonly does: string;
  /** What a shot must have for it, in words. */
  readonly needs: string;
  /** `poses`: each pose counts once, however long it is held; `frames`: every frame of the file counts. */
  readonly works: 'poses' | 'frames';
  readonly parameters: Readonly<Record<string, ParameterKind>>;
  /** Kinds of mark whose wanted value it can bring about. */
  readonly marks: readonly MarkKind[];
  readonly mends: Mends;
  /** The parameter by which there is more or less of it, where it has one: so it is pulled by hand. Undefined where these parameters have none. */
  readonly strength?: (given: Given, subject: Subject) => Strength | undefined;
  /** @throws RemedyError where it can't be made */
  readonly make: (subject: Subject, given: Given) => Made;
}
