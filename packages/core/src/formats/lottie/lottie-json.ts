/** The parts of a Lottie document that are read (Lottie Animation Community, *Lottie Specification 1.0*), as they are once they were checked. */
export interface LottieJson {
  readonly nm?: string;
  /** Version of the program that wrote it: players read older ones otherwise. */
  readonly v?: string;
  /** Frames a second. */
  readonly fr: number;
  /** First frame, and the one behind the last. */
  readonly ip: number;
  readonly op: number;
  /** Size of the picture. */
  readonly w: number;
  readonly h: number;
  readonly layers: readonly LottieLayer[];
  readonly assets?: readonly LottieAsset[];
}

/** What layers are, by their `ty`. */
export const LAYER = Object.freeze({ precomp: 0, solid: 1, image: 2, nothing: 3, shape: 4, text: 5 });

export interface LottieLayer {
  readonly ty: number;
  readonly nm?: string;
  /** Its number among the layers of its composition, and the number of the one it hangs from. */
  readonly ind?: number;
  readonly parent?: number;
  /** First frame in which it is seen, and the one behind the last, on its composition's own time. */
  readonly ip: number;
  readonly op: number;
  /** Frame of its composition at which its own content starts, and how many times slower that runs. */
  readonly st?: number;
  readonly sr?: number;
  readonly ks?: LottieTransform;
  /** 1: it turns along its own way. */
  readonly ao?: number;
  /** It is not shown. */
  readonly hd?: boolean;
  /** 1: it only masks another layer. */
  readonly td?: number;
  /** Composition or picture it shows. */
  readonly refId?: string;
  /** Time of the composition it shows, in seconds. */
  readonly tm?: LottieProperty;
  readonly shapes?: readonly LottieShape[];
  /** Size of a solid, and its colour's layer. */
  readonly sw?: number;
  readonly sh?: number;
}

export interface LottieAsset {
  readonly id: string;
  readonly layers?: readonly LottieLayer[];
  readonly w?: number;
  readonly h?: number;
  /** Name of a picture, and whether it is inside the file. */
  readonly p?: string;
  readonly e?: number;
}

export interface LottieTransform {
  readonly a?: LottieProperty;
  readonly p?: LottieProperty | LottieSplit;
  readonly s?: LottieProperty;
  readonly r?: LottieProperty;
  /** Of a layer in depth: its turn on the picture, and those out of it, which are left out. */
  readonly rz?: LottieProperty;
  readonly rx?: LottieProperty;
  readonly ry?: LottieProperty;
  readonly o?: LottieProperty;
  readonly sk?: LottieProperty;
  readonly sa?: LottieProperty;
}

/** A position whose two numbers have keys of their own. */
export interface LottieSplit {
  readonly s: true;
  readonly x: LottieProperty;
  readonly y: LottieProperty;
}

/** A number, a vector or an outline, with keys or without. */
export interface LottieProperty {
  readonly k: LottieValue | readonly LottieKey[];
  /** An expression. */
  readonly x?: unknown;
}

/** An outline: its vertices, and the handles of its curve at each, from there. */
export interface LottieOutline {
  readonly v: readonly (readonly number[])[];
  readonly i: readonly (readonly number[])[];
  readonly o: readonly (readonly number[])[];
  readonly c?: boolean;
}

export type LottieValue = number | readonly number[] | LottieOutline;

export interface LottieKey {
  /** Frame of it. */
  readonly t: number;
  /** Value from here on, and in older files the value at the next key. */
  readonly s?: number | readonly number[] | readonly LottieOutline[];
  readonly e?: number | readonly number[] | readonly LottieOutline[];
  /** 1: it stands until the next key. */
  readonly h?: number;
  /** Ease out of this key, and into the next: handles of a curve from 0, 0 to 1, 1. */
  readonly o?: LottieEase;
  readonly i?: LottieEase;
  /** Handles of a position's way on the picture: out of this key, from its place, and into the next, from that one's. */
  readonly to?: readonly number[] | null;
  readonly ti?: readonly number[] | null;
}

export interface LottieEase {
  readonly x: number | readonly number[];
  readonly y: number | readonly number[];
}

/**
 * What a layer draws: a group, an outline, an ellipse, a rectangle, a star, or a group's own transform; the rest has no size. Of an ellipse, a rectangle, a
 * star `p` is its middle and `s` its size.
 */
export interface LottieShape extends LottieTransform {
  readonly ty: string;
  readonly hd?: boolean;
  /** Of a group what is in it. */
  readonly it?: readonly LottieShape[];
  /** Of an outline its curve. */
  readonly ks?: LottieProperty;
  /** Outer radius of a star. */
  readonly or?: LottieProperty;
}

export const LOTTIE_LIMITS = Object.freeze({
  /** Layers of the whole document, once each composition is put in wherever it is shown. */
  layers: 2_000,
  /** Compositions within one another. */
  within: 16,
  /** Groups within one another. */
  groups: 32,
  /** Keys of the whole document. */
  keys: 500_000,
  /** Shapes of the whole document. */
  shapes: 50_000,
  /** Vertices of one outline. */
  vertices: 10_000,
});
