import { type Extension, WebIO } from '@gltf-transform/core';
import { KHRDracoMeshCompression } from '@gltf-transform/extensions';
import type { DracoDecoder } from '../format.ts';
import type { GltfJson, GltfMesh } from './gltf-json.ts';

type Primitive = GltfMesh['primitives'][number];

const NAME = KHRDracoMeshCompression.EXTENSION_NAME;

/** Whether the numbers of a part of a mesh are packed by Draco. */
export const isDraco = ({ extensions = {} }: Primitive): boolean => NAME in extensions;

/**
 * The numbers of parts of meshes that are packed by Draco (Khronos, *KHR_draco_mesh_compression*), by the accessors that stand for them. A part that
 * can't be unpacked, or unpacks to something else than it says, has none of them.
 */
export async function unpackedDraco(
  json: GltfJson,
  primitives: readonly Primitive[],
  buffers: readonly Uint8Array[],
  decoder: DracoDecoder,
): Promise<ReadonlyMap<number, Float64Array>> {
  const numbers = new Map<number, Float64Array>();
  if (primitives.length === 0) return numbers;
  const extensions: (typeof Extension)[] = [KHRDracoMeshCompression];
  const io = new WebIO().registerExtensions(extensions).registerDependencies({ 'draco3d.decoder': await decoder() });
  const resources = Object.fromEntries(buffers.map((bytes, k) => [`${k}.bin`, Uint8Array.from(bytes)]));
  for (const primitive of primitives) {
    // A document of nothing but this part: one that is broken takes no other with it.
    const alone = {
      asset: { version: '2.0' },
      accessors: json.accessors,
      bufferViews: json.bufferViews,
      buffers: buffers.map((bytes, k) => ({ byteLength: bytes.length, uri: `${k}.bin` })),
      meshes: [{ primitives: [{ ...primitive, material: undefined, targets: undefined }] }],
      extensionsUsed: [NAME],
      extensionsRequired: [NAME],
    };
    const own = new Map<number, Float64Array>();
    try {
      const read = (await io.readJSON({ json: alone as never, resources })).getRoot().listMeshes()[0]!;
      const [part] = read.listPrimitives();
      const packed = primitive.extensions![NAME] as { readonly attributes: Readonly<Record<string, number>> };
      for (const [name, at] of Object.entries(primitive.attributes))
        if (name in packed.attributes) own.set(at, valuesOf(part!.getAttribute(name)!, json.accessors![at]!.count));
      if (primitive.indices !== undefined)
        own.set(primitive.indices, valuesOf(part!.getIndices()!, json.accessors![primitive.indices]!.count));
    } catch {
      continue;
    }
    for (const [at, values] of own) numbers.set(at, values);
  }
  return numbers;
}

interface Unpacked {
  getCount(): number;
  getElementSize(): number;
  getElement(at: number, target: number[]): number[];
}

function valuesOf(accessor: Unpacked, count: number): Float64Array {
  if (accessor.getCount() !== count) throw new Error(`${accessor.getCount()} where ${count} are said`);
  const size = accessor.getElementSize();
  const values = new Float64Array(count * size);
  const element: number[] = [];
  for (let at = 0; at < count; at++) values.set(accessor.getElement(at, element), at * size);
  if (!values.every((value) => Math.abs(value) <= 1e9)) throw new Error('no value that a place can have');
  return values;
}
