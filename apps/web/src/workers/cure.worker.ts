import { expose } from 'comlink';
import { readShot } from '@ypsigraph/core/formats/read-shot';
import { endingOf, writeShot } from '@ypsigraph/core/formats/write-shot';
import { type DialledFault, faultLike } from '@ypsigraph/core/exemplar/fault-like';
import { sayByHand } from '@ypsigraph/core/measure/sentence';
import { writeBvh } from '@ypsigraph/core/formats/bvh/write-bvh';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import type { Gauge } from '@ypsigraph/core/gauge/gauge';
import type { Reading } from '@ypsigraph/core/measure/reading';
import type { PreparedShot, ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { type Cure, cureBy, cureFor, judged, type Patient } from '@ypsigraph/core/remedy/cure';
import { type Curable, recipeForMark } from '@ypsigraph/core/remedy/from-mark';
import { howNear, type Nearness } from '@ypsigraph/core/remedy/how-near';
import { type KeyedChange, keyedChanges } from '@ypsigraph/core/remedy/keyed-changes';
import { makeRecipe } from '@ypsigraph/core/remedy/recipe';
import { type Recipe, RemedyError } from '@ypsigraph/core/remedy/remedy';
import { type Outcome, outcomeOf } from '@ypsigraph/core/remedy/stored-recipe';
import { markOfStep, type StepMark } from '@ypsigraph/core/remedy/to-mark';
import { asSent, shotOf } from './kept-shots.ts';

/** The revision that is to be put right, and what it is held against. */
export interface Asked {
  readonly address: string;
  readonly options: ShotOptions;
  readonly gauges: readonly Gauge[];
  readonly stage: Patient['stage'];
}

/** A cure as it is shown: the shot it makes, and what it did. */
export interface Shown {
  readonly recipe: Recipe;
  readonly shot: PreparedShot;
  /** The old frame (0 for the first) that each frame shows; undefined where their number did not change. */
  readonly map: readonly number[] | undefined;
  readonly gone: readonly Finding[];
  readonly fresh: readonly Finding[];
  readonly left: readonly Finding[];
  readonly before: readonly Reading[];
  readonly after: readonly Reading[];
  readonly notes: readonly string[];
  readonly changes: readonly KeyedChange[];
  readonly came: Outcome;
}
/** A file that was chosen and not handed in yet, and what it is held against. */
export interface OfFile extends Omit<Asked, 'address'> {
  readonly bytes: Uint8Array;
}
/** One way to put a finding of such a file right. */
export interface ForFile {
  readonly recipe: Recipe;
  readonly changes: readonly KeyedChange[];
  /** The cured motion as BVH. */
  readonly text: string;
}
/** Why there is none, in words a person understands. */
export interface NotMade {
  readonly why: string;
}

const patientOf = async ({ address, options, gauges, stage }: Asked): Promise<Patient> => ({
  shot: await shotOf(address, options),
  options,
  gauges,
  stage,
});

/** What can't be made is told in words; anything else is an error. */
async function told<T>(work: () => Promise<T | NotMade>): Promise<T | NotMade> {
  try {
    return await work();
  } catch (error) {
    if (error instanceof RemedyError) return { why: error.message };
    throw error;
  }
}

const NONE = 'No remedy makes this right by itself.';

/** The cure of a finding; one that does not take it away and breaks something besides is none: then what to do by hand, where that is known. */
function proposed(patient: Patient, reading: string, part: string | undefined): Cure | NotMade {
  const finding = judged(patient).findings.find((own) => own.reading.id === reading && own.reading.part === part);
  const cure = finding && cureFor(patient, finding);
  if (cure && (cure.isGone || cure.breaks.length === 0)) return cure;
  return { why: (finding && sayByHand(finding.reading)) ?? NONE };
}

const api = {
  /** The recipe that is proposed for a finding. */
  propose: (asked: Asked, reading: string, part: string | undefined): Promise<{ recipe: Recipe } | NotMade> =>
    told(async () => {
      const cure = proposed(await patientOf(asked), reading, part);
      return 'why' in cure ? cure : { recipe: cure.recipe };
    }),
  /** What is proposed for a finding of a file that nobody else has. */
  forFile: (
    { bytes, options, gauges, stage }: OfFile,
    reading: string,
    part: string | undefined,
  ): Promise<ForFile | NotMade> =>
    told(async () => {
      const patient = { shot: (await readShot(bytes, options)).shot, options, gauges, stage };
      const cure = proposed(patient, reading, part);
      if ('why' in cure) return cure;
      const text = writeBvh(cure.treated.shot.played.motion);
      return { recipe: cure.recipe, changes: keyedChanges(patient.shot, cure.treated), text };
    }),
  /** The recipe that makes what a mark wants. */
  proposeForMark: (asked: Asked, mark: Curable): Promise<{ recipe: Recipe } | NotMade> =>
    told(async () => {
      const recipe = recipeForMark(await patientOf(asked), mark);
      return recipe ? { recipe } : { why: 'This mark wants nothing that a remedy could make.' };
    }),
  /** A recipe made on the shot, and what it did to all that is measured. */
  make: (asked: Asked, recipe: Recipe): Promise<Shown | NotMade> =>
    told(async () => {
      const patient = await patientOf(asked);
      const { treated, gone, fresh, left, before, after, notes } = cureBy(patient, recipe);
      const changes = keyedChanges(patient.shot, treated);
      const did = { gone, fresh, left, before, after, notes, changes, came: outcomeOf(patient.shot, treated) };
      return { recipe, shot: asSent(treated.shot), map: treated.map, ...did };
    }),
  /** The mark that asks for what one step changes. */
  markOf: (asked: Asked, recipe: Recipe, step: number): Promise<StepMark | NotMade> =>
    told(
      async () =>
        markOfStep(await patientOf(asked), recipe, step) ?? {
          why: 'What this step changes is not measured by a mark.',
        },
    ),
  /** How near a later revision has come to what a cure showed on an earlier one. */
  near: (earlier: Asked, recipe: Recipe, later: Asked): Promise<readonly Nearness[] | NotMade> =>
    told(async () => {
      const { shot, options } = await patientOf(earlier);
      const near = howNear(shot, makeRecipe(shot, options, recipe), (await patientOf(later)).shot);
      return typeof near === 'string' ? { why: near } : near;
    }),
  /** The exemplar that shows a finding as it is in the shot, for a class. */
  exemplarLike: async (asked: Asked, reading: string, part: string | undefined): Promise<DialledFault | undefined> => {
    const patient = await patientOf(asked);
    const finding = judged(patient).findings.find((own) => own.reading.id === reading && own.reading.part === part);
    return finding && faultLike(patient.shot.kind, finding);
  },
  /** The cured motion as a file of the format that it came in, and that format's ending. */
  write: (asked: Asked, recipe: Recipe): Promise<{ bytes: Uint8Array; ending: string } | NotMade> =>
    told(async () => {
      const { shot, options } = await patientOf(asked);
      const ending = endingOf(shot);
      return { bytes: await writeShot(makeRecipe(shot, options, recipe).shot, ending), ending };
    }),
};

export type CureWorker = typeof api;

expose(api);
