import {
  type Camera,
  Group,
  Matrix4,
  Mesh,
  type OrthographicCamera,
  type PerspectiveCamera,
  Quaternion,
  type Raycaster,
  Vector3,
} from 'three';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { Character } from './character.ts';
import { Props } from './props.ts';
import { Puppet } from './puppet.ts';
import type { Inks } from './inks.ts';
import { figureLimbs, taperedCapsule } from './limb-shapes.ts';
import { groundLevels } from './ground-levels.ts';
import type { Bounds } from './view-rig.ts';

/** Cameras to see with: one that sees what is far off smaller, and one that does not. */
export interface Eyes {
  readonly inDepth: PerspectiveCamera;
  readonly level: OrthographicCamera;
}

/** Layers: what a camera sees, and what only a pointer meets. */
const [SEEN, POINTED_AT] = [0, 1];

/** Axes of what lies on a picture: it is seen upright, from before. */
const ON_A_PICTURE = { left: [0, 0, -1], up: [0, 1, 0], forward: [1, 0, 0] } as const;

/**
 * The figure of one shot: its limbs as rounded, outlined bodies, placed from the shot's world poses. In its own space Y is up,
 * the figure faces +Z at rest, a leg is 1 long and the ground is y = 0.
 */
export class Figure {
  readonly group = new Group();
  readonly bounds: Bounds;
  /** Lines of ground that is not flat, ends in pairs; undefined where it is, at y = 0. */
  readonly ground: readonly Vector3[] | undefined;
  private readonly levels: readonly { readonly y: number; readonly ends: readonly [Vector3, Vector3] }[];
  private readonly joints: Group[];
  private readonly toFigure: Matrix4;
  private readonly fromFigure: Matrix4;
  private readonly turn: Quaternion;
  private readonly scratch = new Vector3();
  private readonly feet: readonly number[];
  private readonly character: Character | Puppet | undefined;
  private readonly props: Props;
  private wantsCharacter = true;
  private hidden: ReadonlySet<string> = new Set();
  private readonly limbMeshes: { readonly part: string; readonly meshes: readonly Mesh[] }[] = [];

  /** @param changed is told when it draws itself otherwise than it was asked to: its puppet has come */
  constructor(
    readonly shot: PreparedShot,
    inks: Inks,
    changed: () => void = () => undefined,
  ) {
    // A puppet is looked at as its picture shows it, whichever way it faces.
    const { left, up, forward } = shot.isFlat ? ON_A_PICTURE : shot.axes;
    const L = shot.scale.legLength;
    const basis = new Matrix4()
      .makeBasis(new Vector3(...left), new Vector3(...up), new Vector3(...forward))
      .transpose();
    this.turn = new Quaternion().setFromRotationMatrix(basis);
    const ground = findGround(shot);
    this.toFigure = new Matrix4()
      .makeTranslation(0, -ground / L, 0)
      .multiply(new Matrix4().makeScale(1 / L, 1 / L, 1 / L))
      .multiply(basis);
    this.fromFigure = this.toFigure.clone().invert();
    this.joints = shot.motion.joints.map(() => {
      const joint = new Group();
      this.group.add(joint);
      return joint;
    });
    this.feet = (['foot.L', 'foot.R'] as const).flatMap((role) => shot.roles[role] ?? []);
    this.buildLimbs(inks);
    const { shape, drawn } = shot.played.motion;
    this.character = drawn
      ? new Puppet(shot, drawn, this.group, this.toFigure, () => {
          this.asCharacter(this.wantsCharacter);
          changed();
        })
      : shape && new Character(shot, shape, this.group, this.joints, inks, changed);
    this.asCharacter(true);
    this.props = new Props(shot, this.group, this.toFigure, this.turn, inks);
    this.levels = this.findLevels();
    this.ground = this.levels.length === 0 ? undefined : groundLines(this.levels.map(({ ends }) => ends));
    this.bounds = this.measure();
    this.pose(0);
  }

  /** Poses the figure at a sample of its shot. */
  pose(sample: number): void {
    const { world, motion } = this.shot;
    const n = motion.joints.length;
    for (let j = 0; j < n; j++) {
      const group = this.joints[j]!;
      this.place(sample, j, group.position);
      const r = 4 * (sample * n + j);
      group.quaternion
        .set(world.rotations[r]!, world.rotations[r + 1]!, world.rotations[r + 2]!, world.rotations[r + 3]!)
        .premultiply(this.turn);
    }
    this.character?.pose(sample);
    this.props.pose(sample);
  }

  /** Where a joint is at a sample, in the figure's space. */
  place(sample: number, joint: number, target: Vector3): Vector3 {
    const at = 3 * (sample * this.shot.motion.joints.length + joint);
    const { positions } = this.shot.world;
    return target.set(positions[at]!, positions[at + 1]!, positions[at + 2]).applyMatrix4(this.toFigure);
  }

  /** Puts a camera where the shot's own is at a sample, and lets it see what that one sees on a paper of this shape; undefined where it has none. */
  seenBy(sample: number, { inDepth, level }: Eyes, wide: number): Camera | undefined {
    const own = this.shot.played.motion.cameras?.[0];
    if (!own) return undefined;
    const camera = 'degrees' in own.sees ? inDepth : level;
    const [x, y, z] = own.positions.subarray(3 * sample, 3 * sample + 3) as unknown as [number, number, number];
    this.fromFile(x, y, z, camera.position);
    camera.quaternion.fromArray(own.rotations, 4 * sample).premultiply(this.turn);
    // What it saw is seen whole: of a paper that is narrower, from farther off.
    const narrow = own.aspect !== undefined && wide < own.aspect ? own.aspect / wide : 1;
    if ('degrees' in own.sees) {
      const half = Math.tan((own.sees.degrees * Math.PI) / 360) * narrow;
      inDepth.fov = (2 * Math.atan(half) * 180) / Math.PI;
      inDepth.aspect = wide;
      inDepth.near = 0.05;
      inDepth.far = 500;
      inDepth.updateProjectionMatrix();
    } else {
      const high = ((own.sees.units / 2) * narrow) / this.shot.scale.legLength;
      level.top = high;
      level.bottom = -high;
      level.right = high * wide;
      level.left = -high * wide;
      level.near = 0.05;
      level.far = 500;
      level.updateProjectionMatrix();
    }
    camera.updateMatrixWorld();
    return camera;
  }

  /** A place in the file's axes and units, in the figure's space. */
  fromFile(x: number, y: number, z: number, target: Vector3): Vector3 {
    return target.set(x, y, z).applyMatrix4(this.toFigure);
  }

  /** And back. */
  toFile(place: Vector3): [number, number, number] {
    const { x, y, z } = this.scratch.copy(place).applyMatrix4(this.fromFigure);
    return [x, y, z];
  }

  /** Places of the feet at a sample: what the contact shadow is drawn under. */
  footPlaces(sample: number): { x: number; y: number; z: number }[] {
    const low = this.feet.length > 0 ? this.feet : [this.shot.roles.hips ?? 0];
    return low.map((joint) => {
      const { x, y, z } = this.place(sample, joint, this.scratch);
      return { x, y, z };
    });
  }

  /** Height of the ground under a place. */
  groundUnder(x: number, z: number): number {
    const under = this.levels.find(({ ends: [a, b] }) => {
      const [wx, wz] = [b.x - a.x, b.z - a.z];
      const t = ((x - a.x) * wx + (z - a.z) * wz) / (wx * wx + wz * wz);
      return t >= 0 && t <= 1;
    });
    return under?.y ?? this.levels.at(-1)?.y ?? 0;
  }

  private findLevels(): { y: number; ends: [Vector3, Vector3] }[] {
    const found = groundLevels(this.shot);
    if (!found) return [];
    const { along, levels } = found;
    const { up } = this.shot.axes;
    // Places along the way are told from the origin; across it the lines lie where the hips begin.
    const hips = this.shot.roles.hips ?? 0;
    const p = this.shot.world.positions.subarray(3 * hips, 3 * hips + 3);
    const own = along.reduce((sum, v, k) => sum + v * p[k]!, 0);
    const high = up.reduce((sum, v, k) => sum + v * p[k]!, 0);
    const end = (at: number, height: number): Vector3 =>
      new Vector3(
        ...([0, 1, 2].map((k) => p[k]! + (at - own) * along[k]! + (height - high) * up[k]!) as [
          number,
          number,
          number,
        ]),
      ).applyMatrix4(this.toFigure);
    return levels.map(({ from, to, height }) => {
      const ends: [Vector3, Vector3] = [end(from, height), end(to, height)];
      return { y: ends[0].y, ends };
    });
  }

  /** Shows the figure without some of its parts. */
  hideParts(hidden: ReadonlySet<string>): void {
    this.hidden = hidden;
    this.character?.hideParts(hidden);
    for (const { part, meshes } of this.limbMeshes) for (const mesh of meshes) mesh.visible = !hidden.has(part);
  }

  /** Shows the student's own character, where the file has one, or the plain figure; both are pointed at by their joints. */
  asCharacter(wanted: boolean): void {
    this.wantsCharacter = wanted;
    const isBroken = this.character instanceof Puppet && this.character.isBroken;
    const shown = wanted && this.character !== undefined && !isBroken;
    if (this.character) this.character.visible = shown;
    for (const { meshes } of this.limbMeshes) for (const mesh of meshes) mesh.layers.set(shown ? POINTED_AT : SEEN);
  }

  /** The joint a ray meets: of the limb it hits, the end that lies nearer the place where it is hit. */
  jointHit(ray: Raycaster, sample: number, gone = new Vector3()): number | undefined {
    ray.layers.enable(POINTED_AT);
    const bodies = this.limbMeshes.filter(({ part }) => !this.hidden.has(part)).map(({ meshes }) => meshes[0]!);
    const [hit] = ray.intersectObjects(bodies, false);
    if (!hit) return undefined;
    const { joint, child } = hit.object.userData as { joint: number; child: number };
    if (child < 0) return joint;
    const near = (own: number): number => hit.point.distanceToSquared(this.place(sample, own, new Vector3()).add(gone));
    return near(joint) <= near(child) ? joint : child;
  }

  dispose(): void {
    this.character?.dispose();
    this.props.dispose();
    for (const { meshes } of this.limbMeshes) for (const mesh of meshes) mesh.geometry.dispose();
  }

  private buildLimbs(inks: Inks): void {
    const along = new Vector3(0, 1, 0);
    for (const limb of figureLimbs(this.shot)) {
      // Limb ends are given in the file's axes; joint groups turn them into the figure's.
      const from = new Vector3(...limb.from);
      const direction = new Vector3(...limb.to).sub(from);
      const length = direction.length();
      const geometry = taperedCapsule(length, limb.thick[0], limb.thick[1]);
      if (limb.flat !== 1 || limb.narrow) geometry.scale(limb.narrow ?? 1, 1, limb.flat);
      const meshes = [new Mesh(geometry, inks.fills[limb.side]), new Mesh(geometry, inks.outline)];
      for (const mesh of meshes) {
        mesh.position.copy(from);
        mesh.quaternion.copy(limbTurn(direction.clone().normalize(), along, this.shot));
        this.joints[limb.joint]!.add(mesh);
      }
      meshes[0]!.userData = { joint: limb.joint, child: limb.child };
      this.limbMeshes.push({ part: limb.part, meshes });
    }
  }

  private measure(): Bounds {
    const low = new Vector3(Infinity, 0, Infinity);
    const high = new Vector3(-Infinity, -Infinity, -Infinity);
    const p = new Vector3();
    const { frames, joints } = this.shot.motion;
    const every = Math.max(1, Math.floor(frames / 200));
    for (let f = 0; f < frames; f += every) {
      for (let j = 0; j < joints.length; j++) {
        this.place(f, j, p);
        low.min(p);
        high.max(p);
      }
    }
    const crown = 0.22;
    const height = high.y - low.y + crown;
    return {
      centre: [(low.x + high.x) / 2, low.y + height / 2, (low.z + high.z) / 2],
      height,
      width: Math.max(high.x - low.x, high.z - low.z) + 0.4,
    };
  }
}

/** Half the width of a step, in leg lengths. */
const STEP_WIDTH = 0.35;

/** Each level as a line along the way and its two edges across it, joined to the next by a riser. */
function groundLines(levels: readonly (readonly [Vector3, Vector3])[]): Vector3[] {
  return levels.flatMap(([a, b], k) => {
    const across = new Vector3(b.z - a.z, 0, a.x - b.x).normalize().multiplyScalar(STEP_WIDTH);
    const edge = (at: Vector3): Vector3[] => [at.clone().add(across), at.clone().sub(across)];
    const next = levels[k + 1]?.[0];
    const riser = next && Math.hypot(next.x - b.x, next.z - b.z) < 1e-3 ? [b, next] : [];
    return [a, b, ...(k > 0 ? edge(a) : []), ...(next ? edge(b) : []), ...riser];
  });
}

/** Turns +Y along a limb, and its flat side to the figure's front. */
function limbTurn(direction: Vector3, along: Vector3, shot: PreparedShot): Quaternion {
  const front = new Vector3(...shot.axes.forward);
  const side = new Vector3().crossVectors(direction, front);
  if (side.lengthSq() < 0.05) return new Quaternion().setFromUnitVectors(along, direction);
  side.normalize();
  const depth = new Vector3().crossVectors(side, direction);
  return new Quaternion().setFromRotationMatrix(new Matrix4().makeBasis(side, direction, depth));
}

/**
 * Height of the ground for drawing, in the file's units: zero when the feet come down near it, else where the lowest joint mostly
 * comes down.
 */
function findGround(shot: PreparedShot): number {
  const { motion, world, axes, scale } = shot;
  const n = motion.joints.length;
  const lowest: number[] = [];
  const every = Math.max(1, Math.floor(motion.frames / 300));
  for (let f = 0; f < motion.frames; f += every) {
    let low = Infinity;
    for (let j = 0; j < n; j++) {
      const at = 3 * (f * n + j);
      const { positions: p } = world;
      low = Math.min(low, p[at]! * axes.up[0] + p[at + 1]! * axes.up[1] + p[at + 2]! * axes.up[2]);
    }
    lowest.push(low);
  }
  lowest.sort((a, b) => a - b);
  const usual = lowest[Math.floor(lowest.length * 0.1)]!;
  return Math.abs(usual) < 0.06 * scale.legLength ? 0 : usual;
}
