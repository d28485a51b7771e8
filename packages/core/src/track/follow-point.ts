import { fit, turned, type Warp } from './fit-patch.ts';
import { halved, type Luma } from './luma.ts';
import { cutTurned, likenessOf, type Patch, patchAt, type PicturePlace } from './patch.ts';
import { SURE } from '../motion/point-tracks.ts';

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
  /** Likeness under which a patch is another thing. */
  lost: 0.55,
  /** Likeness from which the patch of the beginning is believed before that of the frame before. */
  keyed: 0.8,
  /** So far, in pixels, the two may tell the point apart and still mean the same. */
  agree: 3,
  /** Followed there and back, a point that comes out so far from where it began, pixels, is half as sure. */
  thereAndBack: 1.5,
});

/** Where a point was found, and how surely: 1 certainly, under 0.5 lost. */
export interface Followed extends PicturePlace {
  readonly confidence: number;
}

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
    let best: Followed = { ...this.at, confidence: 0 };
    for (const attempt of tries) {
      const found = attempt();
      if (!found) continue;
      const own = this.settle(next[0]!, found);
      if (own.confidence > best.confidence) best = own;
      if (own.confidence >= SURE) {
        this.goOn(next, own);
        return { x: own.x, y: own.y, confidence: own.confidence };
      }
    }
    return { x: best.x, y: best.y, confidence: best.confidence };
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
    return { ...place, confidence: clamp(like) * Math.exp(-Math.LN2 * back), ...(key && { key }) };
  }

  private goOn(next: readonly Luma[], { x, y, key }: Followed & { readonly key?: Warp }): void {
    const step = { x: x - this.at.x, y: y - this.at.y };
    // A frame that is held says nothing about how fast it goes.
    if (Math.hypot(step.x, step.y) > HELD_STEP) {
      this.speed = step;
      this.steps = [...this.steps.slice(1 - RECENT), Math.hypot(step.x, step.y)];
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

function pyramid(picture: Luma): Luma[] {
  const levels = [picture];
  while (levels.length < LEVELS) levels.push(halved(levels.at(-1)!));
  return levels;
}

function keyAt(picture: Luma, at: PicturePlace): { patch: Patch; warp: Warp } | undefined {
  const patch = patchAt(picture, at, FOLLOW_DEFAULTS.half);
  return patch && { patch, warp: [at.x, at.y, 1, 0, 0, 1] };
}
