import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { Role } from '@ypsigraph/core/motion/role';
import { joint, limb, line, type Place, shape, sheet, wobble } from './pencil.ts';

/** How a motion is drawn. */
export interface DrawnFigure {
  readonly width: number;
  readonly height: number;
  /** Pixels a leg is long. */
  readonly leg: number;
  /** Where the ground lies, pixels from the top. */
  readonly ground: number;
  /** How far the camera has gone to the right by a frame, pixels: what is drawn goes the other way. */
  readonly pan?: (frame: number) => number;
  /** A puppet of cut paper in place of a pencil drawing. */
  readonly cutOut?: boolean;
}

/** Points of a drawing by their names, in the picture's pixels, y down. */
export type DrawnPoints = Readonly<Record<string, Place>>;

const NAMES: Readonly<Record<string, Role>> = {
  hips: 'hips',
  chest: 'chest',
  neck: 'neck',
  head: 'head',
  'shoulder.L': 'upperArm.L',
  'shoulder.R': 'upperArm.R',
  'elbow.L': 'foreArm.L',
  'elbow.R': 'foreArm.R',
  'hand.L': 'hand.L',
  'hand.R': 'hand.R',
  'hip.L': 'thigh.L',
  'hip.R': 'thigh.R',
  'knee.L': 'shin.L',
  'knee.R': 'shin.R',
  'ankle.L': 'foot.L',
  'ankle.R': 'foot.R',
  'toe.L': 'toe.L',
  'toe.R': 'toe.R',
};

/** Where a figure's points are on the drawing of a frame, seen from its right side: it goes to the right. */
export function pointsOf(shot: PreparedShot, frame: number, drawn: DrawnFigure): DrawnPoints {
  const { axes, world, motion, roles, scale } = shot;
  const count = motion.joints.length;
  const pixels = drawn.leg / scale.legLength;
  const shift = drawn.pan?.(frame) ?? 0;
  const along = (axis: readonly number[], at: number): number =>
    [0, 1, 2].reduce((sum, c) => sum + world.positions[at + c]! * axis[c]!, 0);
  const points: Record<string, Place> = {};
  for (const [name, role] of Object.entries(NAMES)) {
    const own = roles[role];
    if (own === undefined) continue;
    const at = 3 * (frame * count + own);
    points[name] = [
      drawn.width / 2 + pixels * along(axes.forward, at) - shift,
      drawn.ground - pixels * along(axes.up, at),
    ];
  }
  const { head, neck } = points;
  if (head && neck) {
    // The hat's tip stands above and a little behind the head, and leans as it leans.
    const [ux, uy] = [head[0] - neck[0], head[1] - neck[1]];
    const up = Math.hypot(ux, uy) || 1;
    const reach = 0.5 * drawn.leg;
    points['hat tip'] = [
      head[0] + (reach * (0.94 * ux + 0.34 * uy)) / up,
      head[1] + (reach * (0.94 * uy - 0.34 * ux)) / up,
    ];
  }
  return points;
}

/** The drawing of a frame as SVG: the letter carrier in pencil, or cut out of paper. */
export function drawFigure(points: DrawnPoints, drawing: number, drawn: DrawnFigure, shift = 0): string {
  const { width, height, leg, ground, cutOut = false } = drawn;
  const hand = wobble(drawing + 1);
  const ink = cutOut ? '#26323d' : '#34393f';
  const at = (name: string): Place => points[name] ?? [0, 0];
  const w = leg / 200;
  const fills = cutOut
    ? { far: '#8fa6a0', near: '#c9b27a', body: '#4d6a86', head: '#e3c9a4', hat: '#7c3b3b' }
    : { far: '#ece7da', near: '#fbf9f2', body: '#f5f1e6', head: '#fbf9f2', hat: '#dcd5c4' };
  const leg2 = (side: string, fill: string): string =>
    limb(at(`hip.${side}`), at(`knee.${side}`), [19 * w, 13 * w], fill, ink) +
    limb(at(`knee.${side}`), at(`ankle.${side}`), [13 * w, 9 * w], fill, ink) +
    limb(at(`ankle.${side}`), at(`toe.${side}`), [11 * w, 8 * w], fill, ink) +
    joint(at(`knee.${side}`), 5 * w, ink) +
    joint(at(`ankle.${side}`), 5 * w, ink) +
    joint(at(`toe.${side}`), 4 * w, ink);
  const arm = (side: string, fill: string): string =>
    limb(at(`shoulder.${side}`), at(`elbow.${side}`), [13 * w, 9 * w], fill, ink) +
    limb(at(`elbow.${side}`), at(`hand.${side}`), [9 * w, 8 * w], fill, ink) +
    joint(at(`elbow.${side}`), 4.5 * w, ink) +
    joint(at(`hand.${side}`), 6 * w, ink);
  const [head, tip] = [at('head'), at('hat tip')];
  const [ux, uy] = [tip[0] - head[0], tip[1] - head[1]];
  const long = Math.hypot(ux, uy) || 1;
  const [px, py] = [(-uy / long) * 26 * w, (ux / long) * 26 * w];
  const brim: Place = [head[0] + ux * 0.3, head[1] + uy * 0.3];
  const hat =
    shape([[brim[0] - px, brim[1] - py], [brim[0] + px, brim[1] + py], tip], fills.hat, ink) +
    line([brim[0] - 1.35 * px, brim[1] - 1.35 * py], [brim[0] + 1.35 * px, brim[1] + 1.35 * py], 3, hand, ink) +
    `<circle cx="${tip[0].toFixed(2)}" cy="${tip[1].toFixed(2)}" r="${(7 * w).toFixed(2)}" fill="${ink}"/>`;
  const body =
    harbour(width, ground, shift, cutOut) +
    arm('L', fills.far) +
    leg2('L', fills.far) +
    limb(at('hips'), at('chest'), [25 * w, 29 * w], fills.body, ink) +
    limb(at('chest'), at('neck'), [20 * w, 10 * w], fills.body, ink) +
    leg2('R', fills.near) +
    joint(at('hips'), 8 * w, ink) +
    joint(at('chest'), 6 * w, ink) +
    `<circle cx="${head[0].toFixed(2)}" cy="${(head[1] - 4 * w).toFixed(2)}" r="${(33 * w).toFixed(2)}" fill="${fills.head}" stroke="${ink}" stroke-width="2.2"/>` +
    joint(head, 5 * w, ink) +
    hat +
    arm('R', fills.near);
  return sheet(width, height, body, cutOut ? '#e9eef0' : undefined);
}

/** Bollards that stand on the quay: what stays where it is while a camera goes by. */
export const BOLLARDS: readonly number[] = [-700, 60, 330, 980, 1300, 1700, 2200];

function harbour(width: number, ground: number, shift: number, cutOut: boolean): string {
  const hand = wobble(5);
  const ink = cutOut ? '#5f6f78' : '#6b7075';
  let own = line([0, ground + 6], [width, ground + 6], 2, hand, ink);
  for (const x of BOLLARDS) {
    const [left, top] = [x - shift, ground - 34];
    if (left < -60 || left > width + 60) continue;
    own +=
      `<path d="M${left - 12} ${ground + 6}V${top + 8}Q${left} ${top - 10} ${left + 12} ${top + 8}V${ground + 6}Z" fill="none" stroke="${ink}" stroke-width="2"/>` +
      `<path d="M${left - 7} ${top + 14}L${left + 7} ${top + 26}M${left + 7} ${top + 14}L${left - 7} ${top + 26}" stroke="${ink}" stroke-width="2"/>`;
  }
  return own;
}
