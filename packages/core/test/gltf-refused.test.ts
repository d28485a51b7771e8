import { readFileSync } from 'node:fs';
import { WebIO } from '@gltf-transform/core';
import { zipSync } from 'fflate';
import { FormatError } from '../src/formats/format-error.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import { recording } from './fixtures.ts';
import { buildRig, glbOf, MAST, SWING, swinging, turns } from './gltf-rigs.ts';

describe('what can’t be read is refused in words', () => {
  const refusal = async (bytes: Uint8Array): Promise<string> => {
    try {
      await readMotion(bytes);
    } catch (error) {
      if (error instanceof FormatError) return error.message;
      throw error;
    }
    throw new Error('the file was read');
  };
  type Tree = { [key: string | number]: unknown };
  /** Puts a value at a place of a tree; one that is worked out is given what is there. */
  const put = (tree: Tree, [key, ...rest]: readonly (string | number)[], value: unknown): void => {
    if (rest.length > 0) put((tree[key!] ??= {}) as Tree, rest, value);
    else if (value === undefined) delete tree[key!];
    else tree[key!] = typeof value === 'function' ? (value as (old: unknown) => unknown)(tree[key!]) : value;
  };
  /** The swinging mast as text, with a value in it changed: `nodes.0.name` is the first node's name. */
  const changed = async (changes: Readonly<Record<string, unknown>>): Promise<Uint8Array> => {
    const { json, resources } = await new WebIO().writeJSON(buildRig(swinging()));
    const numbers = Buffer.from(Object.values(resources)[0]!).toString('base64');
    const own = structuredClone(json) as unknown as Tree;
    put(own, ['buffers', 0, 'uri'], `data:application/octet-stream;base64,${numbers}`);
    for (const [place, value] of Object.entries(changes)) put(own, place.split('.'), value);
    return new TextEncoder().encode(JSON.stringify(own));
  };
  test('as it is, it is read', async () => {
    const { motion, format } = await readMotion(await changed({}), { fps: 24 });
    expect([format, motion.frames]).toEqual(['gltf', 25]);
  });

  /** The head of a PNG of a size. */
  const pngOf = (width: number, height: number): string => {
    const head = Buffer.alloc(33);
    head.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a]);
    head.writeUInt32BE(13, 8);
    head.write('IHDR', 12);
    head.writeUInt32BE(width, 16);
    head.writeUInt32BE(height, 20);
    return `data:image/png;base64,${head.toString('base64')}`;
  };
  const line = (count: number): unknown[] =>
    Array.from({ length: count }, (_, k) => (k < count - 1 ? { children: [k + 1] } : {}));
  let deep: unknown = 1;
  for (let k = 0; k < 70; k++) deep = [deep];
  const manyPlaces = { componentType: 5120, type: 'VEC3', count: 500_001 };
  const farSparse = {
    ...{ count: 3, values: { bufferView: 0 } },
    indices: { bufferView: 0, byteOffset: 1e6, componentType: 5123 },
  };
  test.each<[string, Readonly<Record<string, unknown>>, RegExp]>([
    ['another version', { 'asset.version': '1.0' }, /glTF of version "1.0"/],
    ['nodes that are no list', { nodes: {} }, /nodes: expected a list/],
    ['a node that hangs from itself', { 'nodes.2.children': [0] }, /hangs from itself/],
    ['a node with two parents', { 'nodes.0.children': [1, 2] }, /hangs from two others/],
    ['a child that is not there', { 'nodes.0.children': [99] }, /points to number 99, and there are 3/],
    ['a place that is no number', { 'nodes.0.translation': [0, 'x', 0] }, /translation: expected numbers/],
    ['a turn of three numbers', { 'nodes.0.rotation': [0, 0, 0] }, /rotation: expected 4 numbers, found 3/],
    ['too many nodes', { nodes: Array.from({ length: 10_001 }, () => ({})) }, /10,001 nodes; at most 10,000/],
    ['a tree without end', { nodes: line(900) }, /hangs from more than 500/],
    ['numbers past their buffer', { 'bufferViews.0.byteLength': 1e6 }, /ends at byte/],
    ['numbers past their view', { 'accessors.0.count': 5000 }, /end at byte .* of a view of/],
    ['numbers of an unknown kind', { 'accessors.0.componentType': 7 }, /of an unknown kind/],
    ['no numbers at all', { 'accessors.0.count': 0 }, /are none/],
    [
      'more than memory holds',
      { 'accessors.0.count': 2 ** 30, 'accessors.0.bufferView': undefined },
      /unpacks to more/,
    ],
    ['a buffer that is cut', { 'buffers.0.byteLength': (old: number) => old + 400 }, /are cut: /],
    ['a buffer from elsewhere', { 'buffers.0.uri': 'https://harbour.example/mast.bin' }, /nothing is fetched/],
    ['a buffer that is not beside it', { 'buffers.0.uri': 'mast.bin' }, /“mast.bin”, which is not here/],
    ['keys without values', { 'animations.0.samplers.0.output': 0 }, /a rotation of type SCALAR/],
    ['an unknown way between keys', { 'animations.0.samplers.0.interpolation': 'BOUNCE' }, /unknown way, "BOUNCE"/],
    ['a channel of what is not there', { 'animations.0.channels.0.target.node': 40 }, /node: points to number 40/],
    ['a channel of an unknown thing', { 'animations.0.channels.0.target.path': 'mood' }, /an unknown thing, "mood"/],
    ['no animation', { animations: undefined }, /holds no animation/],
    ['a skin that names a joint twice', { skins: [{ joints: [0, 0] }] }, /skin 0 names a joint twice/],
    ['a camera without an angle', { cameras: [{ type: 'perspective', perspective: {} }] }, /its angle is none/],
    ['sparse numbers past their view', { 'accessors.1.sparse': farSparse }, /sparse indices: end at byte/],
    [
      'too many vertices',
      { 'accessors.2': manyPlaces, meshes: [{ primitives: [{ attributes: { POSITION: 2 } }] }] },
      /500,001 vertices/,
    ],
    [
      'normals for fewer vertices',
      {
        'accessors.2': { componentType: 5126, type: 'VEC3', count: 3 },
        'accessors.3': { componentType: 5126, type: 'VEC3', count: 2 },
        meshes: [{ primitives: [{ attributes: { POSITION: 2, NORMAL: 3 } }] }],
      },
      /2 NORMAL of type VEC3 for 3 vertices/,
    ],
    [
      'places of two numbers',
      {
        'accessors.2': { componentType: 5126, type: 'VEC2', count: 3 },
        meshes: [{ primitives: [{ attributes: { POSITION: 2 } }] }],
      },
      /3 POSITION of type VEC2/,
    ],
    ['too many textures', { textures: Array.from({ length: 9 }, () => ({})) }, /9 textures; at most 8/],
    ['a texture that no page draws', { images: [{ uri: pngOf(8192, 16) }] }, /8192 × 16 pixels; at most 4096/],
    ['a picture that is not there', { images: [{ bufferView: 70 }] }, /image 0, bufferView: points to number 70/],
    ['nesting without end', { extras: deep }, /nested over 64 deep/],
  ])('%s', async (_, changes, message) => expect(await refusal(await changed(changes))).toMatch(message));

  test('times that fall, and numbers that are none', async () => {
    expect(
      await refusal(await glbOf({ roots: [MAST], animations: { a: [turns('mast', [0, 1, 0.5], [0, 1, 2])] } })),
    ).toMatch(/do not follow one another in time/);
    expect(
      await refusal(
        await glbOf({
          roots: [MAST],
          animations: {
            a: [
              {
                ...SWING,
                values: [
                  [0, 0, 0, NaN],
                  [0, 0, 0, 1],
                  [0, 0, 0, 1],
                ],
              },
            ],
          },
        }),
      ),
    ).toMatch(/no value that a motion can have/);
    expect(await refusal(await glbOf({ roots: [MAST], animations: { a: [turns('mast', [0, 1e7], [0, 1])] } }))).toMatch(
      /at most 100,000 can be read/,
    );
  });

  test('a file that is cut', async () => {
    const whole = await glbOf(swinging());
    for (const length of [4, 12, 19, 30, 200, whole.length - 4])
      expect(await refusal(whole.subarray(0, length))).toMatch(/cut|damaged/);
  });

  test('files that others have broken', async () => {
    const broken = (name: string): Promise<string> => refusal(readFileSync(`/usr/share/assimp/models/glTF2/${name}`));
    expect(await broken('RecursiveNodes/RecursiveNodes.gltf')).toMatch(/hangs from itself/);
    expect(await broken('MissingBin/BoxTextured.gltf')).toMatch(/which is not here/);
    expect(await broken('wrongTypes/badArray.gltf')).toMatch(/expected a list/);
    expect(await broken('SchemaFailures/sceneWrongType.gltf')).toMatch(/scene: expected a whole number/);
  });

  test('whatever is changed in a file, it is read with numbers or refused in words', async () => {
    const whole = await glbOf(swinging());
    let state = 7;
    const next = (below: number): number => (state = (Math.imul(1664525, state) + 1013904223) >>> 0) % below;
    let refused = 0;
    for (let k = 0; k < 400; k++) {
      const own = Uint8Array.from(whole);
      for (let n = 0; n <= next(3); n++) own[12 + next(own.length - 12)] = next(256);
      try {
        const { motion } = await readMotion(own, { fps: 24 });
        expect(motion.rotations.every(Number.isFinite) && motion.translations.every(Number.isFinite)).toBe(true);
      } catch (error) {
        expect(error).toBeInstanceOf(FormatError);
        refused++;
      }
    }
    expect(refused).toBeGreaterThan(50);
  });
});

describe('in a zip', () => {
  const text = async (): Promise<Record<string, Uint8Array>> => {
    const { json, resources } = await new WebIO().writeJSON(buildRig(swinging()), { basename: 'mast' });
    return { 'mast.gltf': new TextEncoder().encode(JSON.stringify(json)), ...resources };
  };
  const within = (folder: string, files: Record<string, Uint8Array>): Record<string, Uint8Array> =>
    Object.fromEntries(Object.entries(files).map(([name, own]) => [`${folder}${name}`, own]));

  test('a .gltf finds what it names, in whatever folder both lie', async () => {
    for (const folder of ['', 'last ferry/'])
      expect((await readMotion(zipSync(within(folder, await text())), { fps: 24 })).motion.frames).toBe(25);
  });

  test('a .glb or a .bvh alone is read as well; none, and two, are refused', async () => {
    const glb = await glbOf(swinging());
    expect(
      (await readMotion(zipSync({ 'a.glb': glb, '__MACOSX/._a.glb': glb.subarray(0, 9) }), { fps: 24 })).format,
    ).toBe('gltf');
    expect((await readMotion(zipSync({ 'a.bvh': recording('01_03.bvh') }))).format).toBe('bvh');
    await expect(readMotion(zipSync({ 'a.glb': glb, 'b.glb': glb }))).rejects.toThrow(/holds 2 motions/);
    await expect(readMotion(zipSync({ 'a.txt': glb }))).rejects.toThrow(/holds no motion/);
    const { 'mast.gltf': alone } = await text();
    await expect(readMotion(zipSync({ 'mast.gltf': alone! }))).rejects.toThrow(/which is not here/);
  });

  test('what unpacks to more than can be read is refused before it is', async () => {
    const bomb = zipSync({ 'a.glb': new Uint8Array(140 * 1024 * 1024) }, { level: 9 });
    await expect(readMotion(bomb)).rejects.toThrow(/unpacks to more than 128 MB/);
  });
});
