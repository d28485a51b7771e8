import { type Extension, WebIO } from '@gltf-transform/core';
import { EXTMeshoptCompression, KHRMeshQuantization } from '@gltf-transform/extensions';
import { MeshoptDecoder } from 'meshoptimizer/meshopt_decoder_reference.js';
import { FormatError } from '../format-error.ts';
import type { GltfJson } from './gltf-json.ts';

/** Extensions that say how numbers are packed: these are undone. All others say how things look. */
const PACKING = [EXTMeshoptCompression.EXTENSION_NAME, KHRMeshQuantization.EXTENSION_NAME];

/**
 * The numbers of some accessors of a checked document, unpacked: interleaved, sparse, normalised or compressed, they come as plain numbers.
 *
 * @param wanted which accessors, by their number in the document
 * @param buffers the bytes of its buffers
 * @throws FormatError where one holds what is no number
 */
export async function readAccessors(
  json: GltfJson,
  wanted: Iterable<number>,
  buffers: readonly Uint8Array[],
): Promise<ReadonlyMap<number, Float64Array>> {
  const own = [...new Set(wanted)].sort((a, b) => a - b);
  // A document of nothing but these numbers: what it shows is not looked at, so nothing in that can do harm.
  const alone = {
    asset: { version: '2.0' },
    accessors: own.map((k) => json.accessors![k]!),
    bufferViews: json.bufferViews ?? [],
    buffers: buffers.map(({ length }, k) => ({ ...json.buffers![k]!, ...(length > 0 && { uri: `${k}.bin` }) })),
    extensionsUsed: PACKING,
  };
  const resources = Object.fromEntries(buffers.map((bytes, k) => [`${k}.bin`, aligned(bytes)]));
  const extensions: (typeof Extension)[] = [EXTMeshoptCompression, KHRMeshQuantization];
  let read;
  try {
    await MeshoptDecoder.ready;
    const io = new WebIO().registerExtensions(extensions).registerDependencies({ 'meshopt.decoder': MeshoptDecoder });
    const document = await io.readJSON({ json: alone as never, resources });
    read = document.getRoot().listAccessors();
  } catch (error) {
    throw new FormatError(`its numbers can't be unpacked: ${error instanceof Error ? error.message : String(error)}`);
  }
  if (read.length !== own.length) throw new FormatError('its numbers can’t be unpacked');
  return new Map(
    own.map((k, n) => {
      const accessor = read[n]!;
      const [count, size] = [accessor.getCount(), accessor.getElementSize()];
      const values = new Float64Array(count * size);
      const element: number[] = [];
      for (let at = 0; at < count; at++) values.set(accessor.getElement(at, element), at * size);
      return [k, finite(values, k)];
    }),
  );
}

/** Bytes that begin where numbers of four bytes may. */
const aligned = (bytes: Uint8Array): Uint8Array<ArrayBuffer> => Uint8Array.from(bytes);

function finite(values: Float64Array, k: number): Float64Array {
  const at = values.findIndex((value) => !(Math.abs(value) <= 1e9));
  if (at >= 0) throw new FormatError(`numbers ${k}: ${values[at]} is no value that a motion can have`);
  return values;
}
