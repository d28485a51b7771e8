import type { ShapePaint } from '../../motion/motion.ts';
import type { Vec3 } from '../../motion/vector.ts';
import type { Beside } from '../format.ts';
import { pictureOf } from './container.ts';
import type { GltfJson } from './gltf-json.ts';
import { pictureType } from './picture-size.ts';

/** How a surface looks by a file: a colour, and a picture with the vertices' places on it. */
export interface Surface extends Omit<ShapePaint, 'picture'> {
  readonly picture?: {
    readonly bytes: Uint8Array<ArrayBuffer>;
    readonly type: string;
    /** Which of a vertex's places on pictures it goes by. */
    readonly set: number;
    /** From such a place to one on the picture: `x = a·u + b·v + c` and `y = d·u + e·v + f`. */
    readonly laid: readonly [number, number, number, number, number, number];
  };
}

const TRANSFORM = 'KHR_texture_transform';
const WEBP = 'EXT_texture_webp';
/** What lets light through is left out where it lets through more than this, unless the file says otherwise. */
const CUT_OUT = 0.5;

/**
 * How a material looks (Khronos, *glTF 2.0 Specification*, section 5.19, and *KHR_texture_transform*): its colour and the picture of it. Light, gloss
 * and bumps are left out. Nothing of a material has been checked before: what is not as it should be is taken for what is usual.
 */
export function surfaceOf(
  json: GltfJson,
  material: number | undefined,
  buffers: readonly Uint8Array[],
  beside: Beside,
): Surface | undefined {
  const own = objectAt(objectAt(json.materials)[material ?? -1]);
  if (Object.keys(own).length === 0) return undefined;
  const metal = objectAt(own.pbrMetallicRoughness);
  const factor = Array.isArray(metal.baseColorFactor) ? metal.baseColorFactor : [];
  const share = (k: number): number => Math.min(1, Math.max(0, numberAt(factor[k], 1)));
  const colour: Vec3 = [share(0), share(1), share(2)];
  const mode = own.alphaMode;
  const cutOut = mode === 'MASK' ? numberAt(own.alphaCutoff, CUT_OUT) : mode === 'BLEND' ? CUT_OUT : undefined;
  const picture = pictureAt(json, objectAt(metal.baseColorTexture), buffers, beside);
  // White all over is what a program writes that knows no better.
  if (!picture && colour.every((value) => value > 0.99)) return undefined;
  return {
    colour,
    ...(picture && { picture }),
    ...(picture && cutOut !== undefined && { cutOut }),
    isTwoSided: own.doubleSided === true,
  };
}

function pictureAt(json: GltfJson, info: Loose, buffers: readonly Uint8Array[], beside: Beside): Surface['picture'] {
  const texture = typeof info.index === 'number' ? json.textures?.[info.index] : undefined;
  const source = objectAt(objectAt(texture?.extensions)[WEBP]).source ?? texture?.source;
  const bytes = typeof source === 'number' ? pictureOf(json, source, buffers, beside) : undefined;
  const type = bytes && pictureType(bytes);
  if (!type) return undefined;
  const turned = objectAt(objectAt(info.extensions)[TRANSFORM]);
  const pair = (value: unknown, usual: number): [number, number] =>
    Array.isArray(value) ? [numberAt(value[0], usual), numberAt(value[1], usual)] : [usual, usual];
  const [x, y] = pair(turned.offset, 0);
  const [wide, high] = pair(turned.scale, 1);
  const angle = numberAt(turned.rotation, 0);
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return {
    bytes: Uint8Array.from(bytes),
    type,
    set: numberAt(turned.texCoord, numberAt(info.texCoord, 0)),
    laid: [cos * wide, sin * high, x, -sin * wide, cos * high, y],
  };
}

type Loose = Readonly<Record<string | number, unknown>>;
const objectAt = (value: unknown): Loose => (typeof value === 'object' && value !== null ? (value as Loose) : {});
const numberAt = (value: unknown, usual: number): number =>
  typeof value === 'number' && Math.abs(value) <= 1e6 ? value : usual;
