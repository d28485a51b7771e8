import type { KeyChannel } from '../../motion/keys.ts';
import type { BlendShape, Joint, Motion, ShotCamera } from '../../motion/motion.ts';
import { conjugate, multiply as turnBy, type Quat, rotate } from '../../motion/quaternion.ts';
import { guessRoles } from '../../motion/roles.ts';
import { dot, length, scale as scaled, subtract, type Vec3 } from '../../motion/vector.ts';
import { figureScale } from '../../motion/figure-scale.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import type { Beside, ReadMotion, ReadOptions } from '../format.ts';
import { readAccessors } from './accessors.ts';
import { type Affine, affine, compose, fromMatrix, inverse, multiply, originOf, product, turnOf } from './affine.ts';
import { buffersOf, openGltf } from './container.ts';
import { checkGltf } from './check-gltf.ts';
import { chosenFigure, figuresOf, type GltfFigure, isEnd } from './figures.ts';
import { frameGrid, type FrameGrid } from './frame-grid.ts';
import type { GltfAnimation, GltfJson } from './gltf-json.ts';
import { type Keys, valueAt } from './interpolate.ts';
import { type Channel, channelsOf, parentsOf, Scene } from './scene.ts';

/**
 * Reads the motion of a figure out of a glTF 2.0 file (Khronos, *glTF 2.0 Specification*): a `.glb`, or a `.gltf` with what it needs beside it.
 *
 * What is read is where its joints are in the world at every frame, whatever they hang from: parents that turn or scale, joints that are scaled,
 * skins that are bound in another pose than the nodes stand in. Metres, +Y up.
 *
 * @param beside gives files that a `.gltf` names
 * @throws FormatError with what was expected
 */
export async function readGltf(
  bytes: Uint8Array,
  options: ReadOptions = {},
  beside: Beside = () => undefined,
): Promise<ReadMotion> {
  const { json: loose, binary } = openGltf(bytes);
  const json = checkGltf(loose);
  const buffers = buffersOf(json, binary, beside);
  const warnings: string[] = [];
  const [animation, animations] = await chosenAnimation(json, buffers, options.animation);
  const needed = animation.samplers.flatMap(({ input, output }) => [input, output]);
  const binds = (json.skins ?? []).flatMap(({ inverseBindMatrices: own }) => (own === undefined ? [] : [own]));
  const accessors = await readAccessors(json, [...needed, ...binds], buffers);
  const channels = channelsOf(animation, accessors);
  checkTimes(channels);
  const parents = parentsOf(json);
  const moved = new Set(channels.filter(({ path }) => path !== 'weights').map(({ node }) => node));
  const figures = figuresOf(json, parents, moved);
  const figure = chosenFigure(figures, options.figure);
  if (figure.joints.length > LIMITS.joints)
    throw new FormatError(
      `the figure has ${figure.joints.length.toLocaleString('en')} joints; at most ${LIMITS.joints.toLocaleString('en')} can be read`,
    );
  if (animations.length > 1 && options.animation === undefined)
    warnings.push(
      `the file holds ${animations.length} animations, ${listed(animations)}: “${animations[0]!}” is read, the longest`,
    );
  if (figures.length > 1 && options.figure === undefined)
    warnings.push(
      `the file holds ${figures.length} figures, ${listed(figures.map(({ name }) => name))}: “${figure.name}” is read`,
    );

  const own = ofFigure(channels, figure, parents);
  const grid = frameGrid(timesOf(own), {
    ...(options.fps !== undefined && { fps: options.fps }),
    ...(options.usualFps !== undefined && { usual: options.usualFps }),
  });
  checkGrid(grid, figure);
  if (grid.between) warnings.push(`some of its keys lie between frames: it is read at ${grid.fps} frames a second`);
  if (grid.lead > 1)
    warnings.push(`nothing is keyed before frame ${grid.lead} of it: the ${grid.lead} frames before are left out`);
  const rest = restOf(json, parents, figure, accessors);
  const made = sampled(json, parents, figure, channels, grid, rest);
  const stood = standing(made.joints, made, warnings);
  return {
    motion: {
      ...stood,
      frames: grid.frames,
      fps: grid.fps,
      up: '+Y',
      isTimed: true,
      lead: grid.lead,
      holds: { animations, figures: figures.map(({ name }) => name) },
      keys: keysOf(own, figure, grid),
      ...weightsOf(json, channels, figure, parents, grid),
      ...camerasOf(json, channels, parents, grid),
      ...sizeOf(stood.joints, warnings),
    },
    warnings,
  };
}

const listed = (list: readonly string[]): string =>
  list.length > 6
    ? `${list
        .slice(0, 6)
        .map((own) => `“${own}”`)
        .join(', ')} and ${list.length - 6} more`
    : list.map((own) => `“${own}”`).join(', ');

/** The animation that is asked for by its name or its number, the longest being the first; and the names of all. */
async function chosenAnimation(
  json: GltfJson,
  buffers: readonly Uint8Array[],
  asked: string | undefined,
): Promise<[GltfAnimation, string[]]> {
  const all = (json.animations ?? []).filter(({ channels }) => channels.length > 0);
  if (all.length === 0) throw new FormatError('the file holds no animation: its figure stands still');
  const inputs = await readAccessors(
    json,
    all.flatMap(({ samplers }) => samplers.map(({ input }) => input)),
    buffers,
  );
  const lasts = ({ samplers }: GltfAnimation): number => {
    let [from, to] = [Infinity, -Infinity];
    for (const { input } of samplers)
      for (const time of inputs.get(input)!) [from, to] = [Math.min(from, time), Math.max(to, time)];
    return to - from;
  };
  const sorted = all
    .map((animation, k) => ({
      animation,
      name: animation.name?.trim() || `animation ${k + 1}`,
      lasts: lasts(animation),
    }))
    .sort((a, b) => b.lasts - a.lasts);
  const names = sorted.map(({ name }) => name);
  if (asked === undefined) return [sorted[0]!.animation, names];
  const found =
    sorted.find(({ name }) => name === asked) ??
    sorted.find(({ name }) => name.toLowerCase() === asked.toLowerCase()) ??
    (/^\d+$/.test(asked) ? sorted[Number(asked) - 1] : undefined);
  if (!found) throw new FormatError(`no animation is called “${asked}”; there are ${listed(names)}`);
  return [found.animation, names];
}

function checkTimes(channels: readonly Channel[]): void {
  for (const { keys, node, path } of channels)
    keys.times.forEach((time, k) => {
      if (time < 0) throw new FormatError(`node ${node}, ${path}: a key lies before time 0`);
      if (k > 0 && time <= keys.times[k - 1]!)
        throw new FormatError(`node ${node}, ${path}: its keys do not follow one another in time`);
    });
}

function checkGrid({ fps, frames }: FrameGrid, figure: GltfFigure): void {
  const most = Math.min(LIMITS.frames, Math.floor(LIMITS.poses / figure.joints.length));
  if (frames > most)
    throw new FormatError(
      `it lasts ${frames.toLocaleString('en')} frames at ${fps} frames a second; at most ${most.toLocaleString('en')} can be read`,
    );
}

/** Channels that move the figure: its own, and those of what it hangs from. */
function ofFigure(channels: readonly Channel[], { joints }: GltfFigure, parents: Int32Array): Channel[] {
  const above = new Set<number>(joints);
  for (const joint of joints)
    for (let node = parents[joint]!; node >= 0 && !above.has(node); node = parents[node]!) above.add(node);
  return channels.filter(({ node, path }) => path !== 'weights' && above.has(node));
}

function* timesOf(channels: readonly Channel[]): Generator<number> {
  for (const times of new Set(channels.map(({ keys }) => keys.times))) yield* times;
}

/** Where every joint is at rest, in the world: as its skin was bound to it, else as its node stands. */
function restOf(
  json: GltfJson,
  parents: Int32Array,
  { joints, skins }: GltfFigure,
  accessors: ReadonlyMap<number, Float64Array>,
): Map<number, Affine> {
  const unmoved = new Scene(json, parents, joints).at(undefined);
  const rest = new Map<number, Affine>();
  const bound = new Map<number, Affine>();
  for (const k of skins) {
    const skin = json.skins![k]!;
    const matrices = skin.inverseBindMatrices === undefined ? undefined : accessors.get(skin.inverseBindMatrices);
    if (!matrices || matrices.length < 16 * skin.joints.length) continue;
    const own = skin.joints.map((node, n) => [node, inverse(fromMatrix(matrices, 16 * n))] as const);
    const root = joints.find((node) => own.some(([joint, bind]) => joint === node && bind));
    if (root === undefined) continue;
    // Where the skin's own space lies in the world: by its first joint, stood up where that one leans as the document has it.
    const binding = own.find(([joint]) => joint === root)![1]!;
    const space = upright(product(unmoved.world(root), inverse(binding)!));
    for (const [node, bind] of own) if (bind && !bound.has(node)) bound.set(node, product(space, bind));
  }
  const inFigure = new Set(joints);
  for (const node of joints) {
    const own = bound.get(node);
    if (own) {
      rest.set(node, own);
      continue;
    }
    let above = parents[node]!;
    while (above >= 0 && !inFigure.has(above)) above = parents[above]!;
    const world = unmoved.world(node);
    // What no skin is bound to stays as it stands to the one it hangs from.
    const back = above >= 0 && bound.has(above) ? inverse(unmoved.world(above)) : undefined;
    rest.set(node, back ? product(rest.get(above)!, product(back, world)) : Float64Array.from(world));
  }
  return rest;
}

/** A space in the world, turned so that the axis of its own that is nearest to up is up. */
function upright(space: Affine): Affine {
  const turn = turnOf(space);
  let best: Vec3 = [0, 1, 0];
  let most = -1;
  for (const axis of [0, 1, 2])
    for (const sign of [1, -1]) {
      const own: [number, number, number] = [0, 0, 0];
      own[axis] = sign;
      const there = rotate(turn, own);
      if (there[1] > most) [most, best] = [there[1], there];
    }
  return product(asAffine(between(best, [0, 1, 0])), space);
}

/** The shortest turn that brings one direction onto another. */
function between(a: Vec3, b: Vec3): Quat {
  const w = 1 + dot(a, b);
  if (w < 1e-9) return [1, 0, 0, 0];
  const q: Quat = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0], w];
  const size = Math.hypot(...q);
  return [q[0] / size, q[1] / size, q[2] / size, q[3] / size];
}

function asAffine(turn: Quat): Affine {
  const into = affine();
  compose([0, 0, 0], turn, [1, 1, 1], into);
  return into;
}

type Sampled = Pick<Motion, 'joints' | 'rotations' | 'moving' | 'translations' | 'scales'>;

/** Farther from its offset than this, as a share of the figure's size, a joint has a translation of its own: numbers of four bytes are no more exact. */
const MOVES = 2e-6;

/** The joints with their places and turns at every frame, as a skeleton that has no turn at rest. */
function sampled(
  json: GltfJson,
  parents: Int32Array,
  figure: GltfFigure,
  channels: readonly Channel[],
  { fps, from, frames }: FrameGrid,
  rest: ReadonlyMap<number, Affine>,
): Sampled {
  const nodes = figure.joints;
  const count = nodes.length;
  const indexOf = new Map(nodes.map((node, j) => [node, j]));
  const parentOf = nodes.map((node) => {
    let above = parents[node]!;
    while (above >= 0 && !indexOf.has(above)) above = parents[above]!;
    return above < 0 ? -1 : indexOf.get(above)!;
  });
  const places = nodes.map((node) => originOf(rest.get(node)!));
  const size = Math.max(1e-9, ...[0, 1, 2].map((axis) => spread(places.map((place) => place[axis]!))));
  const joints: Joint[] = namesOf(json, nodes).map((name, j) => ({
    name,
    parent: parentOf[j]!,
    offset: parentOf[j]! < 0 ? places[j]! : subtract(places[j]!, places[parentOf[j]!]!),
    ends: endsOf(json, nodes[j]!, indexOf, rest.get(nodes[j]!)!),
  }));
  const back = nodes.map((node) => inverse(rest.get(node)!) ?? affine());
  const scene = new Scene(json, parents, nodes, channels);
  const rotations = new Float64Array(4 * count * frames);
  const offsets = new Float64Array(3 * count * frames);
  const turn = affine();
  const worlds: Quat[] = nodes.map(() => [0, 0, 0, 1]);
  const far = new Float64Array(count);
  for (let f = 0; f < frames; f++) {
    scene.at(from + f / fps);
    for (let j = 0; j < count; j++) {
      const world = scene.world(nodes[j]!);
      worlds[j] = turnOf(multiply(world, back[j]!, turn));
      const p = parentOf[j]!;
      const local = p < 0 ? worlds[j]! : turnBy(conjugate(worlds[p]!), worlds[j]!);
      rotations.set(local, 4 * (f * count + j));
      const place = originOf(world);
      const offset = p < 0 ? place : rotate(conjugate(worlds[p]!), subtract(place, originOf(scene.world(nodes[p]!))));
      offsets.set(offset, 3 * (f * count + j));
      far[j] = Math.max(far[j]!, length(subtract(offset, joints[j]!.offset)));
    }
  }
  const moving = joints.flatMap((_, j) => (far[j]! > MOVES * size ? [j] : []));
  const translations = new Float64Array(3 * moving.length * frames);
  for (let f = 0; f < frames; f++)
    moving.forEach((j, slot) => {
      const at = 3 * (f * count + j);
      translations.set(offsets.subarray(at, at + 3), 3 * (f * moving.length + slot));
    });
  return { joints, rotations, moving, translations, ...scalesOf(nodes, channels, scene, rest, { fps, from, frames }) };
}

const spread = (values: readonly number[]): number => {
  let [low, high] = [Infinity, -Infinity];
  for (const value of values) [low, high] = [Math.min(low, value), Math.max(high, value)];
  return high - low;
};

/** A name for each joint: its node's; one that has none is called by its number, and one that others have as well is told apart by its own. */
function namesOf(json: GltfJson, nodes: readonly number[]): string[] {
  const seen = new Map<string, number>();
  return nodes.map((node) => {
    const name = (json.nodes![node]!.name?.trim() || `node ${node}`).slice(0, LIMITS.name);
    const before = seen.get(name) ?? 0;
    seen.set(name, before + 1);
    return before === 0 ? name : `${name} (${before + 1})`;
  });
}

/** Where a joint ends: at nodes that hang from it and only say so. */
function endsOf(json: GltfJson, node: number, joints: ReadonlyMap<number, number>, rest: Affine): Vec3[] {
  const turn = affine();
  return (json.nodes![node]!.children ?? [])
    .filter((child) => !joints.has(child) && isEnd(json, child))
    .slice(0, LIMITS.ends)
    .map((child) => {
      const { translation = [0, 0, 0] } = json.nodes![child]!;
      compose(translation, [0, 0, 0, 1], [1, 1, 1], turn);
      return subtract(originOf(product(rest, turn)), originOf(rest));
    })
    .filter((end) => length(end) > 0);
}

/** Scales of joints that are scaled while they move, along the axes that their own are nearest to while the figure rests. */
function scalesOf(
  nodes: readonly number[],
  channels: readonly Channel[],
  scene: Scene,
  rest: ReadonlyMap<number, Affine>,
  { fps, from, frames }: Pick<FrameGrid, 'fps' | 'from' | 'frames'>,
): Pick<Motion, 'scales'> {
  const scaledNodes = new Set(
    channels.filter(({ path, keys }) => path === 'scale' && varies(keys)).map(({ node }) => node),
  );
  const joints = nodes.flatMap((node, j) => (scaledNodes.has(node) ? [j] : []));
  if (joints.length === 0) return {};
  const axes = joints.map((j) => nearestAxes(turnOf(rest.get(nodes[j]!)!)));
  const values = new Float64Array(3 * joints.length * frames);
  const own = new Float64Array(3);
  for (let f = 0; f < frames; f++)
    joints.forEach((j, slot) => {
      scene.scaleOf(nodes[j]!, from + f / fps, own, 0);
      axes[slot]!.forEach((axis, k) => (values[3 * (f * joints.length + slot) + k] = own[axis]!));
    });
  return { scales: { joints, values } };
}

/** For x, y and z which of a joint's own axes lies nearest to each, no axis twice. */
function nearestAxes(turn: Quat): number[] {
  const along = (
    [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ] as const
  ).map((axis) => rotate(turn, axis).map(Math.abs));
  const left = new Set([0, 1, 2]);
  const found = [0, 0, 0];
  // Up first: it is what stretches.
  for (const world of [1, 0, 2]) {
    const best = [...left].sort((a, b) => along[b]![world]! - along[a]![world]!)[0]!;
    found[world] = best;
    left.delete(best);
  }
  return found;
}

/** Blend shapes of what shows the figure, where one of them moves; by the names that its meshes give them. */
function weightsOf(
  json: GltfJson,
  channels: readonly Channel[],
  { joints, skins }: GltfFigure,
  parents: Int32Array,
  { fps, from, frames }: FrameGrid,
): Pick<Motion, 'weights'> {
  const own = new Set(joints);
  const shows = (node: number): boolean => {
    if (skins.includes(json.nodes![node]!.skin ?? -1)) return true;
    for (let above = node; above >= 0; above = parents[above]!) if (own.has(above)) return true;
    return false;
  };
  const shapes = new Map<string, BlendShape>();
  for (const { node, path, keys } of channels) {
    if (path !== 'weights' || !shows(node)) continue;
    const names = json.meshes?.[json.nodes![node]!.mesh ?? -1]?.extras?.targetNames ?? [];
    const at = new Float64Array(keys.width);
    const values = Array.from({ length: keys.width }, () => new Float64Array(frames));
    for (let f = 0; f < frames; f++) {
      valueAt(keys, from + f / fps, at);
      at.forEach((value, k) => (values[k]![f] = value));
    }
    values.forEach((list, k) => {
      const named: unknown = names[k];
      const name =
        typeof named === 'string' && named.trim() !== '' ? named.trim().slice(0, LIMITS.name) : `shape ${k + 1}`;
      // Lashes and brows of their own mesh go with the face's: one of a name is enough.
      if (!shapes.has(name) && list.some((value) => Math.abs(value - list[0]!) > 1e-4))
        shapes.set(name, { name, values: list });
    });
  }
  return shapes.size > 0 ? { weights: [...shapes.values()] } : {};
}

/** Cameras that the scene holds, where they are at every frame. */
function camerasOf(
  json: GltfJson,
  channels: readonly Channel[],
  parents: Int32Array,
  { fps, from, frames }: FrameGrid,
): Pick<Motion, 'cameras'> {
  const nodes = (json.nodes ?? []).flatMap(({ camera }, k) => (camera === undefined ? [] : [k]));
  if (nodes.length === 0 || nodes.length * frames > LIMITS.poses / 10) return {};
  const scene = new Scene(json, parents, nodes, channels);
  const cameras = nodes.map((node): ShotCamera => {
    const lens = json.cameras![json.nodes![node]!.camera!]!;
    const sees = lens.perspective
      ? { degrees: (lens.perspective.yfov * 180) / Math.PI }
      : { units: 2 * lens.orthographic!.ymag };
    const aspect =
      lens.perspective?.aspectRatio ?? (lens.orthographic && lens.orthographic.xmag / lens.orthographic.ymag);
    return {
      name: json.nodes![node]!.name?.trim() || lens.name?.trim() || 'camera',
      positions: new Float64Array(3 * frames),
      rotations: new Float64Array(4 * frames),
      sees,
      ...(aspect !== undefined && aspect > 0 && Number.isFinite(aspect) && { aspect }),
    };
  });
  for (let f = 0; f < frames; f++) {
    scene.at(from + f / fps);
    nodes.forEach((node, k) => {
      cameras[k]!.positions.set(originOf(scene.world(node)), 3 * f);
      cameras[k]!.rotations.set(turnOf(scene.world(node)), 4 * f);
    });
  }
  return { cameras };
}

const varies = ({ values, width, how }: Keys): boolean => {
  const stride = how === 'CUBICSPLINE' ? 3 * width : width;
  const first = how === 'CUBICSPLINE' ? width : 0;
  for (let k = first; k < values.length; k += stride)
    for (let n = 0; n < width; n++) if (Math.abs(values[k + n]! - values[first + n]!) > 1e-5) return true;
  return false;
};

/** Keys of the figure's own joints, in samples. */
function keysOf(channels: readonly Channel[], { joints }: GltfFigure, { fps, from }: FrameGrid): KeyChannel[] {
  const indexOf = new Map(joints.map((node, j) => [node, j]));
  return channels.flatMap(({ node, path, keys }) => {
    const joint = indexOf.get(node);
    if (joint === undefined || path === 'weights') return [];
    const way = keys.how === 'STEP' ? 'step' : keys.how === 'LINEAR' ? 'linear' : 'cubic';
    return [{ joint, of: path, way, at: keys.times.map((time) => (time - from) * fps), flat: flatAt(keys) }];
  });
}

/** Per key 1 where the curve lies flat, coming in and going out: nothing moves there for a moment. */
function flatAt({ times, values, width, how }: Keys): Uint8Array {
  const cubic = how === 'CUBICSPLINE';
  const stride = cubic ? 3 * width : width;
  const own = cubic ? width : 0;
  let most = 0;
  for (let k = 0; k < times.length; k++)
    for (let n = 0; n < width; n++) most = Math.max(most, Math.abs(values[k * stride + own + n]! - values[own + n]!));
  const still = (at: number, other: number): boolean => {
    for (let n = 0; n < width; n++) if (Math.abs(values[at + n]! - values[other + n]!) > 1e-4 * most) return false;
    return true;
  };
  const flats = new Uint8Array(times.length);
  for (let k = 0; k < times.length; k++) {
    const at = k * stride + own;
    if (how === 'STEP') flats[k] = 0;
    else if (cubic) {
      // Slopes over the time between keys, against how far the channel goes at all.
      const gap = Math.max((times[k + 1] ?? times[k]!) - times[k]!, times[k]! - (times[k - 1] ?? times[k]!));
      let steep = 0;
      for (let n = 0; n < width; n++)
        steep = Math.max(steep, Math.abs(values[at - width + n]!), Math.abs(values[at + width + n]!));
      flats[k] = Number(steep * gap <= 0.01 * most);
    } else flats[k] = Number((k === 0 || still(at, at - stride)) && (k === times.length - 1 || still(at, at + stride)));
  }
  return flats;
}

/** A leg shorter or longer than this, metres, is no person's: the file's unit is another. */
const LEG = { shortest: 0.3, longest: 1.6 };

/** The unit of the file by the standard, unless its figure would be no person's size by that. */
function sizeOf(joints: readonly Joint[], warnings: string[]): Pick<Motion, 'metresPerUnit'> {
  const { roles } = guessRoles(joints);
  const { legLength, fromLegs } = figureScale(joints, roles);
  if (!fromLegs || (legLength >= LEG.shortest && legLength <= LEG.longest)) return { metresPerUnit: 1 };
  warnings.push(`a leg of it is ${legLength.toPrecision(3)} m long by the file: it is taken to be an adult's`);
  return {};
}

/** Lying is over this, degrees from up. */
const LIES = Math.cos((50 * Math.PI) / 180);

/** A figure that lies at rest is stood up: its rest pose, and the motion as well where that lies in the same way. */
function standing(joints: readonly Joint[], made: Sampled, warnings: string[]): Sampled {
  const { roles } = guessRoles(joints);
  const high = roles.head ?? roles.neck ?? roles.chest ?? roles.spine;
  const low = roles['foot.L'] ?? roles['foot.R'] ?? roles['shin.L'] ?? roles['shin.R'] ?? roles.hips;
  if (high === undefined || low === undefined || high === low) return made;
  const restAt = (j: number): Vec3 => {
    let [x, y, z] = [0, 0, 0];
    for (let own = j; own >= 0; own = joints[own]!.parent) {
      const { offset } = joints[own]!;
      [x, y, z] = [x + offset[0], y + offset[1], z + offset[2]];
    }
    return [x, y, z];
  };
  const along = subtract(restAt(high), restAt(low));
  const size = length(along);
  if (!(size > 0) || along[1] / size > LIES) return made;
  warnings.push('the figure lies at rest: it was stood up');
  const dominant = along.map((own) =>
    Math.abs(own) === Math.max(...along.map(Math.abs)) ? Math.sign(own) : 0,
  ) as unknown as Vec3;
  const turn = between(scaled(dominant, 1 / length(dominant)), [0, 1, 0]);
  return turnedRest(made, turn, liesThroughout(made, high, low, along));
}

/** Whether the figure lies in its motion as it does at rest: then it is the file that is turned, not the rest pose. */
function liesThroughout(
  { joints, rotations, moving, translations }: Sampled,
  high: number,
  low: number,
  along: Vec3,
): boolean {
  const count = joints.length;
  const frames = rotations.length / 4 / count;
  const line = (j: number): number[] => (j < 0 ? [] : [...line(joints[j]!.parent), j]);
  const place = (f: number, j: number): Vec3 => {
    let at: Vec3 = [0, 0, 0];
    let turn: Quat = [0, 0, 0, 1];
    for (const own of line(j)) {
      const slot = moving.indexOf(own);
      const k = 3 * (f * moving.length + slot);
      const offset: Vec3 =
        slot < 0 ? joints[own]!.offset : [translations[k]!, translations[k + 1]!, translations[k + 2]!];
      const moved = rotate(turn, offset);
      at = [at[0] + moved[0], at[1] + moved[1], at[2] + moved[2]];
      const r = 4 * (f * count + own);
      turn = turnBy(turn, [rotations[r]!, rotations[r + 1]!, rotations[r + 2]!, rotations[r + 3]!]);
    }
    return at;
  };
  let [same, upright] = [0, 0];
  const step = Math.max(1, Math.floor(frames / 50));
  for (let f = 0; f < frames; f += step) {
    const own = subtract(place(f, high), place(f, low));
    const size = length(own) || 1;
    same += dot(own, along) / size / length(along);
    upright += own[1] / size;
  }
  return same > upright;
}

/** The same motion from a rest pose that is turned; with `all` the motion is turned as well. */
function turnedRest(made: Sampled, turn: Quat, all: boolean): Sampled {
  const { joints, rotations, moving, translations } = made;
  const back = conjugate(turn);
  const count = joints.length;
  const own = Float64Array.from(rotations);
  for (let k = 0; k < rotations.length; k += 4) {
    const isRoot = joints[(k / 4) % count]!.parent < 0;
    const q: Quat = [rotations[k]!, rotations[k + 1]!, rotations[k + 2]!, rotations[k + 3]!];
    // Of a joint that hangs from another both ends are turned; a root alone has the world before it.
    own.set(isRoot ? (all ? turnBy(turnBy(turn, q), back) : turnBy(q, back)) : turnBy(turnBy(turn, q), back), k);
  }
  const moved = Float64Array.from(translations);
  for (let k = 0; k < translations.length; k += 3) {
    const j = moving[(k / 3) % moving.length]!;
    if (joints[j]!.parent < 0 && !all) continue;
    moved.set(rotate(turn, [translations[k]!, translations[k + 1]!, translations[k + 2]!]), k);
  }
  return {
    ...made,
    joints: joints.map((joint) => ({
      ...joint,
      offset: rotate(turn, joint.offset),
      ends: joint.ends.map((end) => rotate(turn, end)),
    })),
    rotations: own,
    translations: moved,
  };
}
