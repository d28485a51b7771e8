import { halved, type Luma } from './luma.ts';
import { SURE } from './point-tracks.ts';

export const FOLLOW_DEFAULTS = Object.freeze({
  /** Half the side of the patch about the point, pixels: large enough to hold a joint and what leads away from it … */
  half: 13,
  /** … and of the one that is tried where that has bent too much to be known again. */
  small: 7,
  /** A point is looked for so many pixels about at least. */
  least: 24,
  /** Until it has moved a point is looked for so far, as a share of the picture's width. */
  reach: 0.06,
  /** From where it was, or would be by now, it is at most so many of its longest late steps away … */
  faster: 1.5,
  /** … and this share of the picture's width. */
  more: 0.015,
  /** Found nowhere there, it is looked for so far, and believed where nothing like it was there before. */
  wide: 0.12,
  /** A likeness from which a patch near where it is expected is looked for no further. */
  plainly: 0.96,
  /** A likeness from which a small patch, or one far away, is believed. */
  surely: 0.8,
  /** A patch that is so much lighter or darker than it was, of 0…255, is half as likely the same. */
  light: 24,
  /** Likeness under which a patch is another thing. */
  lost: 0.55,
  /** Likeness from which the patch of the beginning is believed before that of the frame before. */
  keyed: 0.8,
  /** So far, in pixels, the two may tell the point apart and still mean the same. */
  agree: 3,
  /** A patch whose pixels differ less than this (standard deviation of 0…255) has nothing to hold on to. */
  plain: 4,
  /** Followed there and back, a point that comes out so far from where it began, pixels, is half as sure. */
  thereAndBack: 1.5,
});

/** A place on a picture in its pixels, from the upper left corner; a pixel's centre is at .5. */
export interface PicturePlace {
  readonly x: number;
  readonly y: number;
}

/** Where a point was found, and how surely: 1 certainly, under 0.5 lost. */
export interface Followed extends PicturePlace {
  readonly sure: number;
}

/** A patch of a picture with its slopes, brightness less its mean. */
interface Patch {
  readonly half: number;
  readonly values: Float64Array;
  readonly slopeX: Float64Array;
  readonly slopeY: Float64Array;
  /** Mean brightness. */
  readonly light: number;
  /** Root of the weighted sum of squares. */
  readonly size: number;
}

/** x' = at + (1 + a) u + b v … : how a patch lies on a picture. */
type Warp = [x: number, y: number, xx: number, xy: number, yx: number, yy: number];

/**
 * Follows a point from picture to picture. At each the patch about it is looked for near where it is expected by normalised cross-correlation
 * on smaller pictures, turned a little both ways, then brought to a part of a pixel by the Gauss–Newton steps of Lucas & Kanade (1981), the
 * patch free to turn, stretch and shear. Where the patch of the first picture still fits, it corrects what would add up from frame to frame.
 * How sure it is comes from the likeness, and from following the point back to where it came from (forward-backward error, Kalal,
 * Mikolajczyk & Matas 2010).
 *
 * Following backwards is handing it the pictures in the other order; a correction is a new follower at the corrected place.
 *
 * @example a dot drawn at (100.5, 40.5) and at (103.25, 41.5) in the next picture: `follow(next)` gives 103.25, 41.5 within a tenth of a pixel
 */
export class PointFollower {
  private before: readonly Luma[];
  private at: PicturePlace;
  private speed: PicturePlace = { x: 0, y: 0 };
  /** Lengths of the last steps that were any. */
  private steps: number[] = [];
  private key: { readonly patch: Patch; readonly warp: Warp } | undefined;

  /**
   * @param picture the picture on which the point was placed
   * @throws RangeError where the place lies outside of it
   */
  constructor(picture: Luma, at: PicturePlace) {
    if (!(at.x >= 0 && at.y >= 0 && at.x <= picture.width && at.y <= picture.height))
      throw new RangeError('the point lies outside the picture');
    this.before = pyramid(picture);
    this.at = at;
    this.key = keyAt(this.before[0]!, at);
  }

  /** Whether there is anything at the point to hold on to. */
  get hasSomething(): boolean {
    return this.key !== undefined;
  }

  /** The point on the next picture. Once it is lost it stays where it was, and is no surer. */
  follow(picture: Luma): Followed {
    const next = pyramid(picture);
    const { width } = picture;
    const near = this.near(width);
    const tries: readonly (() => Found | undefined)[] = [
      () => this.search(next, FOLLOW_DEFAULTS.half, near, FOLLOW_DEFAULTS.lost),
      () => this.search(next, FOLLOW_DEFAULTS.small, near, FOLLOW_DEFAULTS.surely),
      () => {
        const far = this.search(next, FOLLOW_DEFAULTS.half, FOLLOW_DEFAULTS.wide * width, FOLLOW_DEFAULTS.surely);
        return far && this.wasThere(far, near) ? undefined : far;
      },
    ];
    let best: Followed = { ...this.at, sure: 0 };
    for (const attempt of tries) {
      const found = attempt();
      if (!found) continue;
      const own = this.settle(next[0]!, found);
      if (own.sure > best.sure) best = own;
      if (own.sure >= SURE) {
        this.goOn(next, own);
        return { x: own.x, y: own.y, sure: own.sure };
      }
    }
    return { x: best.x, y: best.y, sure: best.sure };
  }

  /** What was found, corrected by the patch of the beginning, and how sure it is. */
  private settle(picture: Luma, { warp, likeness, half }: Found): Followed & { readonly key?: Warp } {
    let place = { x: warp[0], y: warp[1] };
    let like = likeness;
    let key: Warp | undefined;
    if (this.key) {
      const [, , xx, xy, yx, yy] = this.key.warp;
      const fitted = fit(picture, this.key.patch, [warp[0], warp[1], ...turned(warp, [xx, xy, yx, yy])]);
      const agrees = Math.hypot(fitted.warp[0] - warp[0], fitted.warp[1] - warp[1]) <= FOLLOW_DEFAULTS.agree;
      if (agrees && fitted.likeness >= FOLLOW_DEFAULTS.keyed) {
        key = fitted.warp;
        like = Math.max(like, fitted.likeness);
        place = { x: key[0], y: key[1] };
      }
    }
    const back = this.comeBack(picture, place, warp, half);
    return { ...place, sure: clamp(like) * Math.exp(-Math.LN2 * back), ...(key && { key }) };
  }

  private goOn(next: readonly Luma[], { x, y, key }: Followed & { readonly key?: Warp }): void {
    const way = { x: x - this.at.x, y: y - this.at.y };
    // A frame that is held says nothing about how fast it goes.
    if (Math.hypot(way.x, way.y) > HELD_STEP) {
      this.speed = way;
      this.steps = [...this.steps.slice(1 - RECENT), Math.hypot(way.x, way.y)];
    }
    this.at = { x, y };
    this.before = next;
    if (key) this.key = { patch: this.key!.patch, warp: key };
    else this.key = keyAt(next[0]!, this.at) ?? this.key;
  }

  /** The most alike place within reach of where the point was or would be by now; undefined where none is alike enough. */
  private search(next: readonly Luma[], half: number, reach: number, least: number): Found | undefined {
    const patch = patchAt(this.before[0]!, this.at, half);
    if (!patch) return undefined;
    const ahead = { x: this.at.x + this.speed.x, y: this.at.y + this.speed.y };
    let best: (Found & { readonly cost: number }) | undefined;
    const attempt = ({ x, y, angle }: Start): void => {
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const { warp, likeness } = fit(next[0]!, patch, [x, y, c, -s, s, c]);
      // Of two that are as alike the nearer one, or the one that goes on as before, is meant.
      const away = Math.min(distance(warp, this.at), distance(warp, ahead));
      const cost = 1 - likeness + (0.15 * away) / reach;
      if (likeness >= least && away <= reach && (!best || cost < best.cost)) best = { warp, likeness, half, cost };
    };
    // Most often it is where it was, or would be by now: then nothing else is looked at.
    for (const place of [this.at, ahead]) {
      attempt({ ...place, angle: 0 });
      if (best && best.likeness >= FOLLOW_DEFAULTS.plainly) return best;
    }
    const about = { x: this.at.x + this.speed.x / 2, y: this.at.y + this.speed.y / 2 };
    for (const start of this.peaks(next, about, reach)) attempt(start);
    return best;
  }

  /** Places on a picture that are like the point on a smaller one, turned a little or not. */
  private peaks(next: readonly Luma[], about: PicturePlace, reach: number): Start[] {
    const level = next.length - 1;
    const scale = 2 ** level;
    const far = Math.ceil((reach + Math.hypot(this.speed.x, this.speed.y) / 2) / scale);
    const chosen: Start[] = [];
    for (const angle of TURNS) {
      const cut = cutTurned(this.before[level]!, this.at.x / scale, this.at.y / scale, angle);
      if (!cut) continue;
      const peaks: { x: number; y: number; score: number }[] = [];
      for (let dy = -far; dy <= far; dy++)
        for (let dx = -far; dx <= far; dx++) {
          const [x, y] = [about.x / scale + dx, about.y / scale + dy];
          const score = likenessOf(next[level]!, cut, x, y);
          if (score > 0.5) peaks.push({ x: x * scale, y: y * scale, score });
        }
      peaks.sort((a, b) => b.score - a.score);
      const own: PicturePlace[] = [];
      for (const { x, y } of peaks) {
        if (own.length >= (angle === 0 ? 5 : 2)) break;
        if (own.every((known) => Math.hypot(x - known.x, y - known.y) > 1.5 * scale)) own.push({ x, y });
      }
      chosen.push(...own.map((place) => ({ ...place, angle })));
    }
    return chosen;
  }

  /** Whether something like it was near that place in the picture before already: then it is that, and not the point. */
  private wasThere({ warp }: Found, near: number): boolean {
    const patch = patchAt(this.before[0]!, this.at, FOLLOW_DEFAULTS.half);
    if (!patch) return true;
    return this.peaks(this.before, { x: warp[0], y: warp[1] }, 2 * near).some(({ x, y, angle }) => {
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const own = fit(this.before[0]!, patch, [x, y, c, -s, s, c]);
      return own.likeness >= FOLLOW_DEFAULTS.surely - 0.1 && distance(own.warp, this.at) > FOLLOW_DEFAULTS.half;
    });
  }

  /** How far the point may be from where it was or would be by now, pixels. */
  private near(width: number): number {
    const { reach, wide, faster, more, least } = FOLLOW_DEFAULTS;
    if (this.steps.length === 0) return Math.max(least, reach * width);
    return Math.max(least, Math.min(wide * width, faster * Math.max(...this.steps) + more * width));
  }

  /** How far from where it was the point comes out when it is followed back, in units of {@link FOLLOW_DEFAULTS.thereAndBack}. */
  private comeBack(next: Luma, { x, y }: PicturePlace, [, , xx, xy, yx, yy]: Warp, half: number): number {
    const patch = patchAt(next, { x, y }, half);
    if (!patch) return 2;
    const area = xx * yy - xy * yx;
    const { warp } = fit(this.before[0]!, patch, [this.at.x, this.at.y, yy / area, -xy / area, -yx / area, xx / area]);
    return Math.min(4, (distance(warp, this.at) / FOLLOW_DEFAULTS.thereAndBack) ** 2);
  }
}

/** A place a patch may be at, and how it is turned there. */
interface Start extends PicturePlace {
  readonly angle: number;
}

/** Where a patch was found. */
interface Found {
  readonly warp: Warp;
  readonly likeness: number;
  /** Half the side of the patch. */
  readonly half: number;
}

const distance = ([x, y]: Warp, at: PicturePlace): number => Math.hypot(x - at.x, y - at.y);
const clamp = (v: number): number => Math.min(1, Math.max(0, v));
/** Turns that are tried, radians: so much a limb turns from one drawing to the next. */
const TURNS = [0, 0.3, -0.3, 0.6, -0.6];
/** Steps that are remembered, and the length from which one is a step, pixels. */
const RECENT = 5;
const HELD_STEP = 0.5;
const LEVELS = 3;
/** Half the side of the patch on the smallest picture. */
const SMALL_HALF = 4;
const STEPS = 14;

function pyramid(picture: Luma): Luma[] {
  const levels = [picture];
  while (levels.length < LEVELS) levels.push(halved(levels.at(-1)!));
  return levels;
}

/** Brightness between pixels, bilinear; beyond the edge that of the edge. */
function sample({ width, height, pixels }: Luma, x: number, y: number): number {
  const [right, low] = [width - 1, height - 1];
  const px = x < 0.5 ? 0 : x > right + 0.5 ? right : x - 0.5;
  const py = y < 0.5 ? 0 : y > low + 0.5 ? low : y - 0.5;
  const x0 = px | 0;
  const y0 = py | 0;
  const at = y0 * width + x0;
  const across = x0 < right ? 1 : 0;
  const down = y0 < low ? width : 0;
  const u = px - x0;
  const top = pixels[at]! + u * (pixels[at + across]! - pixels[at]!);
  const under = pixels[at + down]! + u * (pixels[at + down + across]! - pixels[at + down]!);
  return top + (py - y0) * (under - top);
}

/** What is near the point counts more than the edge of the patch. */
const WEIGHTS = new Map<number, Float64Array>();
function weightsOf(half: number): Float64Array {
  const known = WEIGHTS.get(half);
  if (known) return known;
  const side = 2 * half + 1;
  const own = new Float64Array(side * side);
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++)
      own[(v + half) * side + u + half] = Math.exp(-(u * u + v * v) / (2 * (0.55 * half) ** 2));
  WEIGHTS.set(half, own);
  return own;
}

/** The patch about a place; undefined where there is nothing to hold on to. */
function patchAt(picture: Luma, { x, y }: PicturePlace, half: number): Patch | undefined {
  const side = 2 * half + 1;
  const weights = weightsOf(half);
  const values = new Float64Array(side * side);
  const slopeX = new Float64Array(side * side);
  const slopeY = new Float64Array(side * side);
  let [sum, weight] = [0, 0];
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++) {
      const k = (v + half) * side + u + half;
      values[k] = sample(picture, x + u, y + v);
      slopeX[k] = (sample(picture, x + u + 1, y + v) - sample(picture, x + u - 1, y + v)) / 2;
      slopeY[k] = (sample(picture, x + u, y + v + 1) - sample(picture, x + u, y + v - 1)) / 2;
      sum += weights[k]! * values[k];
      weight += weights[k]!;
    }
  let squares = 0;
  for (let k = 0; k < values.length; k++) {
    values[k]! -= sum / weight;
    squares += weights[k]! * values[k]! ** 2;
  }
  if (Math.sqrt(squares / weight) < FOLLOW_DEFAULTS.plain) return undefined;
  return { half, values, slopeX, slopeY, light: sum / weight, size: Math.sqrt(squares) };
}

function keyAt(picture: Luma, at: PicturePlace): { patch: Patch; warp: Warp } | undefined {
  const patch = patchAt(picture, at, FOLLOW_DEFAULTS.half);
  return patch && { patch, warp: [at.x, at.y, 1, 0, 0, 1] };
}

/** A small patch, turned, less its mean: for the first look. */
function cutTurned(picture: Luma, x: number, y: number, angle: number): Float64Array | undefined {
  const side = 2 * SMALL_HALF + 1;
  const out = new Float64Array(side * side);
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  let sum = 0;
  for (let v = -SMALL_HALF; v <= SMALL_HALF; v++)
    for (let u = -SMALL_HALF; u <= SMALL_HALF; u++) {
      const value = sample(picture, x + c * u + s * v, y - s * u + c * v);
      out[(v + SMALL_HALF) * side + u + SMALL_HALF] = value;
      sum += value;
    }
  let squares = 0;
  for (let k = 0; k < out.length; k++) {
    out[k]! -= sum / out.length;
    squares += out[k]! ** 2;
  }
  if (squares < 1) return undefined;
  const size = Math.sqrt(squares);
  return out.map((v) => v / size);
}

/** Normalised cross-correlation of a small patch with the pixels about a place, whole pixels apart. */
function likenessOf({ width, height, pixels }: Luma, cut: Float64Array, x: number, y: number): number {
  const [cx, cy] = [Math.round(x - 0.5), Math.round(y - 0.5)];
  const side = 2 * SMALL_HALF + 1;
  if (cx < 0 || cy < 0 || cx >= width || cy >= height) return -1;
  let [sum, squares, dot] = [0, 0, 0];
  for (let v = 0; v < side; v++) {
    const py = cy + v - SMALL_HALF;
    const row = (py < 0 ? 0 : py >= height ? height - 1 : py) * width;
    for (let u = 0; u < side; u++) {
      const at = cx + u - SMALL_HALF;
      const value = pixels[row + (at < 0 ? 0 : at >= width ? width - 1 : at)]!;
      sum += value;
      squares += value * value;
      dot += value * cut[v * side + u]!;
    }
  }
  const spread = squares - (sum * sum) / (side * side);
  return spread < 1 ? 0 : dot / Math.sqrt(spread);
}

/** The linear part of a warp that comes after another. */
function turned(
  [, , xx, xy, yx, yy]: Warp,
  [a, b, c, d]: readonly [number, number, number, number],
): [number, number, number, number] {
  return [xx * a + xy * c, xx * b + xy * d, yx * a + yy * c, yx * b + yy * d];
}

/**
 * Brings a patch to where it is most alike, from a first guess: Gauss–Newton steps on place and linear part, the pixels of both less their mean
 * and made equally strong, so that neither light nor fading matters. The linear part is held back where the pixels say little about it.
 */
function fit(picture: Luma, patch: Patch, start: Warp): { warp: Warp; likeness: number } {
  const { half, values, slopeX, slopeY, light, size } = patch;
  const side = 2 * half + 1;
  const weights = weightsOf(half);
  const n = values.length;
  // Inverse compositional: the slopes are the patch's own, so that the normal equations are set up once.
  const normal = new Float64Array(36);
  const row = new Float64Array(6);
  for (let v = -half; v <= half; v++)
    for (let u = -half; u <= half; u++) {
      const k = (v + half) * side + u + half;
      jacobian(row, slopeX[k]!, slopeY[k]!, u, v);
      for (let i = 0; i < 6; i++) for (let j = i; j < 6; j++) normal[6 * i + j]! += weights[k]! * row[i]! * row[j]!;
    }
  for (let i = 0; i < 6; i++) for (let j = 0; j < i; j++) normal[6 * i + j] = normal[6 * j + i]!;
  const trace = normal[0]! + normal[7]!;
  normal[0]! += 1e-4 * trace;
  normal[7]! += 1e-4 * trace;
  for (const i of [2, 3, 4, 5]) normal[7 * i]! += 0.02 * trace * half * half * 0.3;
  const seen = new Float64Array(n);
  let warp: Warp = [...start];
  let best: { warp: Warp; likeness: number } = { warp: start, likeness: -1 };
  for (let step = 0; step <= STEPS; step++) {
    let [sum, weight] = [0, 0];
    for (let v = -half; v <= half; v++)
      for (let u = -half; u <= half; u++) {
        const k = (v + half) * side + u + half;
        seen[k] = sample(picture, warp[0] + warp[2] * u + warp[3] * v, warp[1] + warp[4] * u + warp[5] * v);
        sum += weights[k]! * seen[k];
        weight += weights[k]!;
      }
    const mean = sum / weight;
    let [squares, dot] = [0, 0];
    for (let k = 0; k < n; k++) {
      seen[k]! -= mean;
      squares += weights[k]! * seen[k]! ** 2;
      dot += weights[k]! * seen[k]! * values[k]!;
    }
    if (squares < 1e-6) break;
    const likeness =
      (dot / (Math.sqrt(squares) * size)) * Math.exp(-Math.LN2 * ((mean - light) / FOLLOW_DEFAULTS.light) ** 2);
    if (likeness > best.likeness) best = { warp: [...warp], likeness };
    if (step === STEPS) break;
    const gain = size / Math.sqrt(squares);
    const right = new Float64Array(6);
    for (let v = -half; v <= half; v++)
      for (let u = -half; u <= half; u++) {
        const k = (v + half) * side + u + half;
        jacobian(row, slopeX[k]!, slopeY[k]!, u, v);
        const off = weights[k]! * (gain * seen[k]! - values[k]!);
        for (let i = 0; i < 6; i++) right[i]! += off * row[i]!;
      }
    const change = solved(normal, right);
    if (!change) break;
    warp = withoutChange(warp, change);
    const [xx, xy, yx, yy] = [warp[2], warp[3], warp[4], warp[5]];
    const area = xx * yy - xy * yx;
    if (!(area > 0.3 && area < 3) || Math.hypot(warp[0] - start[0], warp[1] - start[1]) > half) break;
    if (Math.hypot(change[0]!, change[1]!) < 0.003) break;
  }
  return best;
}

function jacobian(row: Float64Array, gx: number, gy: number, u: number, v: number): void {
  row[0] = gx;
  row[1] = gy;
  row[2] = gx * u;
  row[3] = gx * v;
  row[4] = gy * u;
  row[5] = gy * v;
}

/** The warp behind the inverse of a small change of the patch: W ∘ ΔW⁻¹. */
function withoutChange([x, y, xx, xy, yx, yy]: Warp, d: Float64Array): Warp {
  const [a, b, c, e] = [1 + d[2]!, d[3]!, d[4]!, 1 + d[5]!];
  const area = a * e - b * c;
  const [ia, ib, ic, ie] = [e / area, -b / area, -c / area, a / area];
  const [tx, ty] = [-(ia * d[0]! + ib * d[1]!), -(ic * d[0]! + ie * d[1]!)];
  return [
    x + xx * tx + xy * ty,
    y + yx * tx + yy * ty,
    xx * ia + xy * ic,
    xx * ib + xy * ie,
    yx * ia + yy * ic,
    yx * ib + yy * ie,
  ];
}

/** Solves six equations with six unknowns, symmetric and positive: Cholesky's way. Undefined where they say too little. */
function solved(matrix: Float64Array, right: Float64Array): Float64Array | undefined {
  const l = new Float64Array(36);
  for (let i = 0; i < 6; i++)
    for (let j = 0; j <= i; j++) {
      let sum = matrix[6 * i + j]!;
      for (let k = 0; k < j; k++) sum -= l[6 * i + k]! * l[6 * j + k]!;
      if (i === j) {
        if (sum <= 1e-9) return undefined;
        l[7 * i] = Math.sqrt(sum);
      } else l[6 * i + j] = sum / l[7 * j]!;
    }
  const out = new Float64Array(6);
  for (let i = 0; i < 6; i++) {
    let sum = right[i]!;
    for (let k = 0; k < i; k++) sum -= l[6 * i + k]! * out[k]!;
    out[i] = sum / l[7 * i]!;
  }
  for (let i = 5; i >= 0; i--) {
    let sum = out[i]!;
    for (let k = i + 1; k < 6; k++) sum -= l[6 * k + i]! * out[k]!;
    out[i] = sum / l[7 * i]!;
  }
  return out;
}
