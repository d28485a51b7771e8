import { restPositions } from '../../motion/motion.ts';
import type { PreparedShot } from '../../motion/prepared-shot.ts';
import { quatAt, rotate, vec3At } from '../../motion/quaternion.ts';
import { cross, dot, length, reject, scale, subtract, type Vec3 } from '../../motion/vector.ts';

export const TRUNK_DEFAULTS = Object.freeze({
  /** Half as wide as its shoulder joints lie apart, times this, where nothing is known of its shape: less than where the arms hang. */
  wide: 0.6,
  /** As deep as wide, times this. */
  deep: 0.66,
  /** From this share of the way from the hips to the neck to this one. */
  from: 0.05,
  to: 0.85,
});

/** The ellipse around the trunk's line at a height of it, in the file's units: across to the figure's left, ahead to its front. */
interface Section {
  /** Share of the way from the hips to the neck, from which it holds. */
  readonly from: number;
  readonly across: number;
  readonly ahead: number;
  readonly wide: number;
  readonly deep: number;
}

/** A trunk that something may lie in. */
export interface Trunk {
  /** Whether a place lies within it at a sample. */
  holds(sample: number, place: Vec3): boolean;
}

/**
 * The trunk about the line from the hips to the neck, as wide and deep at each height as the character's own shape is there, or, where nothing is known of
 * it, as people are; undefined where the joints it needs are not known.
 */
export function trunkOf({ motion, world, roles, axes }: PreparedShot): Trunk | undefined {
  const { joints, girths } = motion;
  const { hips, 'upperArm.L': left, 'upperArm.R': right } = roles;
  const top = roles.chest ?? roles.spine;
  if (hips === undefined || top === undefined || left === undefined || right === undefined) return undefined;
  const neck = roles.neck ?? roles.head ?? top;
  const rest = restPositions(joints);
  const half = length(subtract(vec3At(rest, left), vec3At(rest, right))) / 2;
  const usual = {
    across: 0,
    ahead: 0,
    wide: TRUNK_DEFAULTS.wide * half,
    deep: TRUNK_DEFAULTS.wide * TRUNK_DEFAULTS.deep * half,
  };
  const sections: Section[] = [{ from: -Infinity, ...usual }];
  if (girths) {
    const low = vec3At(rest, hips);
    const line = subtract(vec3At(rest, neck), low);
    const between: number[] = [];
    for (let joint = joints[neck]!.parent; joint >= 0; joint = joints[joint]!.parent) {
      between.unshift(joint);
      if (joint === hips) break;
    }
    const own = between.flatMap((joint): Section[] => {
      const section = sectionOf(girths, joint, line, axes.forward);
      const from = dot(subtract(vec3At(rest, joint), low), line) / dot(line, line);
      return section && Number.isFinite(from) ? [{ from, ...section }] : [];
    });
    if (own.length > 0) sections.splice(0, 1, { ...own[0]!, from: -Infinity }, ...own.slice(1));
  }
  // What is this far from the line is outside, whatever way the trunk faces.
  const near = Math.max(
    ...sections.map((own) => Math.hypot(Math.abs(own.across) + own.wide, Math.abs(own.ahead) + own.deep)),
  );
  const n = joints.length;
  return {
    holds(sample, place) {
      const p = world.positions;
      const [o, t] = [3 * (sample * n + hips), 3 * (sample * n + neck)];
      let [dd, dv, vv] = [0, 0, 0];
      for (let c = 0; c < 3; c++) {
        const v = p[t + c]! - p[o + c]!;
        const d = place[c]! - p[o + c]!;
        dd += d * d;
        dv += d * v;
        vv += v * v;
      }
      if (vv === 0 || dd - (dv * dv) / vv > near * near) return false;
      const along = dv / vv;
      if (along < TRUNK_DEFAULTS.from || along > TRUNK_DEFAULTS.to) return false;
      const low = vec3At(p, sample * n + hips);
      const up = scale(subtract(vec3At(p, sample * n + neck), low), 1 / Math.sqrt(vv));
      const facing = reject(rotate(quatAt(world.rotations, sample * n + top), axes.forward), up);
      const ahead = length(facing) > 0 ? scale(facing, 1 / length(facing)) : axes.forward;
      const out = reject(subtract(place, low), up);
      const section = sections.findLast(({ from }) => from <= along)!;
      const x = (dot(out, cross(up, ahead)) - section.across) / section.wide;
      const z = (dot(out, ahead) - section.ahead) / section.deep;
      return x * x + z * z < 1;
    },
  };
}

/** The ellipse within what a joint carries, across the line of the trunk; undefined where it carries too little. */
function sectionOf(girths: Float64Array, joint: number, line: Vec3, forward: Vec3): Omit<Section, 'from'> | undefined {
  const up = scale(line, 1 / length(line));
  const facing = reject(forward, up);
  if (!(length(line) > 0) || length(facing) === 0) return undefined;
  const ahead = scale(facing, 1 / length(facing));
  const reach = (way: Vec3): [number, number] => {
    let [low, high] = [0, 0];
    for (let c = 0; c < 3; c++) {
      const [a, b] = [girths[6 * joint + 2 * c]! * way[c]!, girths[6 * joint + 2 * c + 1]! * way[c]!];
      low += Math.min(a, b);
      high += Math.max(a, b);
    }
    return [low, high];
  };
  const [[right, left], [back, front]] = [reach(cross(up, ahead)), reach(ahead)];
  if (!(left > right) || !(front > back)) return undefined;
  return { across: (left + right) / 2, wide: (left - right) / 2, ahead: (front + back) / 2, deep: (front - back) / 2 };
}
