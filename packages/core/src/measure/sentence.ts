import { largestOf, smallestOf } from '../motion/vector.ts';
import type { Reading } from './reading.ts';

/** How each reading is said to a person. */
const SAY: Readonly<Record<string, (reading: Reading, part: string) => string>> = {
  'spacing.steps': ({ value }, part) => `${part} moves ${value} units a frame on average`,
  'spacing.off': (r, part) =>
    r.value === 0 ? `${part} is evenly led: no frame is off the spacing` : `${part} is off its spacing ${at(r)}`,
  'arc.off': (r, part) => (r.value === 0 ? `${part} keeps to its arc` : `${part} leaves its arc ${at(r)}`),
  'arc.pop': (r, part) => (r.value === 0 ? `${part} has no single frame out of place` : `${part} pops ${at(r)}`),
  'arc.rise': ({ value }, part) => `${part} bows ${value} % from the straight line`,
  'cycle.length': ({ value }) => `the cycle lasts ${value} frames`,
  'cycle.seam': ({ value, note }) =>
    `over the seam the pose steps ${value} times as far as beside it${note ? `: ${note}` : ''}`,
  'cycle.jerk': ({ value }) => `at the seam the roughest joint is ${value} times as rough as elsewhere`,
  'cycle.cadence': ({ value }) => `${value} steps a minute`,
  'mirror.off': ({ value }, part) => `the second half differs from the first one's mirror by ${value}° (${part})`,
  'mirror.height': (r) =>
    `the hips' height differs between the halves by ${r.value} %L${r.value === 0 ? '' : ` ${at(r)}`}`,
  'exposure.pattern': ({ value }) => `poses are exposed on ${value}`,
  'lag.frames': ({ value, note }, part) =>
    note ? `along ${part} ${note}` : `along ${part} each joint is ${value} frames behind the one before, on average`,
  'lag.together': ({ value }, part) =>
    value ? `${part} moves as one piece: no joint is later than another` : `${part} does not move as one piece`,
  'twin.arms': ({ value }) => `the arms are each other's mirror in ${value} % of the frames they move in`,
  'breakdown.favour': ({ value, frames = [] }, part) =>
    `at ${frames[1]} ${part} favours the pose at ${frames[0]} by ${value} %`,
  'breakdown.departure': ({ value }, part) =>
    Number(value) < 5
      ? `${part} is only an inbetween (departs by ${value} %)`
      : `${part} departs from the straight way by ${value} %`,
  'chart.fractions': ({ value, frames = [] }) => `from ${frames[0]} to ${frames[1]} the spacing is ${value}`,
  'cause.share': ({ value, detail }, part) =>
    `${detail?.largest === part ? 'itself' : String(detail?.largest)} makes ${(100 * Number(value)).toFixed(0)} % of the turning of ${part}`,
  'head.steady': ({ value }) => `the head turns ${value} times as fast as the chest`,
  'head.counter': ({ value }) => `the head undoes ${(100 * Number(value)).toFixed(0)} % of the chest's turning`,
  'move.frames': ({ value, detail }, part) => `${part} moves for ${value} frames, ${detail?.from} to ${detail?.to}`,
  'hold.frames': ({ value, detail }, part) => `${part} holds for ${value} frames, ${detail?.from} to ${detail?.to}`,
  'hold.drift': ({ value, detail }, part) =>
    `in the hold from ${detail?.from} to ${detail?.to} ${part} drifts by ${value} % of the move before`,
  'hold.kind': ({ value, detail }, part) =>
    `the hold of ${part} from ${detail?.from} to ${detail?.to} is ${value === 'moving' ? 'a moving hold' : value}`,
  'anticipation.depth': ({ value }, part) =>
    value === 0 ? `${part} starts without anticipation` : `${part} first goes ${value} % the other way`,
  'anticipation.frames': ({ value }, part) => `${part} anticipates for ${value} frames`,
  'overshoot.depth': ({ value }, part) =>
    value === 0 ? `${part} does not overshoot` : `${part} overshoots by ${value} %`,
  'overshoot.frames': ({ value }, part) => `${part} is past its end for ${value} frames`,
  'settle.frames': ({ value }, part) => `${part} settles in ${value} frames`,
  'settle.swings': ({ value }, part) => `${part} swings ${value} times before it rests`,
  'settle.damping': ({ value }, part) => `the damping of ${part} is ${value}`,
  'ease.out': ({ value }, part) =>
    `${part} starts ${Number(value) < 0.85 ? 'eased' : 'without ease'} (${value} of even)`,
  'ease.in': ({ value }, part) => `${part} stops ${Number(value) < 0.85 ? 'eased' : 'without ease'} (${value} of even)`,
  'gait.contact': ({ value }, part) => `${part} lands at frame ${value}`,
  'gait.down': ({ value }, part) => `on ${part} the hips are lowest at frame ${value}`,
  'gait.passing': ({ value }, part) => `the free foot passes ${part} at frame ${value}`,
  'gait.up': ({ value }, part) => `on ${part} the hips are highest at frame ${value}`,
  'gait.step': ({ value, detail }) =>
    `a step takes ${value} frames${Number(detail?.unevenness) > 0 ? `, ${Number(detail!.unevenness).toFixed(0)} % more on one side` : ''}`,
  'gait.stance': ({ value }, part) => `${part} is planted for ${value} % of the cycle`,
  'gait.flight': ({ value }) =>
    value === 0 ? 'one foot at least is always on the ground' : `no foot is on the ground for ${value} frames a cycle`,
  'gait.lowAfter': ({ value }) =>
    Number(value) <= 0 ? 'the hips are lowest on the contact' : `the hips are lowest ${value} frames after the contact`,
  'gait.slide': (r, part) => `${part} slides ${r.value} %L${between(r)} while it is planted`,
  'gait.even': ({ value }, part) =>
    `the planted foot of ${part} travels ${Number(value) > 0.995 ? 'evenly' : `unevenly (R² ${value})`}`,
  'gait.depth': (r, part) =>
    r.value === 0 ? `${part} stays above the ground` : `${part} sinks ${r.value} %L through the ground ${at(r)}`,
  'gait.float': ({ value }, part) =>
    value === 0 ? `${part} comes down to the ground` : `${part} stays ${value} %L over the ground`,
  'gait.stepLength': ({ value }) => `at contact the feet are ${value} %L apart`,
  'gait.track': ({ value }) => `the feet land ${value} %L apart across`,
  'gait.froude': ({ value }) => `the Froude number is ${value}`,
  'gait.bob': ({ value }) => `the hips go up and down by ${value} %L`,
  'gait.opposition': ({ value }, part) =>
    `${part} swings ${Number(value) < -0.5 ? 'against' : Number(value) > 0.5 ? 'with' : 'neither with nor against'} the leg of its side (${value})`,
  'gait.shift': ({ value, detail }) =>
    `the hips shift ${detail?.amplitude} %L, ${Number(value) > 0.5 ? 'over the carrying foot' : 'not over the carrying foot'} (${value})`,
  'gait.pelvis': ({ value }) => `the hips turn ${Number(value) > 0.5 ? 'with' : 'not with'} the leading leg (${value})`,
  'take.anticipation': (r) =>
    r.value === 0
      ? 'the head does not go down before the accent'
      : `before the accent the head goes down by ${r.value} % of the figure's height ${at(r)}`,
  'take.accent': (r) =>
    r.value === 0
      ? 'the head does not rise to an accent'
      : `on the accent the head rises ${r.value} % of the figure's height ${at(r)}`,
  'take.accentHold': ({ value }) => (value === 0 ? 'the accent is not held' : `the accent is held for ${value} frames`),
  'look.count': ({ value }) =>
    `the head holds ${value} ${value === 1 ? 'look' : 'looks'} away from where it mostly faces`,
  'look.frames': ({ value, detail }) =>
    `the look to the ${Number(detail?.degrees) > 0 ? 'left' : 'right'} from ${detail?.from} to ${detail?.to} lasts ${value} frames`,
  'starts.together': (r) =>
    `${(100 * Number(r.value)).toFixed(0)} % of the moving parts start together ${at(r)}: ${(r.detail?.parts as string[]).map(partName).join(', ')}`,
  activity: ({ value, detail }) =>
    `the liveliest part is ${partName(String(detail?.liveliest))}, ${value}° a frame at its peak`,
  'attention.clash': ({ value }) => `both act at once in ${value} % of the frames`,
  'keys.partial': (r) => `some channels have no key where most have one ${at(r)}`,
  'stray.motion': ({ value, unit }, part) =>
    value === 0
      ? `${part} ${unit === '°' ? 'does not turn' : 'stays where it is'}`
      : `${part} should be still and ${unit === '°' ? `turns by ${value}°` : `moves by ${value} %L`}`,
  'camera.shake': ({ value }) => `the camera shakes by ${value}°`,
  'breath.cycle': ({ value, detail }) =>
    `a breath takes ${value} frames, in ${detail?.in} and out ${detail?.out}, with ${detail?.degrees}° of lean`,
  'breath.ratio': ({ value }) =>
    Number(value) >= 1
      ? `breathing in takes ${value} times as long as out`
      : `breathing out is slower than in (in over out ${value})`,
  'jump.crouch': ({ value, detail }) =>
    Number(value) < 1
      ? 'the body leaves the ground without a crouch'
      : `before take-off the hips go down by ${value} %L, for ${detail?.frames} frames`,
  'jump.takeoff': ({ value }) => `the feet leave the ground after frame ${value}`,
  'jump.apex': ({ value }) => `the body is highest at frame ${value}`,
  'jump.landing': ({ value }) => `the feet land at frame ${value}`,
  'jump.air': ({ value }) => `the body is in the air for ${value} frames`,
  'jump.rise': ({ value }) => `the body rises ${value} %L after take-off`,
  'jump.gravity': ({ value }) =>
    Number(value) < 0.85
      ? `the body floats: it falls at ${value} of gravity`
      : Number(value) > 1.15
        ? `the body falls too hard, at ${value} of gravity`
        : `the body falls as things fall (${value} of gravity)`,
  'jump.parabola': ({ value }) =>
    Number(value) > 0.99
      ? `in the air the body keeps to its parabola (R² ${value})`
      : `in the air the body leaves its parabola (R² ${value})`,
  'jump.squash': ({ value }) =>
    Number(value) < 1 ? 'the landing is not taken up by the knees' : `after landing the hips go down by ${value} %L`,
  'jump.settle': ({ value }) => `the body rests ${value} frames after it landed`,
  'gait.counter': ({ value, detail }) =>
    `the chest turns ${Number(value) < -0.3 ? 'against' : 'not against'} the hips (${value}), ${detail?.lag} frames later`,
  'gait.knee': (r, part) => (r.value === 0 ? `no knee pop on ${part}` : `the knee of ${part} snaps straight ${at(r)}`),
};

const between = ({ frames = [] }: Reading): string =>
  frames.length === 2 ? ` between frames ${smallestOf(frames)} and ${largestOf(frames)}` : '';

const at = ({ frames = [] }: Reading): string => {
  const shown = frames.slice(0, 8);
  return `at frame${shown.length === 1 ? '' : 's'} ${shown.join(', ')}${frames.length > 8 ? ` and ${frames.length - 8} more` : ''}`;
};

const PARTS: Readonly<Record<string, string>> = {
  'hand.L': 'the left hand',
  'hand.R': 'the right hand',
  hips: 'the middle of the hips',
  head: 'the head',
  'leg.L': 'the left leg',
  'leg.R': 'the right leg',
  'arm.L': 'the left arm',
  'arm.R': 'the right arm',
};

const partName = (part: string): string => PARTS[part] ?? part.replace(/^chain:/, '');

/** Ids of the readings that have a sentence of their own. */
export const SAID_IDS: ReadonlySet<string> = new Set(Object.keys(SAY));

/** A reading as a sentence without a full stop, such as “the left hand pops at frame 9”. */
export function sayReading(reading: Reading): string {
  const part = reading.part === undefined ? 'whole body' : partName(reading.part);
  const value = typeof reading.value === 'number' ? Number(reading.value.toFixed(2)) : reading.value;
  return SAY[reading.id]?.({ ...reading, value }, part) ?? `${reading.id}: ${String(reading.value)} ${reading.unit}`;
}
