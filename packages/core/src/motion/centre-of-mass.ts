import { type Joint, restPositions } from './motion.ts';
import type { WorldPose } from './pose.ts';
import type { Role, Roles } from './role.ts';

/** A body segment: where it begins and ends, its share of the body's mass, and where along it its centre lies. */
interface Segment {
  readonly mass: number;
  /** From the first end, as a share of the segment's length. */
  readonly centre: number;
  readonly from: readonly Role[];
  readonly to: readonly Role[];
}

const limb = (mass: number, centre: number, from: string, to: string): Segment[] =>
  (['L', 'R'] as const).map((side) => ({
    mass,
    centre,
    from: [`${from}.${side}` as Role],
    to: [`${to}.${side}` as Role],
  }));

/**
 * Segment masses and centres of D. A. Winter, *Biomechanics and Motor Control of Human Movement*, table of anthropometric data (from
 * memory): shares of body mass, and distances from the proximal end as shares of segment length. A segment whose far end is not known
 * has its centre at its near end.
 */
export const SEGMENTS: readonly Segment[] = [
  { mass: 0.081, centre: 1, from: ['neck', 'chest'], to: ['head', 'neck'] },
  { mass: 0.497, centre: 0.5, from: ['hips'], to: ['neck', 'chest', 'spine'] },
  ...limb(0.028, 0.436, 'upperArm', 'foreArm'),
  ...limb(0.016, 0.43, 'foreArm', 'hand'),
  ...limb(0.006, 0.506, 'hand', 'hand'),
  ...limb(0.1, 0.433, 'thigh', 'shin'),
  ...limb(0.0465, 0.433, 'shin', 'foot'),
  ...limb(0.0145, 0.5, 'foot', 'toe'),
];

/** Share of the body's mass that the known joints must carry for a centre to be claimed. */
const LEAST_MASS = 0.6;

/**
 * Path of the body's centre of mass, from the segments whose joints are known.
 *
 * @returns x, y, z a frame in the file's units; undefined where trunk and thighs are not known
 */
export function centreOfMass(
  joints: readonly Joint[],
  roles: Roles,
  world: WorldPose,
  frames: number,
): Float64Array | undefined {
  const put = massAt(joints, roles, world);
  if (!put) return undefined;
  const path = new Float64Array(3 * frames);
  for (let f = 0; f < frames; f++) put(f, path, 3 * f);
  return path;
}

/**
 * The body's centre of mass at single frames.
 *
 * @returns writes x, y, z at a frame into a list, from an index on; undefined where trunk and thighs are not known
 */
export function massAt(
  joints: readonly Joint[],
  roles: Roles,
  world: WorldPose,
): ((frame: number, out: Float64Array, to: number) => void) | undefined {
  const known = (list: readonly Role[]): number | undefined => list.map((r) => roles[r]).find((j) => j !== undefined);
  const parts = SEGMENTS.flatMap(({ mass, centre, from, to }) => {
    const a = known(from);
    return a === undefined ? [] : [{ mass, centre, a, b: known(to) ?? a }];
  });
  const total = parts.reduce((sum, { mass }) => sum + mass, 0);
  if (total < LEAST_MASS || roles.hips === undefined) return undefined;
  const n = joints.length;
  const { positions: p } = world;
  return (f, out, to) => {
    for (let k = 0; k < 3; k++) out[to + k] = 0;
    for (const { mass, centre, a, b } of parts) {
      const [from, end] = [3 * (f * n + a), 3 * (f * n + b)];
      for (let k = 0; k < 3; k++) {
        const near = p[from + k]!;
        out[to + k]! += (mass / total) * (near + centre * (p[end + k]! - near));
      }
    }
  };
}

/** The rest pose's centre of mass: see {@link centreOfMass}. */
export const restCentreOfMass = (joints: readonly Joint[], roles: Roles): Float64Array | undefined =>
  centreOfMass(joints, roles, { positions: restPositions(joints), rotations: new Float64Array(0) }, 1);
