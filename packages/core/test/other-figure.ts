// The lighthouse keeper: a figure that shares nothing with the exemplars' figure but the mathematics of rotations. Other proportions, other
// names, arms at rest half way down, and feet that are planted as prints in the world and left standing there: what it does is known.
import type { Joint, Motion } from '../src/motion/motion.ts';
import {
  axisAngle,
  conjugate,
  fromBasis,
  multiply,
  type Quat,
  rotate,
  rotateX,
  rotateY,
  rotateZ,
} from '../src/motion/quaternion.ts';
import { add, cross, dot, length, normalise, reject, scale, subtract, type Vec3 } from '../src/motion/vector.ts';

export interface KeeperWalk {
  /** Frames of each cycle. */
  readonly cycles: readonly number[];
  readonly fps: number;
  /** Frames behind the whole cycles; negative: so many are missing. */
  readonly more: number;
  /** 1: it travels; 0: on the spot. */
  readonly travel: 0 | 1;
  /** Way of a cycle, leg lengths; negative walks backwards. */
  readonly stride: number;
  /** Share of a cycle a foot stands. */
  readonly stance: number;
  /** Share of a cycle from the left foot's contact to the right one's. */
  readonly limp: number;
  /** Degrees the path turns by over the whole shot. */
  readonly turns: number;
  /** Height of the hips' bob and its low after the contact, shares of a leg and of a cycle. */
  readonly bob: number;
  readonly low: number;
  /** Swing of the arms in each cycle, degrees. */
  readonly arms: readonly number[];
  /** Frames each arm joint is behind the one before. */
  readonly drag: number;
  /** Bend of the elbow about which the forearm swings, degrees. */
  readonly elbow: number;
  readonly lift: number;
  /** The whole figure so much higher, leg lengths. */
  readonly raised: number;
  readonly toes: boolean;
  /** The heel stands so much higher over the sole at rest, cm: a foot on its toes. */
  readonly heel: number;
  /** A jolt: so many degrees on a joint at a frame (0-based). */
  readonly jolt?: { readonly joint: string; readonly frame: number; readonly degrees: number };
}

export const KEEPER_WALK: KeeperWalk = {
  cycles: [24],
  fps: 24,
  more: 1,
  travel: 0,
  stride: 1.35,
  stance: 0.6,
  limp: 0.5,
  turns: 0,
  bob: 0.035,
  low: 0.08,
  arms: [26],
  drag: 1.2,
  elbow: 20,
  lift: 0.16,
  raised: 0,
  toes: true,
  heel: 0,
};

const THIGH = 46;
const SHIN = 44;
const LEG = THIGH + SHIN;
const ANKLE = 8;
const TAU = 2 * Math.PI;
/** Toes up at the contact, degrees, and the share of a cycle in which the foot comes flat. */
const LANDING = 18;
const ROLL = 0.09;
/** A leg is never straighter than a knee of 167° makes it. */
const REACH = Math.sqrt(THIGH ** 2 + SHIN ** 2 - 2 * THIGH * SHIN * Math.cos((167 * Math.PI) / 180));
const SIDES = [
  ['Left', 1],
  ['Right', -1],
] as const;

/** Y up, facing Z, centimetres. */
function keeperJoints({ toes, heel }: KeeperWalk): Joint[] {
  const joints: Joint[] = [];
  const at = new Map<string, number>();
  const put = (name: string, parent: string | null, offset: Vec3, ends: Vec3[] = []): void => {
    at.set(name, joints.length);
    joints.push({ name: `Keeper_${name}_j`, parent: parent === null ? -1 : at.get(parent)!, offset, ends });
  };
  put('Pelvis', null, [0, 0, 0]);
  put('Back', 'Pelvis', [0, 12, 0]);
  put('Chest', 'Back', [0, 18, 0]);
  put('Neck', 'Chest', [0, 24, 0]);
  put('Head', 'Neck', [0, 8, 1], [[0, 22, 0]]);
  for (const [side, k] of SIDES) {
    put(`Collar${side}`, 'Chest', [3 * k, 19, 0]);
    put(`UpperArm${side}`, `Collar${side}`, [15 * k, 0, 0]);
    put(`Elbow${side}`, `UpperArm${side}`, [22 * k, -22, 0]);
    put(`Wrist${side}`, `Elbow${side}`, [18 * k, -18, 0], [[12 * k, -12, 0]]);
  }
  for (const [side, k] of SIDES) {
    put(`Thigh${side}`, 'Pelvis', [9 * k, -3, 0]);
    put(`Knee${side}`, `Thigh${side}`, [0, -THIGH, 0]);
    put(`Ankle${side}`, `Knee${side}`, [0, -SHIN, 0], toes ? [] : [[0, -ANKLE - heel, 16]]);
    if (toes) put(`Toe${side}`, `Ankle${side}`, [0, -ANKLE + 2 - heel, 13], [[0, -2, 8]]);
  }
  return joints;
}

const ease = (u: number): number => u * u * u * (10 - 15 * u + 6 * u * u);

/** When the feet land, as samples with fractions: what a detector should find to a frame. */
export function keeperLandings(walk: KeeperWalk): { side: 'L' | 'R'; at: number }[] {
  let start = 0;
  return walk.cycles.flatMap((frames) => {
    const own = [
      { side: 'L' as const, at: start },
      { side: 'R' as const, at: start + walk.limp * frames },
    ];
    start += frames;
    return own;
  });
}

/** A walk of the keeper. */
export function keeperWalk(changes: Partial<KeeperWalk> = {}): Motion {
  const walk = { ...KEEPER_WALK, ...changes };
  const joints = keeperJoints(walk);
  const total = walk.cycles.reduce((a, b) => a + b, 0);
  const frames = total + walk.more;
  const n = joints.length;
  const rotations = new Float64Array(4 * n * frames);
  const translations = new Float64Array(3 * frames);
  const index = new Map(joints.map(({ name }, j) => [name.slice(7, -2), j]));
  const phaseAt = phases(walk);
  const base = highest(walk);
  for (let f = 0; f < frames; f++) {
    const { hips, local } = pose(walk, phaseAt(f), base);
    translations.set(hips, 3 * f);
    joints.forEach((_, j) => rotations.set([0, 0, 0, 1], 4 * (f * n + j)));
    for (const [name, q] of Object.entries(local)) rotations.set(q, 4 * (f * n + index.get(name)!));
    if (walk.jolt?.frame === f) {
      const k = 4 * (f * n + index.get(walk.jolt.joint)!);
      const q = multiply([...rotations.subarray(k, k + 4)] as unknown as Quat, rotateX(walk.jolt.degrees));
      rotations.set(q, k);
    }
  }
  return { joints, frames, fps: walk.fps, rotations, moving: [0], translations };
}

/** Cycles gone through at a frame: whole part the number of the cycle. */
function phases({ cycles }: KeeperWalk): (frame: number) => number {
  return (frame) => {
    let left = frame;
    for (let c = 0; c < cycles.length; c++) {
      if (left < cycles[c]! - 1e-9) return c + left / cycles[c]!;
      left -= cycles[c]!;
    }
    return cycles.length + left / cycles.at(-1)!;
  };
}

/** Where the figure is and which way it faces after so many cycles. */
function route({ stride, turns, cycles }: KeeperWalk, gone: number): { place: Vec3; heading: number } {
  const all = cycles.length;
  const heading = (turns * gone) / all;
  if (turns === 0) return { place: [0, 0, stride * LEG * gone], heading: 0 };
  const radius = (stride * LEG * all) / ((turns * Math.PI) / 180);
  const angle = (heading * Math.PI) / 180;
  return { place: [radius * (1 - Math.cos(angle)), 0, radius * Math.sin(angle)], heading };
}

/** The ankle and the pitch of a foot after so many cycles, in the world. */
function footAt(walk: KeeperWalk, gone: number, side: 1 | -1): { ankle: Vec3; pitch: number; heading: number } {
  const own = gone - (side < 0 ? walk.limp : 0);
  const number = Math.floor(own);
  const u = own - number;
  const print = (k: number): { place: Vec3; heading: number } => {
    // It passes under the hips a quarter of a cycle after its contact: as far ahead there as it trails when the other lands.
    const middle = route(walk, k + (side < 0 ? walk.limp : 0) + Math.min(0.25, walk.stance / 2));
    const aside = rotate(rotateY(middle.heading), [side * 6, 0, 0]);
    return { place: add(middle.place, aside), heading: middle.heading };
  };
  const here = print(number);
  const up: Vec3 = [0, ANKLE + walk.heel, 0];
  const onItsHeel = (toesUp: number, heading: number): Vec3 => {
    const heel: Vec3 = [0, -ANKLE - walk.heel, -3];
    return rotate(rotateY(heading), subtract(heel, rotate(rotateX(-toesUp), heel)));
  };
  // It lands on its heel, toes up, and comes flat in two frames of 24; one that walks backwards lands flat.
  const landing = walk.stride > 0 ? LANDING * Math.min(1, walk.stride / 1.35) : 0;
  if (u < ROLL) {
    const pitch = landing * (1 - u / ROLL);
    return { ankle: add(here.place, add(up, onItsHeel(pitch, here.heading))), pitch: -pitch, heading: here.heading };
  }
  if (u < walk.stance) {
    // The heel rises at the end of the stand; the ball stays where it is.
    const rise = Math.max(0, (u / walk.stance - 0.65) / 0.35);
    const pitch = walk.stride > 0 ? 24 * rise * rise : 0;
    const ball: Vec3 = walk.toes ? [0, -ANKLE + 2 - walk.heel, 13] : [0, -ANKLE - walk.heel, 16];
    const lifted = subtract(ball, rotate(rotateX(pitch), ball));
    return { ankle: add(here.place, add(up, rotate(rotateY(here.heading), lifted))), pitch, heading: here.heading };
  }
  const next = print(number + 1);
  const v = (u - walk.stance) / (1 - walk.stance);
  const start = footAt(walk, number + (side < 0 ? walk.limp : 0) + walk.stance - 1e-6, side);
  const way = ease(v);
  const target = add(next.place, add(up, onItsHeel(landing, next.heading)));
  const flat = add(scale(start.ankle, 1 - way), scale(target, way));
  const lift = walk.lift * LEG * Math.sin(Math.PI * v) ** 2;
  return {
    ankle: add(flat, [0, lift, 0]),
    pitch: start.pitch * (1 - ease(Math.min(1, 1.5 * v))) - landing * ease(Math.max(0, (v - 0.4) / 0.6)),
    heading: start.heading + way * (next.heading - start.heading),
  };
}

/** Where the hips are over the route, and how the pelvis is turned, for a height they would have. */
function hipsAt(walk: KeeperWalk, gone: number, base: number): { hips: Vec3; pelvis: Quat; face: Quat; place: Vec3 } {
  const wave = (delay: number): number => Math.cos(TAU * (gone - delay));
  const { place, heading } = route(walk, gone);
  const face = rotateY(heading);
  const aside = rotate(face, [2.6 * wave(walk.stance / 2), 0, 0]);
  const height = base - walk.bob * LEG * (0.5 + 0.5 * Math.cos(2 * TAU * (gone - walk.low)));
  const pelvis = multiply(face, multiply(rotateY(-5 * Math.sign(walk.stride) * wave(0)), rotateZ(2.5 * wave(0.22))));
  return { hips: add(add(place, aside), [0, height, 0]), pelvis, face, place };
}

/** The greatest height of the hips at which both legs reach their feet all the time. */
function highest(walk: KeeperWalk): number {
  let base = Infinity;
  for (let i = 0; i < 96; i++) {
    const gone = i / 96;
    const { hips, pelvis } = hipsAt(walk, gone, 0);
    for (const [, side] of SIDES) {
      const hip = add(hips, rotate(pelvis, [9 * side, -3, 0]));
      const { ankle } = footAt(walk, gone, side);
      const over = Math.hypot(ankle[0] - hip[0], ankle[2] - hip[2]);
      base = Math.min(base, ankle[1] - hip[1] + Math.sqrt(Math.max(0, REACH ** 2 - over ** 2)));
    }
  }
  return base;
}

function pose(walk: KeeperWalk, gone: number, base: number): { hips: Vec3; local: Record<string, Quat> } {
  const cycle = Math.floor(gone + 1e-9);
  const wave = (delay: number): number => Math.cos(TAU * (gone - delay));
  const one = walk.cycles[Math.min(cycle, walk.cycles.length - 1)]!;
  const { hips: at0, pelvis, face, place } = hipsAt(walk, gone, base);
  let hips = at0;
  const chest = multiply(face, multiply(rotateY(6 * Math.sign(walk.stride) * wave(0.04)), rotateX(3)));
  const local: Record<string, Quat> = { Pelvis: pelvis };
  const spine = multiply(face, multiply(rotateY(0.6 * wave(0.02)), rotateX(1.5)));
  local.Back = multiply(conjugate(pelvis), spine);
  local.Chest = multiply(conjugate(spine), chest);
  const head = multiply(face, rotateY(0.8 * wave(0.06)));
  local.Neck = multiply(conjugate(chest), head);
  const at = (parent: Vec3, turn: Quat, offset: Vec3): Vec3 => add(parent, rotate(turn, offset));
  for (const [name, side] of SIDES) {
    // Arm back while the leg of its side leads.
    const amplitude = walk.arms[Math.min(cycle, walk.arms.length - 1)]!;
    const from = side > 0 ? 0 : walk.limp;
    const swing = (delay: number): number => -Math.sign(walk.stride) * Math.cos(TAU * (gone - from - delay / one));
    const rest = normalise([side, -1, 0]);
    const upper = multiply(
      face,
      multiply(rotateX(-amplitude * swing(walk.drag)), turnTo(rest, normalise([0.12 * side, -1, 0]))),
    );
    local[`Collar${name}`] = rotateY(0.08 * amplitude * -side * swing(0));
    const collar = multiply(chest, local[`Collar${name}`]!);
    local[`UpperArm${name}`] = multiply(conjugate(collar), upper);
    const bend = walk.elbow + 0.5 * amplitude * swing(2 * walk.drag);
    const inside = rotate(conjugate(upper), rotate(face, [1, 0, 0]));
    local[`Elbow${name}`] = axisAngle(normalise(inside), -bend);
    local[`Wrist${name}`] = axisAngle(normalise(inside), -5 - 0.3 * amplitude * swing(3 * walk.drag));
    const foot = footAt(walk, gone, side);
    const hip = at(hips, pelvis, [9 * side, -3, 0]);
    const legs = solveLeg(hip, foot.ankle, rotate(rotateY(foot.heading), [0, 0, 1]));
    local[`Thigh${name}`] = multiply(conjugate(pelvis), legs.thigh);
    local[`Knee${name}`] = multiply(conjugate(legs.thigh), legs.shin);
    const sole = multiply(rotateY(foot.heading), rotateX(foot.pitch));
    local[`Ankle${name}`] = multiply(conjugate(legs.shin), sole);
    if (walk.toes) local[`Toe${name}`] = rotateX(-foot.pitch);
  }
  const raised: Vec3 = [0, walk.raised * LEG, 0];
  hips = add(hips, raised);
  if (walk.travel === 0) hips = subtract(hips, place);

  return { hips, local };
}

/** Thigh and shin that reach from a hip to an ankle with the knee ahead. */
function solveLeg(hip: Vec3, ankle: Vec3, ahead: Vec3): { thigh: Quat; shin: Quat } {
  const way = subtract(ankle, hip);
  const reach = Math.min(length(way), 0.999 * LEG);
  const down = normalise(way);
  const bend = Math.acos((THIGH ** 2 + reach ** 2 - SHIN ** 2) / (2 * THIGH * reach));
  const pole = normalise(reject(ahead, down));
  const thighWay = add(scale(down, Math.cos(bend)), scale(pole, Math.sin(bend)));
  const knee = add(hip, scale(thighWay, THIGH));
  const shinWay = normalise(subtract(add(hip, scale(down, reach)), knee));
  const across = normalise(cross(down, pole));
  const along = (bone: Vec3): Quat =>
    fromBasis(
      scale(across, -1 * Math.sign(dot(across, cross(down, pole)))),
      scale(bone, -1),
      normalise(cross(scale(across, -1), scale(bone, -1))),
    );
  return { thigh: along(thighWay), shin: along(shinWay) };
}

/** The shortest rotation from one direction to another. */
function turnTo(from: Vec3, to: Vec3): Quat {
  const axis = cross(from, to);
  const size = length(axis);
  if (size < 1e-12) return [0, 0, 0, 1];
  return axisAngle(scale(axis, 1 / size), (Math.atan2(size, dot(from, to)) * 180) / Math.PI);
}
