import { asTheirs, ofWhom } from '../measure/characters.ts';
import type { Reading } from '../measure/reading.ts';

/** Frames (labels) within this of each other are the same moment. */
const MOMENT = 2;

/** Of a loop that does not close, or is cut: everything that needs both halves … */
const FROM_SEAM =
  /^(mirror\.|cycle\.jerk|gait\.(step|flight|counter|pelvis|shift|opposition|lowAfter)|breath\.|twin\.)/;

/** … and what is read of frames across the seam. */
const AT_SEAM = /^(arc\.|spacing\.|exposure\.held|gait\.(slide|even|float|knee)|hold\.)/;

/** Of one frame out of place: what is read at that moment. */
const FROM_POP =
  /^(arc\.off|spacing\.|gait\.(slide|even|depth|float|knee|bob|lowAfter)|hold\.|move\.|mirror\.|cycle\.(seam|jerk)|look\.|take\.|ease\.|overshoot\.|anticipation\.)/;

type Rule = (cause: Reading, effect: Reading) => boolean;

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

/** The role of the joint a reading is of, or, where it has none, of what it hangs from. */
const roleOf = ({ detail }: Reading): string => {
  const { role, within } = (detail ?? {}) as { role?: string; within?: string };
  return role ?? within ?? '';
};

type Region = 'hips' | 'trunk' | 'head' | `${'arm' | 'leg'}.${'L' | 'R'}`;

/** The region of the body that a role or a part belongs to; undefined for what may hang anywhere, and for the whole body. */
function regionOf(name: string): Region | undefined {
  const [, arm, leg] = /^(?:(arm|clavicle|upperArm|foreArm|hand)|(leg|thigh|shin|foot|toe))\.[LR]$/.exec(name) ?? [];
  if (arm) return name.endsWith('L') ? 'arm.L' : 'arm.R';
  if (leg) return name.endsWith('L') ? 'leg.L' : 'leg.R';
  if (name === 'hips') return 'hips';
  if (name === 'spine' || name === 'chest') return 'trunk';
  return name === 'head' || name === 'neck' ? 'head' : undefined;
}

/** Readings of the whole body that are read at the hips, and at the head. */
const AT_HIPS = /^(gait\.(bob|lowAfter|shift|pelvis)|mirror\.height)$/;
const AT_HEAD = /^(look|take)\./;

/**
 * Whether a joint that is out of place throws what another reading is of: what hangs from it. The hips carry everything, the trunk all but the legs, a
 * limb itself alone.
 */
function carries(cause: Reading, effect: Reading): boolean {
  const from = regionOf(roleOf(cause));
  if (from === undefined || from === 'hips') return true;
  const to = regionOf(effect.part ?? '');
  if (to === from) return true;
  if (to === undefined)
    return !AT_HIPS.test(effect.id) && (!AT_HEAD.test(effect.id) || from === 'trunk' || from === 'head');
  return from === 'trunk' && to !== 'hips' && !to.startsWith('leg');
}

/** What explains what, by the reading that explains. */
const RULES: Readonly<Record<string, Rule>> = {
  'cycle.seam': (cause, effect) => FROM_SEAM.test(effect.id) || (AT_SEAM.test(effect.id) && meets(cause, effect)),
  'exposure.held': (cause, effect) =>
    FROM_POP.test(effect.id) && effect.id !== 'cycle.seam' && (meets(cause, effect) || effect.id === 'cycle.jerk'),
  'arc.pop': (cause, effect) => {
    // A knee that snaps is named as that, whichever of its joints does it.
    if (effect.id === 'gait.knee' && isInLeg(roleOf(cause), effect.part)) return false;
    // A foot that is pressed into the ground for several frames is deepest elsewhere than where its leg gives most.
    if (effect.id === 'gait.depth' && !labels(cause).some((at) => labels(effect).includes(at))) return false;
    return FROM_POP.test(effect.id) && meets(cause, effect) && carries(cause, effect);
  },
  'gait.knee': (cause, effect) =>
    effect.id === 'arc.pop' && isInLeg(roleOf(effect), cause.part) && meets(cause, effect),
  'gait.step': (_, effect) => /^mirror\.|^gait\.stance/.test(effect.id),
  'gait.slide': (cause, effect) => effect.id === 'gait.even' && effect.part === cause.part,
  'gait.flight': (_, effect) => effect.id === 'gait.float',
  'mirror.off': (cause, effect) => cause.part === undefined && effect.id === 'mirror.off' && effect.part !== undefined,
  'mirror.height': (_, effect) => effect.id === 'mirror.off',
  'twin.arms': (_, effect) => effect.id === 'gait.opposition' || effect.id === 'mirror.off',
  'gait.opposition': (_, effect) => effect.id === 'mirror.off',
  'lag.together': (cause, effect) => effect.id === 'lag.frames' && effect.part === cause.part,
  'take.accent': (_, effect) => effect.id === 'take.accentHold',
  'jump.parabola': (_, effect) => effect.id === 'jump.gravity',
  'hold.kind': (cause, effect) =>
    /^(hold\.drift|ease\.in)$/.test(effect.id) && effect.part === cause.part && meets(cause, effect),
};

const isInLeg = (role: string, leg: string | undefined): boolean =>
  leg !== undefined && /^(thigh|shin|foot)\./.test(role) && role.slice(-1) === leg.slice(-1);

/** Whether a reading that is not inside its band explains another that is not: one cause, one finding. */
export function folds(cause: Reading, effect: Reading, judgement: 'near' | 'outside'): boolean {
  // What one character does explains nothing of another.
  if (ofWhom(cause.part).character !== ofWhom(effect.part).character) return false;
  return judgement === 'outside' && (RULES[cause.id]?.(asTheirs(cause), asTheirs(effect)) ?? false);
}
