/** The parts of a glTF 2.0 document that a motion is made of (Khronos, *glTF 2.0 Specification*, section 5). Checked by {@link checkGltf}. */
export interface GltfJson {
  readonly asset: { readonly version: string };
  readonly scene?: number;
  readonly scenes?: readonly { readonly nodes?: readonly number[] }[];
  readonly nodes?: readonly GltfNode[];
  readonly skins?: readonly GltfSkin[];
  readonly meshes?: readonly GltfMesh[];
  readonly cameras?: readonly GltfCamera[];
  readonly animations?: readonly GltfAnimation[];
  readonly accessors?: readonly GltfAccessor[];
  readonly bufferViews?: readonly GltfBufferView[];
  readonly buffers?: readonly GltfBuffer[];
  readonly images?: readonly { readonly uri?: string; readonly bufferView?: number; readonly mimeType?: string }[];
  readonly textures?: readonly { readonly source?: number; readonly extensions?: Readonly<Record<string, unknown>> }[];
  /** Not checked: who looks at one says what it must be. */
  readonly materials?: unknown;
  readonly extensionsRequired?: readonly string[];
}

export interface GltfNode {
  readonly name?: string;
  readonly children?: readonly number[];
  readonly matrix?: readonly number[];
  readonly translation?: readonly number[];
  readonly rotation?: readonly number[];
  readonly scale?: readonly number[];
  readonly weights?: readonly number[];
  readonly mesh?: number;
  readonly skin?: number;
  readonly camera?: number;
}

export interface GltfSkin {
  readonly name?: string;
  readonly joints: readonly number[];
  readonly skeleton?: number;
  readonly inverseBindMatrices?: number;
}

export interface GltfMesh {
  readonly name?: string;
  readonly weights?: readonly number[];
  readonly primitives: readonly {
    readonly attributes: Readonly<Record<string, number>>;
    readonly indices?: number;
    readonly mode?: number;
    readonly material?: number;
    readonly targets?: readonly Readonly<Record<string, number>>[];
    readonly extensions?: Readonly<Record<string, unknown>>;
  }[];
  readonly extras?: { readonly targetNames?: readonly string[] };
}

export interface GltfCamera {
  readonly name?: string;
  readonly type: 'perspective' | 'orthographic';
  readonly perspective?: { readonly yfov: number; readonly aspectRatio?: number };
  readonly orthographic?: { readonly xmag: number; readonly ymag: number };
}

export const PATHS = ['translation', 'rotation', 'scale', 'weights'] as const;
export type GltfPath = (typeof PATHS)[number];
export const INTERPOLATIONS = ['LINEAR', 'STEP', 'CUBICSPLINE'] as const;
export type Interpolation = (typeof INTERPOLATIONS)[number];

export interface GltfAnimation {
  readonly name?: string;
  readonly samplers: readonly {
    readonly input: number;
    readonly output: number;
    readonly interpolation?: Interpolation;
  }[];
  readonly channels: readonly {
    readonly sampler: number;
    readonly target: { readonly node?: number; readonly path: GltfPath };
  }[];
}

export interface GltfAccessor {
  readonly bufferView?: number;
  readonly byteOffset?: number;
  readonly componentType: number;
  readonly normalized?: boolean;
  readonly count: number;
  readonly type: string;
  readonly sparse?: {
    readonly count: number;
    readonly indices: { readonly bufferView: number; readonly byteOffset?: number; readonly componentType: number };
    readonly values: { readonly bufferView: number; readonly byteOffset?: number };
  };
}

export interface GltfBufferView {
  readonly buffer: number;
  readonly byteOffset?: number;
  readonly byteLength: number;
  readonly byteStride?: number;
}

export interface GltfBuffer {
  readonly uri?: string;
  readonly byteLength: number;
  readonly extensions?: Readonly<Record<string, { readonly fallback?: boolean } | undefined>>;
}

/** Numbers of an element, by the accessor's type. */
export const ELEMENTS: Readonly<Record<string, number>> = {
  SCALAR: 1,
  VEC2: 2,
  VEC3: 3,
  VEC4: 4,
  MAT2: 4,
  MAT3: 9,
  MAT4: 16,
};

/** Bytes of a number, by the accessor's component type. */
export const COMPONENTS: Readonly<Record<number, number>> = { 5120: 1, 5121: 1, 5122: 2, 5123: 2, 5125: 4, 5126: 4 };

/** What a glTF file may hold at most. */
export const GLTF_LIMITS = Object.freeze({
  nodes: 10_000,
  /** Nodes from a root to the farthest of what hangs from it. */
  depth: 500,
  animations: 500,
  channels: 20_000,
  /** Keys of all channels together. */
  keys: 5_000_000,
  accessors: 50_000,
  vertices: 500_000,
  textures: 8,
  /** Pixels along a side of a texture. */
  texture: 4096,
  /** Braces and brackets within each other. */
  nesting: 64,
  /** Bytes that all accessors together are unpacked to. */
  unpacked: 512 * 1024 * 1024,
});
