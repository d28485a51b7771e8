import { type Document, WebIO } from '@gltf-transform/core';
import { KHRDracoMeshCompression, KHRTextureTransform } from '@gltf-transform/extensions';
import { Texture } from 'three';
import { characterFile } from '../src/exemplar/character.ts';
import { EXEMPLARS } from '../src/exemplar/exemplars.ts';
import { readMotion } from '../src/formats/read-motion.ts';
import type { Motion, ShapePiece } from '../src/motion/motion.ts';
import { length, subtract, type Vec3 } from '../src/motion/vector.ts';

const TAKE = EXEMPLARS.take!.make({}, {});
const BLINK = [
  [3, 0],
  [6, 1],
  [9, 0],
] as const;
const KEEPER = { metresPerUnit: 0.01, keys: [0, 35, 71], face: { 'blink.L': BLINK, 'blink.R': BLINK } };

const read = async (bytes: Uint8Array, more: object = {}): Promise<Motion> =>
  (await readMotion(bytes, { usualFps: 24, withShape: true, ...more })).motion;

/** The keeper's file, changed by a library of its own. */
async function changed(change: (document: Document) => void, options: object = KEEPER): Promise<Uint8Array> {
  const io = new WebIO().registerExtensions([KHRTextureTransform]);
  const document = await io.readBinary(await characterFile(TAKE, options as typeof KEEPER));
  change(document);
  return io.writeBinary(document);
}

const at = (list: Float32Array, v: number): Vec3 => [list[3 * v]!, list[3 * v + 1]!, list[3 * v + 2]!];
const lidsOf = ({ shape }: Motion): ShapePiece => shape!.find(({ blends }) => blends !== undefined)!;

describe('blend shapes of what is drawn', () => {
  test('those that move come along with the piece they move, those that stay are not there', async () => {
    const motion = await read(await characterFile(TAKE, KEEPER));
    expect(motion.weights!.map(({ name, values }) => [name, values[3], values[6], values[9]])).toEqual([
      ['blink.L', 0, 1, 0],
      ['blink.R', 0, 1, 0],
    ]);
    expect(motion.shape!.flatMap(({ blends = [] }) => blends.map(({ name }) => name))).toEqual(['blink.L', 'blink.R']);
  });

  test('a lid closes forward and down on its own side alone', async () => {
    const { positions, blends } = lidsOf(await read(await characterFile(TAKE, KEEPER)));
    const [left] = blends!;
    for (let v = 0; v < positions.length / 3; v++) {
      const [moved, place] = [at(left!.offsets, v), at(positions, v)];
      // The figure faces +Z, so its left is +X.
      if (place[0] < 0) expect(moved).toEqual([0, 0, 0]);
      // What lies behind its pole, which leans back, rises a little.
      else expect(moved[1]).toBeLessThan(1e-3);
    }
    expect(Math.min(...left!.offsets)).toBeLessThan(-0.02);
  });

  test('one that is on and never moves is part of the shape', async () => {
    const moving = await read(await characterFile(TAKE, KEEPER));
    const open = lidsOf(moving);
    const still = await read(
      await changed(
        (document) =>
          document
            .getRoot()
            .listMeshes()
            .find((mesh) => mesh.getName() === 'lids')!
            .setWeights([0.5, 0]),
        { ...KEEPER, face: {} },
      ),
    );
    expect(still.weights).toBeUndefined();
    const shut = still.shape![moving.shape!.indexOf(open)]!;
    open.positions.forEach((value, k) =>
      expect(shut.positions[k]).toBeCloseTo(value + 0.5 * open.blends![0]!.offsets[k]!, 5),
    );
  });

  test('they lie as the figure does: what is larger, and turned by what it hangs from, is closed by as much of itself', async () => {
    const plain = lidsOf(await read(await characterFile(TAKE, KEEPER)));
    const larger = lidsOf(
      await read(
        await changed((document) => {
          const scene = document.getRoot().listScenes()[0]!;
          const above = document
            .createNode('rig')
            .setScale([100, 100, 100])
            .setRotation([-Math.SQRT1_2, 0, 0, Math.SQRT1_2]);
          for (const node of scene.listChildren()) above.addChild(node);
          scene.addChild(above);
        }),
      ),
    );
    const ratio = (piece: ShapePiece, v: number): number =>
      length(at(piece.blends![0]!.offsets, v)) / length(subtract(at(piece.positions, v), at(piece.positions, 0)));
    for (const v of [20, 40, 90, 120]) expect(ratio(larger, v)).toBeCloseTo(ratio(plain, v), 3);
  });
});

/** The smallest PNG there is that a page can show: one pixel (W3C, *Portable Network Graphics*). */
const PIXEL = Uint8Array.from(
  atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNkYPhfDwAChwGA60e6kgAAAABJRU5ErkJggg=='),
  (letter) => letter.charCodeAt(0),
);

describe('how a surface looks', () => {
  test('eyes have colours of their own, what is white or has no material has none', async () => {
    const { shape } = await read(await characterFile(TAKE, KEEPER));
    const colours = shape!.map(({ paint }) => paint?.colour.map((value) => Number(value.toFixed(2))));
    expect(colours).toEqual([
      undefined,
      [0.94, 0.92, 0.88],
      [0.02, 0.03, 0.03],
      undefined,
      undefined,
      [0.02, 0.03, 0.03],
    ]);
  });

  /** A body with a picture over it, laid so; `u` and `v` of its first vertices. */
  async function painted(
    laid: { offset?: [number, number]; scale?: [number, number]; rotation?: number },
    places: readonly [number, number][],
    mode: 'OPAQUE' | 'MASK' | 'BLEND' = 'OPAQUE',
  ): Promise<ShapePiece> {
    const motion = await read(
      await changed((document) => {
        const texture = document.createTexture('coat').setImage(PIXEL).setMimeType('image/png');
        const material = document
          .createMaterial('coat')
          .setBaseColorTexture(texture)
          .setAlphaMode(mode)
          .setAlphaCutoff(0.3);
        const transform = document.createExtension(KHRTextureTransform).createTransform();
        if (laid.offset) transform.setOffset(laid.offset);
        if (laid.scale) transform.setScale(laid.scale);
        if (laid.rotation !== undefined) transform.setRotation(laid.rotation);
        material.getBaseColorTextureInfo()!.setExtension('KHR_texture_transform', transform);
        const body = document.getRoot().listMeshes()[0]!.listPrimitives()[0]!;
        const count = body.getAttribute('POSITION')!.getCount();
        const uv = Float32Array.from({ length: 2 * count }, (_, k) => places[Math.floor(k / 2)]?.[k % 2] ?? 0);
        const buffer = document.getRoot().listBuffers()[0]!;
        body
          .setMaterial(material)
          .setAttribute('TEXCOORD_0', document.createAccessor().setArray(uv).setType('VEC2').setBuffer(buffer));
      }),
    );
    return motion.shape![0]!;
  }

  test('a picture comes with its bytes, its type and the vertices’ places on it', async () => {
    const { paint } = await painted({}, [[0.25, 0.75]]);
    expect(paint!.picture!.type).toBe('image/png');
    expect([...paint!.picture!.bytes]).toEqual([...PIXEL]);
    expect([...paint!.picture!.places.subarray(0, 2)]).toEqual([0.25, 0.75]);
    expect(paint!.cutOut).toBeUndefined();
  });

  test('what is cut out is cut out where the file says, what is blended at half', async () => {
    expect((await painted({}, [], 'MASK')).paint!.cutOut).toBeCloseTo(0.3);
    expect((await painted({}, [], 'BLEND')).paint!.cutOut).toBe(0.5);
  });

  // Khronos, KHR_texture_transform; three's own texture matrix as the reference.
  test.each([
    { offset: [0.2, -0.4] as [number, number] },
    { scale: [2, 0.5] as [number, number] },
    { rotation: 0.7 },
    { offset: [0.1, 0.3] as [number, number], scale: [1.5, 1.5] as [number, number], rotation: -1.2 },
  ])('a picture that is laid otherwise lies as three lays it: %j', async (laid) => {
    const places: [number, number][] = [
      [0, 0],
      [1, 0],
      [0.3, 0.8],
    ];
    const texture = new Texture();
    if (laid.offset) texture.offset.set(...laid.offset);
    if (laid.scale) texture.repeat.set(...laid.scale);
    if (laid.rotation !== undefined) texture.rotation = laid.rotation;
    texture.updateMatrix();
    const [a, d, , b, e, , c, f] = texture.matrix.elements as unknown as number[];
    const { paint } = await painted(laid, places);
    places.forEach(([u, v], k) => {
      expect(paint!.picture!.places[2 * k]).toBeCloseTo(a! * u + b! * v + c!, 5);
      expect(paint!.picture!.places[2 * k + 1]).toBeCloseTo(d! * u + e! * v + f!, 5);
    });
  });

  test('of one that is turned and wider than high the scale comes first, as the standard multiplies', async () => {
    const { paint } = await painted({ offset: [0, 1], scale: [2, 1], rotation: Math.PI / 2 }, [[1, 0]]);
    // (1, 0) is scaled to (2, 0), turned against the clock to (0, −2) of a picture whose second axis points down, and moved.
    expect([...paint!.picture!.places.subarray(0, 2)].map((value) => Math.round(value * 1e6) / 1e6 + 0)).toEqual([
      0, -1,
    ]);
  });
});

describe('a mesh that Draco packed (Khronos, KHR_draco_mesh_compression)', () => {
  // Packed by Google's own build, unpacked by the one that the page uses; neither says its types.
  /* eslint-disable @typescript-eslint/no-require-imports */
  const packer = require('draco3dgltf') as { createEncoderModule(): Promise<unknown> };
  const made = require('three/examples/jsm/libs/draco/gltf/draco_decoder.js') as () => Promise<unknown>;
  /* eslint-enable @typescript-eslint/no-require-imports */
  const decoder = (): Promise<unknown> => made();
  const packed = async (): Promise<Uint8Array> => {
    const document = await new WebIO().readBinary(
      await characterFile(TAKE, { metresPerUnit: 0.01, keys: [0, 35, 71] }),
    );
    document.createExtension(KHRDracoMeshCompression).setRequired(true);
    return new WebIO()
      .registerExtensions([KHRDracoMeshCompression])
      .registerDependencies({ 'draco3d.encoder': await packer.createEncoderModule() })
      .writeBinary(document);
  };

  test('is as large, as whole and carried as before, to what the packing keeps', async () => {
    const plain = (await read(await characterFile(TAKE, { metresPerUnit: 0.01, keys: [0, 35, 71] }))).shape![0]!;
    const { shape } = await read(await packed(), { draco: decoder });
    const [own] = shape!;
    // Triangles without an area, at the poles of what is round, are not kept.
    expect(own!.triangles.length).toBeLessThanOrEqual(plain.triangles.length);
    expect(own!.triangles.length).toBeGreaterThan(0.95 * plain.triangles.length);
    // Draco may write vertices in another order: each is held against the nearest.
    const seen = [...Array.from({ length: 40 }, (_, k) => 53 * k)].filter((v) => 3 * v < own!.positions.length);
    const heaviest = ({ joints, weights }: ShapePiece, v: number): number => {
      const own = [...weights.subarray(4 * v, 4 * v + 4)];
      return joints[4 * v + own.indexOf(Math.max(...own))]!;
    };
    for (const v of seen) {
      const place = at(own!.positions, v);
      const near = Array.from({ length: plain.positions.length / 3 }, (_, w) => w).filter(
        (w) => length(subtract(at(plain.positions, w), place)) < 2e-3,
      );
      // Where limbs meet, vertices of two of them lie at one place.
      expect(near.map((w) => heaviest(plain, w))).toContain(heaviest(own!, v));
    }
  });

  test('is left out where nothing unpacks it, and its motion is read all the same', async () => {
    const motion = await read(await packed());
    expect(motion.shape).toBeUndefined();
    expect(motion.frames).toBe(72);
  });

  test('is left out where its packed numbers are damaged', async () => {
    const bytes = await packed();
    const length = new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true);
    const json = JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))) as {
      meshes: { primitives: { extensions: Record<string, { bufferView: number }> }[] }[];
      bufferViews: { byteOffset?: number; byteLength: number }[];
    };
    const view = json.bufferViews[json.meshes[0]!.primitives[0]!.extensions.KHR_draco_mesh_compression!.bufferView]!;
    const from = 28 + length + (view.byteOffset ?? 0);
    const broken = bytes.slice();
    broken.fill(0x5a, from + 8, from + Math.min(400, view.byteLength));
    const { shape } = await read(broken, { draco: decoder });
    expect(shape!.length).toBeLessThan((await read(bytes, { draco: decoder })).shape!.length);
  });
});
