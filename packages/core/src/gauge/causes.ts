import { withoutCharacter, splitCharacter } from '../measure/characters.ts';
import type { AnyReadingKind, Explains } from '../measure/describe.ts';
import type { Reading } from '../measure/reading.ts';
import { readingKind } from '../measure/registry.ts';
import { type Region, regionOf } from '../motion/regions.ts';

/** Frames (labels) within this of each other are the same moment. */
const MOMENT = 2;

const labels = ({ frames = [] }: Reading): readonly number[] => frames;

/** Whether one reading has a frame at, or a span over, a moment of the other. */
function meets(cause: Reading, effect: Reading): boolean {
  const own = labels(effect);
  const [from, to] = own;
  // Two frames are a span, round a loop where the second comes first; of a seam they are the two that meet there.
  if (own.length !== 2 || effect.id === 'cycle.seam')
    return labels(cause).some((at) => own.some((label) => Math.abs(label - at) <= MOMENT));
  const wraps = from! > to!;
  return labels(cause).some((at) => {
    const [behind, before] = [at >= from! - MOMENT, at <= to! + MOMENT];
    return wraps ? behind || before : behind && before;
  });
}

/** The region of the joint a reading is of, or, where it has no role, of what it hangs from. */
function regionOfJoint({ detail }: Reading): Region | undefined {
  const { role, within } = (detail ?? {}) as { role?: string; within?: string };
  return regionOf(role ?? within ?? '');
}

/**
 * Whether a joint that is out of place throws what another reading is of: what hangs from it. The hips carry everything, the trunk all but the legs, a
 * limb itself alone.
 */
function carries(cause: Reading, effect: Reading, kind: AnyReadingKind): boolean {
  const from = regionOfJoint(cause);
  if (from === undefined || from === 'hips') return true;
  const to = regionOf(effect.part ?? kind.shows ?? '');
  if (to === from || to === undefined) return true;
  return from === 'trunk' && to !== 'hips' && !to.startsWith('leg');
}

/** A frame too many, or too few, throws what is read where it is. */
const strays = (cause: Reading, effect: Reading, { thrownBy }: AnyReadingKind): boolean =>
  thrownBy?.strayFrame === true && effect.id !== 'cycle.seam' && (meets(cause, effect) || effect.id === 'cycle.jerk');

/** What is wrong in any motion, whatever it was meant to be. */
const OF_ANY_MOTION = ['arc.pop', 'exposure.held', 'exposure.missing', 'exposure.pattern', 'cycle.drift'];

/** What explains readings of many kinds, by where they meet: a loop that is cut, a frame out of place, a knee that snaps. */
const THROWS: Readonly<Record<string, (cause: Reading, effect: Reading, kind: AnyReadingKind) => boolean>> = {
  // What is no walk at all is judged as one in nothing; a frame out of place is one in any motion.
  'kind.seen': (_, effect) => !OF_ANY_MOTION.includes(effect.id),
  'cycle.seam': (cause, effect, { thrownBy }) =>
    thrownBy?.cutLoop === 'anywhere' || (thrownBy?.cutLoop === 'there' && meets(cause, effect)),
  'exposure.held': strays,
  'exposure.missing': strays,
  'arc.pop': (cause, effect, kind) => {
    // A knee that snaps is named as that, whichever of its joints does it.
    if (effect.id === 'gait.knee' && regionOfJoint(cause) === effect.part) return false;
    // A foot that is pressed into the ground for several frames is deepest elsewhere than where its leg gives most.
    if (effect.id === 'gait.depth' && !labels(cause).some((at) => labels(effect).includes(at))) return false;
    return kind.thrownBy?.strayFrame === true && meets(cause, effect) && carries(cause, effect, kind);
  },
  'gait.knee': (cause, effect) =>
    effect.id === 'arc.pop' && regionOfJoint(effect) === cause.part && meets(cause, effect),
};

function holds(rule: Explains, cause: Reading, effect: Reading): boolean {
  if (typeof rule === 'function') return rule(cause, effect);
  return rule === 'always' || (effect.part === cause.part && (rule === 'of the same part' || meets(cause, effect)));
}

/** Whether a reading that is not inside its band explains another that is not: one cause, one finding. */
export function folds(cause: Reading, effect: Reading, judgement: 'near' | 'outside'): boolean {
  // What one character does explains nothing of another.
  if (judgement !== 'outside' || splitCharacter(cause.part).character !== splitCharacter(effect.part).character)
    return false;
  const [own, other] = [withoutCharacter(cause), withoutCharacter(effect)];
  const kind = readingKind(effect.id);
  if (kind && THROWS[own.id]?.(own, other, kind)) return true;
  const rule = readingKind(own.id)?.explains?.[other.id];
  return rule !== undefined && holds(rule, own, other);
}
