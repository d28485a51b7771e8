import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
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

/** Draws a figure of the same rig over one’s own, where it is: the bones that lie elsewhere, dotted, with a halo, so that they are told from what they lie over. */
export function drawGhost(
  context: CanvasRenderingContext2D,
  scene: PaperScene,
  own: Posed,
  other: Posed,
  ink: string,
  halo: string,
): void {
  const [here, there] = [own, other].map((posed) => placesOf(scene, own.sample, posed, SAME_PLACE)) as [
    PaperPoint[],
    PaperPoint[],
  ];
  const moved = here.map((place, joint) => Math.hypot(place.x - there[joint]!.x, place.y - there[joint]!.y) > MOVED);
  traceBones(context, other, there, (joint, parent) => moved[joint]! || moved[parent]!);
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
