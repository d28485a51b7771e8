import { listAt, type Loose, objectAt, said } from '../check-json.ts';
import { FormatError, LIMITS } from '../format-error.ts';
import {
  COMPONENTS,
  ELEMENTS,
  GLTF_LIMITS,
  type GltfAccessor,
  type GltfJson,
  INTERPOLATIONS,
  PATHS,
} from './gltf-json.ts';

/**
 * Checks what a document says of itself before anything is read by it: kinds of values, places that are pointed to, lengths, loops, and
 * how much of everything there is. What it says of materials, lights and the like is left alone: nothing here looks at it.
 *
 * @throws FormatError in words for the person who handed it in
 */
export function checkGltf(value: unknown): GltfJson {
  const json = objectAt(value, 'the description');
  const { version } = objectAt(json.asset, 'asset');
  if (typeof version !== 'string' || !/^2\./.test(version))
    throw new FormatError(`this is glTF of version ${said(version)}; version 2.0 can be read`);
  const count = (name: string): number => listAt(json[name] ?? [], name).length;
  atMost(count('nodes'), GLTF_LIMITS.nodes, 'nodes');
  atMost(count('animations'), GLTF_LIMITS.animations, 'animations');
  atMost(count('accessors'), GLTF_LIMITS.accessors, 'blocks of numbers');
  checkNodes(json, count);
  checkSkins(json, count);
  checkStorage(json, count);
  const document = json as unknown as GltfJson;
  checkAnimations(json, count, document);
  checkMeshes(json, count, document);
  return document;
}

/** A whole number from 0 below a bound. */
function indexAt(value: unknown, bound: number, where: string): number {
  if (!Number.isInteger(value) || (value as number) < 0)
    throw new FormatError(`${where}: expected a whole number, found ${said(value)}`);
  if ((value as number) >= bound)
    throw new FormatError(`${where}: points to number ${value as number}, and there are ${bound}`);
  return value as number;
}

const optional = <T>(value: unknown, check: (own: unknown) => T): T | undefined =>
  value === undefined ? undefined : check(value);

function numbersAt(value: unknown, length: number | undefined, where: string): readonly number[] {
  const list = listAt(value, where);
  if (length !== undefined && list.length !== length)
    throw new FormatError(`${where}: expected ${length} numbers, found ${list.length}`);
  for (const own of list)
    if (typeof own !== 'number' || !Number.isFinite(own) || Math.abs(own) > LIMITS.value)
      throw new FormatError(`${where}: expected numbers, found ${said(own)}`);
  return list as readonly number[];
}

function atMost(count: number, most: number, of: string): void {
  if (count > most)
    throw new FormatError(
      `the file has ${count.toLocaleString('en')} ${of}; at most ${most.toLocaleString('en')} can be read`,
    );
}

function textAt(value: unknown, where: string): void {
  if (value !== undefined && typeof value !== 'string')
    throw new FormatError(`${where}: expected a name, found ${said(value)}`);
}

type Count = (name: string) => number;

function checkNodes(json: Loose, count: Count): void {
  const nodes = listAt(json.nodes ?? [], 'nodes');
  const parent = new Int32Array(nodes.length).fill(-1);
  nodes.forEach((value, k) => {
    const where = `node ${k}`;
    const node = objectAt(value, where);
    textAt(node.name, `${where}, name`);
    for (const child of listAt(node.children ?? [], `${where}, children`)) {
      const own = indexAt(child, nodes.length, `${where}, children`);
      if (parent[own] !== -1) throw new FormatError(`node ${own} hangs from two others, ${parent[own]} and ${k}`);
      parent[own] = k;
    }
    for (const [name, length] of [
      ['matrix', 16],
      ['translation', 3],
      ['rotation', 4],
      ['scale', 3],
    ] as const)
      optional(node[name], (own) => numbersAt(own, length, `${where}, ${name}`));
    optional(node.weights, (own) => numbersAt(own, undefined, `${where}, weights`));
    optional(node.mesh, (own) => indexAt(own, count('meshes'), `${where}, mesh`));
    optional(node.skin, (own) => indexAt(own, count('skins'), `${where}, skin`));
    optional(node.camera, (own) => indexAt(own, count('cameras'), `${where}, camera`));
  });
  parent.forEach((_, k) => {
    let steps = 0;
    for (let own = k; own !== -1; own = parent[own]!)
      if (++steps > Math.min(GLTF_LIMITS.depth, nodes.length))
        throw new FormatError(
          steps > nodes.length
            ? `node ${k} hangs from itself`
            : `node ${k} hangs from more than ${GLTF_LIMITS.depth} others`,
        );
  });
  listAt(json.scenes ?? [], 'scenes').forEach((value, k) => {
    const scene = objectAt(value, `scene ${k}`);
    for (const root of listAt(scene.nodes ?? [], `scene ${k}, nodes`)) indexAt(root, nodes.length, `scene ${k}, nodes`);
  });
  optional(json.scene, (own) => indexAt(own, count('scenes'), 'scene'));
  listAt(json.cameras ?? [], 'cameras').forEach((value, k) => {
    const camera = objectAt(value, `camera ${k}`);
    if (camera.type !== 'perspective' && camera.type !== 'orthographic')
      throw new FormatError(`camera ${k}: expected perspective or orthographic, found ${said(camera.type)}`);
    const lens = objectAt(camera[camera.type], `camera ${k}, ${camera.type}`);
    const wide = camera.type === 'perspective' ? lens.yfov : lens.ymag;
    if (typeof wide !== 'number' || !(wide > 0)) throw new FormatError(`camera ${k}: its angle is ${said(wide)}`);
  });
}

function checkSkins(json: Loose, count: Count): void {
  listAt(json.skins ?? [], 'skins').forEach((value, k) => {
    const where = `skin ${k}`;
    const skin = objectAt(value, where);
    textAt(skin.name, `${where}, name`);
    const joints = listAt(skin.joints, `${where}, joints`);
    if (joints.length === 0) throw new FormatError(`${where} has no joint`);
    atMost(joints.length, LIMITS.joints, 'joints');
    for (const joint of joints) indexAt(joint, count('nodes'), `${where}, joints`);
    if (new Set(joints).size !== joints.length) throw new FormatError(`${where} names a joint twice`);
    optional(skin.skeleton, (own) => indexAt(own, count('nodes'), `${where}, skeleton`));
    optional(skin.inverseBindMatrices, (own) => indexAt(own, count('accessors'), `${where}, inverseBindMatrices`));
  });
}

/** Buffers, the views of them, and the accessors that read the views: none may reach past its own. */
function checkStorage(json: Loose, count: Count): void {
  const lengthOf = (value: unknown, where: string): number => {
    if (!Number.isInteger(value) || (value as number) < 0)
      throw new FormatError(`${where}: expected a length, found ${said(value)}`);
    return value as number;
  };
  const buffers = listAt(json.buffers ?? [], 'buffers').map((value, k) => {
    const buffer = objectAt(value, `buffer ${k}`);
    textAt(buffer.uri, `buffer ${k}, uri`);
    return lengthOf(buffer.byteLength, `buffer ${k}, byteLength`);
  });
  const views = listAt(json.bufferViews ?? [], 'bufferViews').map((value, k) => {
    const where = `view ${k}`;
    const view = objectAt(value, where);
    const buffer = indexAt(view.buffer, buffers.length, `${where}, buffer`);
    const begins = lengthOf(view.byteOffset ?? 0, `${where}, byteOffset`);
    const long = lengthOf(view.byteLength, `${where}, byteLength`);
    const packed = packedIn(view);
    if (!packed && begins + long > buffers[buffer]!)
      throw new FormatError(`${where} ends at byte ${begins + long} of a buffer of ${buffers[buffer]}`);
    const stride = optional(view.byteStride, (own) => lengthOf(own, `${where}, byteStride`)) ?? 0;
    if (stride !== 0 && (stride < 4 || stride > 252 || stride % 4 !== 0))
      throw new FormatError(`${where}: a stride of ${stride} bytes is not allowed`);
    return { long, stride };
  });
  listAt(json.images ?? [], 'images').forEach((value, k) => {
    const image = objectAt(value, `image ${k}`);
    textAt(image.uri, `image ${k}, uri`);
    optional(image.bufferView, (own) => indexAt(own, views.length, `image ${k}, bufferView`));
  });
  let unpacked = 0;
  listAt(json.accessors ?? [], 'accessors').forEach((value, k) => {
    const where = `numbers ${k}`;
    const accessor = objectAt(value, where) as unknown as GltfAccessor;
    const size = COMPONENTS[accessor.componentType];
    const elements = typeof accessor.type === 'string' ? ELEMENTS[accessor.type] : undefined;
    if (size === undefined) throw new FormatError(`${where}: of an unknown kind, ${said(accessor.componentType)}`);
    if (elements === undefined) throw new FormatError(`${where}: of an unknown type, ${said(accessor.type)}`);
    const many = lengthOf(accessor.count, `${where}, count`);
    if (many === 0) throw new FormatError(`${where} are none`);
    unpacked += many * elements * 8;
    if (unpacked > GLTF_LIMITS.unpacked) throw new FormatError('it unpacks to more numbers than can be read');
    const element = elements * size;
    const reach = (view: unknown, offset: unknown, n: number, bytes: number, what: string): void => {
      const at = indexAt(view, count('bufferViews'), `${where}${what}`);
      const begins = lengthOf(offset ?? 0, `${where}${what}, byteOffset`);
      const step = what === '' && views[at]!.stride > 0 ? views[at]!.stride : bytes;
      if (what === '' && step < bytes) throw new FormatError(`${where} overlap each other`);
      const ends = begins + (n - 1) * step + bytes;
      if (ends > views[at]!.long)
        throw new FormatError(`${where}${what}: end at byte ${ends} of a view of ${views[at]!.long}`);
    };
    if (accessor.bufferView !== undefined) reach(accessor.bufferView, accessor.byteOffset, many, element, '');
    if (accessor.sparse !== undefined) {
      const sparse = objectAt(accessor.sparse, `${where}, sparse`);
      const some = lengthOf(sparse.count, `${where}, sparse count`);
      if (some === 0 || some > many) throw new FormatError(`${where}: ${some} of ${many} are said to be changed`);
      const indices = objectAt(sparse.indices, `${where}, sparse indices`);
      const values = objectAt(sparse.values, `${where}, sparse values`);
      const bytes = [5121, 5123, 5125].includes(Number(indices.componentType))
        ? COMPONENTS[Number(indices.componentType)]!
        : undefined;
      if (bytes === undefined) throw new FormatError(`${where}: sparse indices of an unknown kind`);
      reach(indices.bufferView, indices.byteOffset, some, bytes, ', sparse indices');
      reach(values.bufferView, values.byteOffset, some, element, ', sparse values');
    }
  });
}

/** Whether a view's own bytes are a stand-in for packed ones, whose reader checks them. */
const packedIn = ({ extensions }: Loose): boolean =>
  typeof extensions === 'object' &&
  extensions !== null &&
  ('EXT_meshopt_compression' in extensions || 'KHR_meshopt_compression' in extensions);

function checkAnimations(json: Loose, count: Count, { accessors = [] }: GltfJson): void {
  let [channels, keys] = [0, 0];
  listAt(json.animations ?? [], 'animations').forEach((value, a) => {
    const animation = objectAt(value, `animation ${a}`);
    textAt(animation.name, `animation ${a}, name`);
    const samplers = listAt(animation.samplers, `animation ${a}, samplers`).map((own, s) => {
      const where = `animation ${a}, sampler ${s}`;
      const sampler = objectAt(own, where);
      const input = accessors[indexAt(sampler.input, accessors.length, `${where}, input`)]!;
      const output = accessors[indexAt(sampler.output, accessors.length, `${where}, output`)]!;
      const how = sampler.interpolation ?? 'LINEAR';
      if (!INTERPOLATIONS.includes(how as never))
        throw new FormatError(`${where}: goes on in an unknown way, ${said(how)}`);
      if (input.type !== 'SCALAR' || input.componentType !== 5126)
        throw new FormatError(`${where}: its times are no plain numbers`);
      keys += input.count;
      return { input, output, cubic: how === 'CUBICSPLINE' };
    });
    const own = listAt(animation.channels, `animation ${a}, channels`);
    channels += own.length;
    own.forEach((value, c) => {
      const where = `animation ${a}, channel ${c}`;
      const channel = objectAt(value, where);
      const { input, output, cubic } = samplers[indexAt(channel.sampler, samplers.length, `${where}, sampler`)]!;
      const target = objectAt(channel.target, `${where}, target`);
      optional(target.node, (node) => indexAt(node, count('nodes'), `${where}, node`));
      const path = target.path;
      // Paths of extensions, which move colours and lights, are none of ours.
      if (!PATHS.includes(path as never)) {
        if (path === 'pointer') return;
        throw new FormatError(`${where}: moves an unknown thing, ${said(path)}`);
      }
      const expected = path === 'rotation' ? 'VEC4' : path === 'weights' ? 'SCALAR' : 'VEC3';
      if (output.type !== expected) throw new FormatError(`${where}: a ${String(path)} of type ${output.type}`);
      const each = output.count / (input.count * (cubic ? 3 : 1));
      if (path === 'weights' ? !Number.isInteger(each) || each < 1 : each !== 1)
        throw new FormatError(`${where}: ${input.count} keys have ${output.count} values`);
    });
  });
  atMost(channels, GLTF_LIMITS.channels, 'channels');
  atMost(keys, GLTF_LIMITS.keys, 'keys');
}

/** What a vertex has, and of which type. */
const VERTEX = [
  ['POSITION', 'VEC3'],
  ['NORMAL', 'VEC3'],
  ['JOINTS_0', 'VEC4'],
  ['WEIGHTS_0', 'VEC4'],
] as const;

function checkMeshes(json: Loose, count: Count, { accessors = [] }: GltfJson): void {
  const counted = new Set<number>();
  let vertices = 0;
  listAt(json.meshes ?? [], 'meshes').forEach((value, m) => {
    const mesh = objectAt(value, `mesh ${m}`);
    optional(mesh.weights, (own) => numbersAt(own, undefined, `mesh ${m}, weights`));
    listAt(mesh.primitives, `mesh ${m}, primitives`).forEach((own, p) => {
      const where = `mesh ${m}, part ${p}`;
      const primitive = objectAt(own, where);
      const attributes = objectAt(primitive.attributes, `${where}, attributes`);
      for (const [name, at] of Object.entries(attributes))
        indexAt(at, accessors.length, `${where}, ${name.slice(0, 40)}`);
      optional(primitive.indices, (at) => {
        const { type } = accessors[indexAt(at, accessors.length, `${where}, indices`)]!;
        if (type !== 'SCALAR') throw new FormatError(`${where}: its triangles are of type ${type}`);
      });
      const vertexCount = accessors[attributes.POSITION as number]?.count;
      for (const [name, wanted] of VERTEX) {
        const own = accessors[attributes[name] as number];
        if (own && (own.type !== wanted || own.count !== vertexCount))
          throw new FormatError(
            `${where}: ${own.count} ${name} of type ${own.type} for ${vertexCount ?? 'no'} vertices`,
          );
      }
      for (const target of listAt(primitive.targets ?? [], `${where}, targets`))
        for (const at of Object.values(objectAt(target, `${where}, targets`)))
          indexAt(at, accessors.length, `${where}, targets`);
      const places = attributes.POSITION as number | undefined;
      if (places === undefined || counted.has(places)) return;
      counted.add(places);
      vertices += accessors[places]!.count;
    });
  });
  atMost(vertices, GLTF_LIMITS.vertices, 'vertices');
  atMost(count('textures'), GLTF_LIMITS.textures, 'textures');
}
