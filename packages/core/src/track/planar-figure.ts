import type { Joint, Motion } from '../motion/motion.ts';
import type { ShotOptions } from '../motion/prepared-shot.ts';
import { FIGURE_ROLES, type Role, type SidedRole } from '../motion/role.ts';
import { median } from '../signal/statistics.ts';
import { pointRoles } from './point-roles.ts';
import { filledPlaces, type PointLayer, type PointTracks } from '../motion/point-tracks.ts';
import type { Vec3 } from '../motion/vector.ts';

/** Of distances hips–ankle the one at this share is a straight leg. */
const STRAIGHT = 0.95;
/** Frames in which a toe is this near its lowest, as a share of how far it goes up and down, show the foot flat. */
const FLAT = 0.15;
/** Share of the frames at which the lowest foot is under the ground: followed points tremble. */
const GROUND = 0.1;
/** A line shorter than this share of a leg does not say how it turns: a pixel more or less would turn it by degrees. */
const SHORT = 0.15;
/** Hips that go less than this share of a leg over the shot go nowhere. */
const GOES = 0.25;
/** Half the figure's width at rest, as a share of a leg: it tells left from right, and nothing else. */
const ASIDE = 0.05;

/** What each role hangs from: the first of these that is there. */
const SPINE: readonly Role[] = ['hips', 'spine', 'chest', 'neck', 'head'];
const LIMBS: readonly (readonly SidedRole[])[] = [
  ['clavicle', 'upperArm', 'foreArm', 'hand'],
  ['thigh', 'shin', 'foot', 'toe'],
];

/** Where a limb begins: what hangs from the trunk by itself. */
const ROOTS: readonly SidedRole[] = ['clavicle', 'upperArm', 'thigh'];

/** A figure made of points that were followed on pictures: a motion that lies in the picture's plane, and how it is to be taken. */
export interface PlanarFigure {
  readonly motion: Motion;
  /** Roles of points by their names, none guessed; how long a leg is, in pixels. */
  readonly options: Pick<ShotOptions, 'roles' | 'legLength' | 'firstFrame' | 'isFlat' | 'hasTurns'>;
  /** Height of the ground on the picture, pixels: the motion is told from there up. */
  readonly ground: number;
  /** The figure faces to the right (1) or to the left (−1) of the picture. */
  readonly facing: 1 | -1;
}

/** A joint on its way into the skeleton. */
interface Node {
  /** The point it lies on; of what only carries a limb the point that it hangs from. */
  readonly point: number;
  readonly carries?: Role;
  readonly role: Role | undefined;
  readonly parent: number;
  /** The next point of a row that it belongs to: a tail, a rope. */
  readonly next?: number;
  /** It is the first of such a row. */
  readonly begins?: true;
}

/**
 * Makes a figure of points, so that everything that is measured of a motion is measured of them by the same functions. Points with a role hang
 * from one another as the parts of a body do; a joint turns as the line to the next joint of its limb turns on the picture, about the axis that
 * points out of it. Points without a role stand by themselves. Places are the points' own at every frame: nothing is fitted.
 *
 * A leg is as long as it is when it is straight: the 95th percentile of the distance hips–ankle over the shot, of both sides; without hips or
 * ankles half the largest extent of all points. The figure faces where its toes point, or where it goes.
 *
 * @param level height of the ground where somebody has drawn it; else it lies under the feet
 * @param chains names of points in a row, upper end first: each hangs from the one before
 * @param roles role → index of its point; by their names where it is not given
 */
export function planarFigure(
  tracks: PointTracks,
  level?: number,
  chains: readonly (readonly string[])[] = [],
  roles: Partial<Record<Role, number>> = pointRoles(tracks.points.map(({ name }) => name)),
): PlanarFigure {
  const { points, frames, fps } = tracks;
  const seen = points.map(filledPlaces);
  const ground = level ?? groundUnder((role) => (roles[role] === undefined ? undefined : seen[roles[role]]), frames);
  const places = seen.map((path) => path.map((v, k) => (k % 2 === 1 ? v - ground : v)));
  const of = (role: Role): Float64Array | undefined => (roles[role] === undefined ? undefined : places[roles[role]]);
  const legLength = straightLeg(of, places, frames);
  const soles = (['L', 'R'] as const).flatMap((side) => {
    const box = points[roles[`foot.${side}`] ?? -1]?.layer?.box;
    return box ? [box] : [];
  });
  const facing = facingOf(of, frames, soles, legLength);
  const nodes = hierarchy(roles, points, rowsOf(chains, points, roles));
  const far = (k: number, to: number): number => {
    const [a, b] = [places[nodes[k]!.point]!, places[nodes[to]!.point]!];
    return median(
      Float64Array.from({ length: frames }, (_, f) => Math.hypot(b[2 * f]! - a[2 * f]!, b[2 * f + 1]! - a[2 * f + 1]!)),
    );
  };
  const lines = nodes.map((_, k) => lineOf(nodes, k, (to) => far(k, to) >= SHORT * legLength));

  /** Angle of the line from a node to where it leads, at a frame. */
  const angle = (k: number, to: number, f: number): number => {
    const [a, b] = [places[nodes[k]!.point]!, places[nodes[to]!.point]!];
    return Math.atan2(b[2 * f + 1]! - a[2 * f + 1]!, b[2 * f]! - a[2 * f]!);
  };
  /** The same angle at rest: the trunk up, arms and legs down, a toe as it lies when the foot is flat. */
  const restAngle = (to: number): number => {
    const { role } = nodes[to]!;
    const ankle = role?.startsWith('toe.') ? of(role.replace('toe', 'foot') as Role) : undefined;
    const toe = ankle && of(role!);
    if (ankle && toe) return flatFoot(ankle, toe, frames);
    return role && SPINE.includes(role) ? Math.PI / 2 : -Math.PI / 2;
  };
  const rest = lines.map((to) => (to < 0 ? 0 : restAngle(to)));
  const turns = nodes.map(({ point, carries }, k) =>
    carries === undefined
      ? turnsOverRest(points[point]!.layer, (f) => angle(k, lines[k]!, f) - rest[k]!, lines[k]!)
      : undefined,
  );
  /** Angle at which a joint lies from the one it hangs from at rest: of a layer as it is drawn on that one's layer. */
  const hangingAngle = (k: number, parent: number): number => {
    const before = turns[parent]?.[0];
    return before === undefined ? restAngle(k) : angle(parent, k, 0) - before;
  };
  const names = nodes.map(({ point, carries }) =>
    carries === undefined ? points[point]!.name : `${points[point]!.name} to ${points[roles[carries]!]!.name}`,
  );
  const joints = nodes.map(({ point, role, carries, parent }, k): Joint => {
    const side = (carries ?? role)?.slice(-2);
    const aside = side === '.L' ? -facing : side === '.R' ? facing : 0;
    const hangs = parent >= 0 && (nodes[parent]!.carries ?? nodes[parent]!.role)?.slice(-2) === side;
    const length = parent < 0 || carries !== undefined ? 0 : far(parent, k);
    const direction = length > 0 ? hangingAngle(k, parent) : 0;
    return {
      name: names[k]!,
      parent,
      offset: [length * Math.cos(direction), length * Math.sin(direction), hangs ? 0 : aside * ASIDE * legLength],
      ends: endsOf(nodes[k]!, points[point]!.layer, roles, facing),
    };
  });

  const n = nodes.length;
  const rotations = new Float64Array(4 * n * frames);
  const translations = new Float64Array(3 * n * frames);
  const turned = new Float64Array(n);
  for (let f = 0; f < frames; f++)
    nodes.forEach(({ point, parent }, k) => {
      const before = parent < 0 ? 0 : turned[parent]!;
      const to = lines[k]!;
      turned[k] = turns[k]?.[f] ?? (to < 0 ? before : angle(k, to, f) - rest[k]!);
      const half = (turned[k] - before) / 2;
      rotations[4 * (f * n + k) + 2] = Math.sin(half);
      rotations[4 * (f * n + k) + 3] = Math.cos(half);
      const p = places[point]!;
      const from = parent < 0 ? undefined : places[nodes[parent]!.point]!;
      const [x, y] = [p[2 * f]! - (from?.[2 * f] ?? 0), p[2 * f + 1]! - (from?.[2 * f + 1] ?? 0)];
      const [c, s] = [Math.cos(-before), Math.sin(-before)];
      translations.set([c * x - s * y, s * x + c * y, joints[k]!.offset[2]], 3 * (f * n + k));
    });
  return {
    motion: { joints, frames, fps, rotations, translations, moving: joints.map((_, k) => k) },
    options: {
      roles: {
        ...Object.fromEntries(
          FIGURE_ROLES.map((role) => [role, names[nodes.findIndex((node) => node.role === role)] ?? null]),
        ),
        ...Object.fromEntries(
          nodes.flatMap(({ begins }, k) => (begins ? [[`chain:${names[k]!}`, names[k]!] as const] : [])),
        ),
      },
      legLength,
      firstFrame: tracks.firstFrame,
      isFlat: true,
      hasTurns: points.length > 0 && points.every(({ layer }) => layer !== undefined),
    },
    ground,
    facing,
  };
}

/** Rows of points by their places among all; of names that are there, each in one row, and but for the first of a row no part of the body. */
function rowsOf(
  chains: readonly (readonly string[])[],
  points: PointTracks['points'],
  roles: Partial<Record<Role, number>>,
): number[][] {
  const onBody = new Set(Object.values(roles));
  const taken = new Set<number>();
  return chains.flatMap((names) => {
    const row = names.map((name) => points.findIndex((point) => point.name === name));
    const isOne = row.every((point, k) => point >= 0 && !taken.has(point) && (k === 0 || !onBody.has(point)));
    if (!isOne || new Set(row).size < Math.max(2, row.length)) return [];
    for (const point of row) taken.add(point);
    return [row];
  });
}

type Box = NonNullable<PointLayer['box']>;

/**
 * How far a layer is turned from its rest at each frame, radians: where a line leads on from it, its rest is where that line rests; else as it was drawn.
 *
 * @param line angle of that line over its rest at a frame
 */
function turnsOverRest(
  layer: PointLayer | undefined,
  line: (f: number) => number,
  to: number,
): Float64Array | undefined {
  if (!layer) return undefined;
  const own = layer.turns.map((degrees) => (degrees * Math.PI) / 180);
  if (to < 0) return own;
  // Angles go round: each difference is told from the first, the short way.
  const first = own[0]! - line(0);
  const away = median(
    own.map((turn, f) => Math.atan2(Math.sin(turn - line(f) - first), Math.cos(turn - line(f) - first))),
  );
  return own.map((turn) => turn - first - away);
}

/** Where a foot that is drawn ends: the front of its sole. */
function endsOf(
  { role }: Node,
  layer: PointLayer | undefined,
  roles: Partial<Record<Role, number>>,
  facing: 1 | -1,
): Vec3[] {
  if (!layer?.box || !role?.startsWith('foot.') || roles[role.replace('foot', 'toe') as Role] !== undefined) return [];
  const [left, bottom, right] = layer.box;
  return bottom < 0 ? [[facing > 0 ? right : left, bottom, 0]] : [];
}

type Places = (role: Role) => Float64Array | undefined;

function straightLeg(of: Places, places: readonly Float64Array[], frames: number): number {
  const hips = of('hips');
  const legs = (['L', 'R'] as const).flatMap((side) => {
    const ankle = of(`foot.${side}`);
    if (!hips || !ankle) return [];
    const far = Array.from({ length: frames }, (_, f) =>
      Math.hypot(ankle[2 * f]! - hips[2 * f]!, ankle[2 * f + 1]! - hips[2 * f + 1]!),
    ).sort((a, b) => a - b);
    return [far[Math.min(frames - 1, Math.floor(STRAIGHT * frames))]!];
  });
  if (legs.length > 0) return Math.max(1e-6, legs.reduce((a, b) => a + b, 0) / legs.length);
  let extent = 0;
  for (let c = 0; c < 2; c++) {
    let [low, high] = [Infinity, -Infinity];
    for (const own of places)
      for (let f = 0; f < frames; f++) {
        low = Math.min(low, own[2 * f + c]!);
        high = Math.max(high, own[2 * f + c]!);
      }
    extent = Math.max(extent, high - low);
  }
  return Math.max(1e-6, extent / 2);
}

function facingOf(of: Places, frames: number, soles: readonly Box[], legLength: number): 1 | -1 {
  // A foot that is drawn is longer before its ankle than behind it.
  let ahead = soles.reduce((sum, [left, , right]) => sum + left + right, 0);
  for (const side of ['L', 'R'] as const) {
    const [toe, ankle] = [of(`toe.${side}`), of(`foot.${side}`)];
    if (toe && ankle) for (let f = 0; f < frames; f++) ahead += toe[2 * f]! - ankle[2 * f]!;
  }
  const hips = of('hips');
  if (ahead === 0 && hips) {
    const way = hips[2 * frames - 2]! - hips[0]!;
    // On the spot a little to and fro says nothing: knees bend forward.
    ahead = Math.abs(way) > GOES * legLength ? way : kneesAhead(of, frames) || way;
  }
  return ahead < 0 ? -1 : 1;
}

/** How far the knees lie to the right of the lines hips–ankle, over the shot: less than nothing where they lie to the left. */
function kneesAhead(of: Places, frames: number): number {
  let ahead = 0;
  for (const side of ['L', 'R'] as const) {
    const [hip, knee, ankle] = [of(`thigh.${side}`) ?? of('hips'), of(`shin.${side}`), of(`foot.${side}`)];
    if (!hip || !knee || !ankle) continue;
    for (let f = 0; f < frames; f++) {
      const [x, y] = [ankle[2 * f]! - hip[2 * f]!, ankle[2 * f + 1]! - hip[2 * f + 1]!];
      const [kx, ky] = [knee[2 * f]! - hip[2 * f]!, knee[2 * f + 1]! - hip[2 * f + 1]!];
      ahead += (x * ky - y * kx) / Math.max(1e-9, Math.hypot(x, y));
    }
  }
  return ahead;
}

/** Angle of the line ankle–toe while both are low: the foot lies flat then. */
function flatFoot(ankle: Float64Array, toe: Float64Array, frames: number): number {
  const low = (path: Float64Array, among: readonly number[]): number[] => {
    const heights = among.map((f) => path[2 * f + 1]!);
    const [least, most] = [Math.min(...heights), Math.max(...heights)];
    return among.filter((f) => path[2 * f + 1]! <= least + FLAT * (most - least));
  };
  const all = Array.from({ length: frames }, (_, f) => f);
  const flat = low(ankle, low(toe, all));
  const part = (c: number): number => median(Float64Array.from(flat, (f) => toe[2 * f + c]! - ankle[2 * f + c]!));
  return Math.atan2(part(1), part(0));
}

/** Height of the ground on the picture: where the lowest of the feet are at their lowest; 0 where there are no feet. */
function groundUnder(of: Places, frames: number): number {
  const feet = (['toe.L', 'toe.R', 'foot.L', 'foot.R'] as const).flatMap((role) => of(role) ?? []);
  if (feet.length === 0) return 0;
  const lowest = Float64Array.from({ length: frames }, (_, f) => Math.min(...feet.map((path) => path[2 * f + 1]!)));
  return lowest.sort()[Math.floor(GROUND * (frames - 1))]!;
}

/**
 * Joints in an order in which each comes after what it hangs from. Where a limb's upper points were not followed, a joint that only carries what
 * there is of it lies on the trunk, and turns with the line to it; over a knee it is the thigh.
 */
function hierarchy(
  roles: Partial<Record<Role, number>>,
  points: PointTracks['points'],
  rows: readonly (readonly number[])[],
): Node[] {
  const nodes: Node[] = [];
  const at = (role: Role): number => nodes.findIndex((node) => node.role === role);
  const first = (over: readonly Role[]): number => over.map(at).find((k) => k >= 0) ?? -1;
  SPINE.forEach((role, k) => {
    const point = roles[role];
    if (point !== undefined) nodes.push({ point, role, parent: first(SPINE.slice(0, k).reverse()) });
  });
  for (const side of ['L', 'R'] as const)
    for (const limb of LIMBS)
      limb.forEach((name, k) => {
        const role: Role = `${name}.${side}`;
        const point = roles[role];
        if (point === undefined) return;
        const own = limb
          .slice(0, k)
          .reverse()
          .map((before): Role => `${before}.${side}`);
        let parent = first(own);
        if (parent < 0) {
          parent = first(limb[0] === 'thigh' ? ['hips'] : ['chest', 'neck', 'spine', 'hips']);
          if (parent >= 0 && !ROOTS.includes(name)) {
            const thigh: Role | undefined = name === 'shin' ? `thigh.${side}` : undefined;
            nodes.push({ point: nodes[parent]!.point, carries: role, role: thigh, parent });
            parent = nodes.length - 1;
          }
        }
        nodes.push({ point, role, parent });
      });
  for (const row of rows) {
    // A row may begin on a point of the body.
    const onBody = nodes.findIndex(({ point, carries }) => point === row[0] && carries === undefined);
    const own = onBody < 0 ? row : row.slice(1);
    own.forEach((point, k) =>
      nodes.push({
        point,
        role: undefined,
        parent: k > 0 ? nodes.length - 1 : onBody,
        ...(k + 1 < own.length && { next: own[k + 1]! }),
        ...(k === 0 && { begins: true as const }),
      }),
    );
  }
  const used = new Set(nodes.map(({ point }) => point));
  const hanging = new Set(points.flatMap(({ layer }, point) => (layer && !used.has(point) ? [layer.hangs] : [])));
  points.forEach(({ layer }, point) => {
    if (used.has(point)) return;
    // A layer comes after what it hangs from.
    const parent = layer ? nodes.findIndex((node) => node.point === layer.hangs && node.carries === undefined) : -1;
    const isFirst = parent < 0 || nodes[parent]!.role !== undefined;
    nodes.push({
      point,
      role: undefined,
      parent,
      ...(layer && isFirst && hanging.has(point) && { begins: true as const }),
    });
  });
  return nodes;
}

/** The node a node's own line leads to: the next of its limb, or of the trunk the next that is far enough; −1 for none. */
function lineOf(nodes: readonly Node[], k: number, isFar: (to: number) => boolean): number {
  const { role, carries } = nodes[k]!;
  if (role !== undefined && SPINE.includes(role)) {
    const after = SPINE.slice(SPINE.indexOf(role) + 1);
    return after.map((own) => nodes.findIndex((node) => node.role === own)).find((to) => to >= 0 && isFar(to)) ?? -1;
  }
  const { next } = nodes[k]!;
  if (next !== undefined) return nodes.findIndex(({ point, parent }) => point === next && parent === k);
  if (role === undefined && carries === undefined) return -1;
  const below = nodes.findIndex((node) => node.parent === k && !node.begins);
  return below >= 0 && isFar(below) ? below : -1;
}
