import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { quatAt, rotate, vec3At } from '@ypsigraph/core/motion/quaternion';
import { add } from '@ypsigraph/core/motion/vector';
import type { PaperPoint, PaperScene } from './paper-scene.ts';

/** A figure at one of its samples. */
export interface Posed {
  readonly shot: PreparedShot;
  readonly sample: number;
}

/** Where a place of another figure lies in one's own axes, units and size. */
export type Transfer = (x: number, y: number, z: number) => [number, number, number];

/**
 * Lays another figure's places where one's own stands: the other's hips on one's own hips, along each figure's own left, up and forward, so that neither
 * its axes nor its size matter.
 */
export function transferTo(own: Posed, other: Posed): Transfer {
  const [mine, theirs] = [own.shot, other.shot];
  const at = (of: Posed): number => 3 * (of.sample * of.shot.motion.joints.length + (of.shot.roles.hips ?? 0));
  const [here, there] = [at(own), at(other)];
  const size = mine.scale.legLength / theirs.scale.legLength;
  const [p, q] = [theirs.world.positions, mine.world.positions];
  return (x, y, z) => {
    const away = (axis: readonly number[]): number =>
      size * ((x - p[there]!) * axis[0]! + (y - p[there + 1]!) * axis[1]! + (z - p[there + 2]!) * axis[2]!);
    const [l, u, f] = [away(theirs.axes.left), away(theirs.axes.up), away(theirs.axes.forward)];
    return [0, 1, 2].map(
      (c) => q[here + c]! + l * mine.axes.left[c]! + u * mine.axes.up[c]! + f * mine.axes.forward[c]!,
    ) as [number, number, number];
  };
}

/** Draws another figure behind one's own, broad and pale, its hips where these are. */
export function drawBehind(
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  own: Posed,
  other: Posed,
  ink: string,
  width = 9,
): void {
  traceBones(context, other, placesOf(scene, own.sample, other, transferTo(own, other)));
  context.lineCap = 'round';
  context.strokeStyle = ink;
  context.globalAlpha = 0.32;
  context.lineWidth = width;
  context.stroke();
  context.globalAlpha = 1;
}

/** Places of a figure's joints on the paper. */
function placesOf(scene: PaperScene, at: number, { shot, sample }: Posed, transfer: Transfer): PaperPoint[] {
  const n = shot.motion.joints.length;
  const p = shot.world.positions;
  return shot.motion.joints.map((_, joint) => {
    const k = 3 * (sample * n + joint);
    return scene.projectWorld(at, ...transfer(p[k]!, p[k + 1]!, p[k + 2]!), { x: 0, y: 0, depth: 0 });
  });
}

/** The far end of a bone that no joint hangs from: the crown of a head, the tips of hands and feet. */
interface Tip {
  readonly joint: number;
  readonly at: PaperPoint;
}

/** Ends of bones on the paper. */
function tipsOf(scene: PaperScene, at: number, { shot, sample }: Posed, transfer: Transfer): Tip[] {
  const n = shot.motion.joints.length;
  const { positions, rotations } = shot.world;
  return shot.motion.joints.flatMap(({ ends }, joint) => {
    const k = sample * n + joint;
    return ends.map((end): Tip => {
      const [x, y, z] = add(vec3At(positions, k), rotate(quatAt(rotations, k), end));
      return { joint, at: scene.projectWorld(at, ...transfer(x, y, z), { x: 0, y: 0, depth: 0 }) };
    });
  });
}

/** Bones as one path: those that are wanted, without the one that leads to the hips. */
function traceBones(
  context: CanvasRenderingContext2D,
  { shot }: Posed,
  places: readonly PaperPoint[],
  wanted: (joint: number, parent: number) => boolean = () => true,
): void {
  const top = shot.roles.hips ?? 0;
  context.beginPath();
  shot.motion.joints.forEach(({ parent }, joint) => {
    if (parent < 0 || joint === top || !wanted(joint, parent)) return;
    context.moveTo(places[parent]!.x, places[parent]!.y);
    context.lineTo(places[joint]!.x, places[joint]!.y);
  });
}

/** A joint that lies nearer than this to where it was, pixels, has not moved. */
const MOVED = 1.5;
const SAME_PLACE: Transfer = (x, y, z) => [x, y, z];

/** A joint, or the end of its bone, that lies elsewhere in another figure of the same rig: where it is, and where it is there. */
export interface Moved {
  readonly joint: number;
  readonly here: PaperPoint;
  readonly there: PaperPoint;
}

const awayOf = ({ here, there }: Omit<Moved, 'joint'>): number => Math.hypot(here.x - there.x, here.y - there.y);

/** Every joint and end of a bone, where it is and where another figure of the same rig has it. */
function bothOf(scene: PaperScene, own: Posed, other: Posed): { joints: Moved[]; tips: Moved[] } {
  const [here, there] = [own, other].map((posed) => placesOf(scene, own.sample, posed, SAME_PLACE));
  const [mine, theirs] = [own, other].map((posed) => tipsOf(scene, own.sample, posed, SAME_PLACE));
  return {
    joints: here!.map((place, joint) => ({ joint, here: place, there: there![joint]! })),
    tips: mine!.map(({ joint, at }, k) => ({ joint, here: at, there: theirs![k]!.at })),
  };
}

/** What of one’s own figure lies farthest from where another one of the same rig has it, on the paper. */
export function farthestMoved(scene: PaperScene, own: Posed, other: Posed): Moved | undefined {
  const { joints, tips } = bothOf(scene, own, other);
  return [...joints, ...tips].reduce<Moved | undefined>(
    (best, next) => (best && awayOf(best) >= awayOf(next) ? best : next),
    undefined,
  );
}

/** Draws a figure of the same rig over one’s own, where it is: the bones that lie elsewhere, dotted, with a halo, so that they are told from what they lie over. */
export function drawGhost(
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  own: Posed,
  other: Posed,
  ink: string,
  halo: string,
): void {
  const { joints, tips } = bothOf(scene, own, other);
  const moved = joints.map((one) => awayOf(one) > MOVED);
  const places = joints.map(({ there }) => there);
  traceBones(context, other, places, (joint, parent) => moved[joint]! || moved[parent]!);
  for (const tip of tips) {
    if (!moved[tip.joint] && awayOf(tip) <= MOVED) continue;
    context.moveTo(places[tip.joint]!.x, places[tip.joint]!.y);
    context.lineTo(tip.there.x, tip.there.y);
  }
  context.lineCap = 'round';
  context.lineJoin = 'round';
  for (const [colour, width] of [
    [halo, 7],
    [ink, 4],
  ] as const) {
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.setLineDash([0.5, 8]);
    context.stroke();
  }
  context.setLineDash([]);
}
