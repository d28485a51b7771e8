import { asTheirs, ofWhom } from '../measure/characters.ts';
import type { Reading } from '../measure/reading.ts';

/** Frames (labels) within this of each other are the same moment. */
const MOMENT = 2;

/** Of a loop that does not close, or is cut: everything that needs both halves, or frames across the seam. */
const FROM_SEAM =
  /^(mirror\.|cycle\.jerk|arc\.|spacing\.|exposure\.held|gait\.(step|flight|counter|pelvis|shift|opposition|lowAfter|slide|even|float|knee)|breath\.|hold\.|twin\.)/;

/** Of one frame out of place: what is read at that moment. */
const FROM_POP =
  /^(arc\.off|spacing\.|gait\.(slide|even|depth|float|knee|bob|lowAfter)|hold\.|move\.|mirror\.|cycle\.(seam|jerk)|look\.|take\.|ease\.|overshoot\.|anticipation\.)/;

type Rule = (cause: Reading, effect: Reading) => boolean;

const labels = ({ frames = [] }: Reading): readonly number[] => frames;

/** Whether one reading has a frame at, or a span over, a moment of the other. */
function meets(cause: Reading, effect: Reading): boolean {
  const own = labels(effect);
  if (own.length === 0) return false;
  const isSpan = own.length === 2;
  return labels(cause).some((at) =>
    isSpan
      ? at >= Math.min(...own) - MOMENT && at <= Math.max(...own) + MOMENT
      : own.some((label) => Math.abs(label - at) <= MOMENT),
  );
}

const roleOf = (reading: Reading): string => (reading.detail as { role?: string } | undefined)?.role ?? '';

/** What explains what, by the reading that explains. */
const RULES: Readonly<Record<string, Rule>> = {
  'cycle.seam': (_, effect) => FROM_SEAM.test(effect.id),
  'exposure.held': (cause, effect) =>
    FROM_POP.test(effect.id) && effect.id !== 'cycle.seam' && (meets(cause, effect) || effect.id === 'cycle.jerk'),
  'arc.pop': (cause, effect) => {
    // A knee that snaps is named as that, whichever of its joints does it.
    if (effect.id === 'gait.knee' && isInLeg(roleOf(cause), effect.part)) return false;
    return FROM_POP.test(effect.id) && meets(cause, effect);
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
