import { FormatError, LIMITS } from '../format-error.ts';
import type { Beside } from '../format.ts';
import { type GltfJson, GLTF_LIMITS } from './gltf-json.ts';
import { pictureSize } from './picture-size.ts';

/** A glTF document before anything in it is believed, and the bytes of its buffers. */
export interface OpenedGltf {
  readonly json: unknown;
  /** The binary part of a `.glb`. */
  readonly binary: Uint8Array | undefined;
}

const MAGIC = 0x46546c67;
const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;

/** Whether the bytes begin as a binary glTF file does. */
export const isGlb = (bytes: Uint8Array): boolean =>
  bytes.length >= 4 && new DataView(bytes.buffer, bytes.byteOffset).getUint32(0, true) === MAGIC;

/** Whether the bytes are a JSON object that has an `asset`: what a `.gltf` file is. */
export const isGltfText = (bytes: Uint8Array): boolean => isJsonText(bytes) && includesText(bytes, '"asset"');

/** Whether a text begins as an object of JSON does. */
export const isJsonText = (bytes: Uint8Array): boolean =>
  new TextDecoder().decode(bytes.subarray(0, 64)).trimStart().startsWith('{');

function includesText(bytes: Uint8Array, text: string): boolean {
  const wanted = new TextEncoder().encode(text);
  for (let at = bytes.indexOf(wanted[0]!); at >= 0; at = bytes.indexOf(wanted[0]!, at + 1))
    if (wanted.every((byte, k) => bytes[at + k] === byte)) return true;
  return false;
}

/**
 * Opens a glTF file: a `.glb` (Khronos, *glTF 2.0 Specification*, section 4.4: a header of 12 bytes, then chunks) or the JSON of a `.gltf`.
 * @throws FormatError where it is cut, is of another version, or its JSON can't be read
 */
export function openGltf(bytes: Uint8Array): OpenedGltf {
  if (bytes.length > LIMITS.bytes)
    throw new FormatError(`the file has ${(bytes.length / 1048576).toFixed(0)} MB; at most 64 MB can be read`);
  if (!isGlb(bytes)) return { json: parsed(bytes), binary: undefined };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 20) throw new FormatError(`the file is cut: it has ${bytes.length} bytes, a header alone has 20`);
  const version = view.getUint32(4, true);
  if (version !== 2) throw new FormatError(`this is glTF of version ${version}; version 2 can be read`);
  const length = view.getUint32(8, true);
  if (length > bytes.length)
    throw new FormatError(`the file is cut: it says that it has ${length} bytes, and ${bytes.length} are there`);
  let json: unknown;
  let binary: Uint8Array | undefined;
  for (let at = 12; at + 8 <= length;) {
    const size = view.getUint32(at, true);
    const type = view.getUint32(at + 4, true);
    const from = at + 8;
    if (from + size > length)
      throw new FormatError(`a part of the file is said to have ${size} bytes, more than the file has left`);
    const chunk = bytes.subarray(from, from + size);
    if (at === 12) {
      if (type !== JSON_CHUNK) throw new FormatError('the file does not begin with its description, as a .glb does');
      json = parsed(chunk);
    } else if (type === BINARY_CHUNK && binary === undefined) binary = chunk;
    at = from + size + ((4 - (size % 4)) % 4);
  }
  return { json, binary };
}

function parsed(bytes: Uint8Array): unknown {
  const deepest = nesting(bytes);
  if (deepest > GLTF_LIMITS.nesting)
    throw new FormatError(`its description is nested over ${GLTF_LIMITS.nesting} deep: nothing that was exported is`);
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes).replace(/^\uFEFF/, ''));
  } catch {
    throw new FormatError('its description is no JSON that can be read: the file is damaged or cut');
  }
}

/** How deep braces and brackets lie within each other, outside of strings. */
function nesting(bytes: Uint8Array): number {
  let [depth, deepest] = [0, 0];
  let inText = false;
  for (let k = 0; k < bytes.length; k++) {
    const byte = bytes[k]!;
    if (inText) {
      if (byte === 0x5c) k++;
      else if (byte === 0x22) inText = false;
    } else if (byte === 0x22) inText = true;
    else if (byte === 0x7b || byte === 0x5b) deepest = Math.max(deepest, ++depth);
    else if (byte === 0x7d || byte === 0x5d) depth--;
  }
  return deepest;
}

/** An address with a scheme of its own, which is not written into the text itself. */
const ELSEWHERE = /^(?!data:)[a-z][a-z0-9+.-]*:/i;
const DATA = /^data:[^,]*?(;base64)?,/;

/**
 * The bytes of every buffer of a document that has been checked: from the `.glb` itself, out of its text, or from a file beside it. No address is
 * ever fetched.
 *
 * @throws FormatError where one is not there, or shorter than the document says
 */
export function buffersOf({ buffers = [] }: GltfJson, binary: Uint8Array | undefined, beside: Beside): Uint8Array[] {
  return buffers.map(({ uri, byteLength, extensions = {} }, k) => {
    // What is packed lies in another buffer; this one says only how long it is unpacked.
    if (uri === undefined && Object.values(extensions).some((own) => own?.fallback)) return new Uint8Array(0);
    const own = uri === undefined ? (k === 0 ? binary : undefined) : (inText(uri) ?? beside(fileNameOf(uri)));
    if (!own)
      throw new FormatError(
        uri === undefined
          ? 'the numbers of its motion are not in the file'
          : `its numbers lie in “${shown(uri)}”, which is not here: put both into one zip, or export it as one .glb`,
      );
    if (own.length < byteLength)
      throw new FormatError(
        `${uri === undefined || DATA.test(uri) ? 'its numbers are' : `“${shown(uri)}” is`} cut: ${byteLength} bytes are expected, and ${own.length} are there`,
      );
    return own;
  });
}

/** The bytes of a picture of a checked document; undefined where they are not here, or lie elsewhere. */
export function pictureOf(
  { images = [], bufferViews = [] }: GltfJson,
  image: number,
  buffers: readonly Uint8Array[],
  beside: Beside,
): Uint8Array | undefined {
  const { uri, bufferView } = images[image] ?? {};
  if (bufferView !== undefined) {
    const { buffer, byteOffset: from = 0, byteLength } = bufferViews[bufferView]!;
    return buffers[buffer]!.subarray(from, from + byteLength);
  }
  return uri === undefined || ELSEWHERE.test(uri) ? undefined : (inText(uri) ?? beside(fileNameOf(uri)));
}

/**
 * Refuses textures that are larger than a page can draw; what is not here, or no picture, is left out where it is drawn.
 * @throws FormatError
 */
export function refuseLargeTextures(json: GltfJson, buffers: readonly Uint8Array[], beside: Beside): void {
  (json.images ?? []).forEach((_, k) => {
    const bytes = pictureOf(json, k, buffers, beside);
    const size = bytes && pictureSize(bytes);
    if (size && Math.max(size.width, size.height) > GLTF_LIMITS.texture)
      throw new FormatError(
        `a texture of it is ${size.width} × ${size.height} pixels; at most ${GLTF_LIMITS.texture} along a side can be read`,
      );
  });
}

const shown = (uri: string): string => (uri.length > 80 ? `${uri.slice(0, 77)}…` : uri);

/** A name as an address has it: blanks and letters beyond ASCII are spelt out. */
function fileNameOf(uri: string): string {
  if (ELSEWHERE.test(uri))
    throw new FormatError(`its numbers lie at “${shown(uri)}”: nothing is fetched from elsewhere`);
  try {
    return decodeURIComponent(uri);
  } catch {
    return uri;
  }
}

/** Bytes that are written into the text itself; undefined where the address is no such text. */
function inText(uri: string): Uint8Array | undefined {
  const match = DATA.exec(uri);
  if (!match) return undefined;
  const text = uri.slice(match[0].length);
  try {
    const raw = match[1] ? atob(text) : decodeURIComponent(text);
    return Uint8Array.from(raw, (letter) => letter.charCodeAt(0));
  } catch {
    throw new FormatError('the numbers that are written into its description are damaged');
  }
}
