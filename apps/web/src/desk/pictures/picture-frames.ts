import type { Pictures } from '@ypsigraph/contract/pictures';
import { addressOf, type ParamsOf } from '@ypsigraph/contract/route';
import { ROUTES } from '@ypsigraph/contract/routes';
import { Listeners } from '../../kit/listeners.ts';

/** Stored pictures that are fetched at once. */
const CHUNK = 24;
const SMALL_CHUNK = 120;
/** What decoded pictures, and fetched ones, may take. */
const DECODED_BYTES = 420 * 1024 * 1024;
const FETCHED_BYTES = 320 * 1024 * 1024;
/** Pictures that are decoded ahead, in the direction in which frames go by. */
const AHEAD = 24;
/** Pictures that are decoded at once. */
const AT_ONCE = 3;

type Fetcher = (address: string) => Promise<Blob>;
type Decoder = (blob: Blob) => Promise<ImageBitmap>;

const fetchBlob: Fetcher = async (address) => {
  const response = await fetch(address);
  if (!response.ok) throw new Error(`the pictures could not be fetched (${response.status})`);
  return response.blob();
};

/**
 * The pictures of a clip, by the number of their frame. They are fetched in stretches and decoded ahead of what is shown; what is far from it is
 * let go, so that a long clip takes no more room than a short one.
 */
export class PictureFrames {
  private readonly listeners = new Listeners();
  /** Told when a picture that was missing has come. */
  readonly subscribe = this.listeners.subscribe;
  private readonly shown: Store;
  private readonly small: Store;
  private readonly bitmaps = new Map<number, ImageBitmap>();
  private readonly decoding = new Map<number, Promise<ImageBitmap>>();
  private readonly smallBitmaps = new Map<number, ImageBitmap>();
  private readonly most: number;
  private wanted: number[] = [];
  private working = 0;
  private last = 0;
  private ended = false;

  constructor(
    readonly facts: Pictures,
    readonly revision: string,
    fetcher: Fetcher = fetchBlob,
    private readonly decode: Decoder = (blob) => createImageBitmap(blob),
  ) {
    this.shown = new Store({ id: revision, size: 'shown' }, facts.sizes, CHUNK, fetcher);
    this.small = new Store({ id: revision, size: 'small' }, facts.smallSizes, SMALL_CHUNK, fetcher);
    const { width, height } = facts.shown;
    this.most = Math.max(24, Math.floor(DECODED_BYTES / (4 * width * height)));
  }

  private pictureOf(sample: number): number {
    return this.facts.pictures[Math.min(this.facts.frames - 1, Math.max(0, sample))] ?? 0;
  }

  /** The picture of a frame where it is decoded, large or else small; it, and those that come next, are decoded where they are not. */
  at(sample: number): ImageBitmap | undefined {
    const picture = this.pictureOf(sample);
    this.ask(picture);
    return this.bitmaps.get(picture) ?? this.smallBitmaps.get(picture);
  }

  /** The picture of a frame that is seen with another: decoded where it is not, without anything being fetched ahead of it. */
  beside(sample: number): ImageBitmap | undefined {
    const picture = this.pictureOf(sample);
    const known = this.bitmaps.get(picture);
    if (!known)
      void this.decoded(picture)
        .then(() => this.listeners.tell())
        .catch(() => undefined);
    return known ?? this.smallBitmaps.get(picture);
  }

  /** Whether the picture of a frame is there as large as it is shown. */
  isSharp(sample: number): boolean {
    return this.bitmaps.has(this.pictureOf(sample));
  }

  /** The picture of a frame, once it is there. */
  async whenThere(sample: number): Promise<ImageBitmap> {
    const picture = this.pictureOf(sample);
    return this.bitmaps.get(picture) ?? this.decoded(picture);
  }

  /** A frame's picture as it is stored: a JPEG. */
  blob(sample: number): Promise<Blob> {
    return this.shown.get(this.pictureOf(sample));
  }

  /** The small picture of a frame, for strip and row of poses. */
  async thumbnail(sample: number): Promise<ImageBitmap> {
    const picture = this.pictureOf(sample);
    const known = this.smallBitmaps.get(picture);
    if (known) return known;
    const bitmap = await this.decode(await this.small.get(picture));
    this.smallBitmaps.set(picture, bitmap);
    return bitmap;
  }

  /** Lets all go. */
  end(): void {
    this.ended = true;
    for (const bitmap of [...this.bitmaps.values(), ...this.smallBitmaps.values()]) bitmap.close();
    this.bitmaps.clear();
    this.smallBitmaps.clear();
  }

  private ask(picture: number): void {
    const direction = picture >= this.last ? 1 : -1;
    this.last = picture;
    const { length } = this.facts.sizes;
    const all = length <= this.most ? length : AHEAD;
    const next = Array.from(
      { length: Math.min(all, length) },
      (_, k) => (picture + direction * k + length * length) % length,
    );
    this.wanted = next.filter((own) => !this.bitmaps.has(own));
    // What is far away is let go first.
    for (const own of this.bitmaps.keys()) {
      if (this.bitmaps.size <= this.most) break;
      if (Math.abs(own - picture) <= this.most / 2) continue;
      this.bitmaps.get(own)!.close();
      this.bitmaps.delete(own);
    }
    // What decoding comes to next is fetched before it does, once what is shown is there: else every stretch begins with a wait.
    if (this.bitmaps.has(picture)) this.shown.fetchAhead((picture + direction * AHEAD + length * length) % length);
    if (!this.bitmaps.has(picture) && !this.smallBitmaps.has(picture)) void this.blurred(picture);
    for (let k = 0; k < AT_ONCE; k++) void this.work();
  }

  /** Until a picture is there its small one is shown: the right frame at once. */
  private async blurred(picture: number): Promise<void> {
    const sample = this.facts.pictures.indexOf(picture);
    await this.thumbnail(sample).catch(() => undefined);
    if (!this.ended && !this.bitmaps.has(picture)) this.listeners.tell();
  }

  /** Decodes what is wanted, the nearest first, a few at once: one alone leaves a core of the machine idle. */
  private async work(): Promise<void> {
    if (this.working >= AT_ONCE) return;
    this.working++;
    try {
      while (!this.ended && this.wanted.length > 0) {
        const picture = this.wanted.shift()!;
        if (this.bitmaps.has(picture)) continue;
        await this.decoded(picture);
        if (picture === this.last) this.listeners.tell();
      }
    } catch {
      // Asked for again by the next frame that is shown.
      this.wanted = [];
    } finally {
      this.working--;
    }
  }

  private decoded(picture: number): Promise<ImageBitmap> {
    const known = this.decoding.get(picture);
    if (known) return known;
    const making = this.shown
      .get(picture)
      .then(this.decode)
      .then((bitmap) => {
        if (this.ended) bitmap.close();
        else this.bitmaps.set(picture, bitmap);
        return bitmap;
      })
      .finally(() => this.decoding.delete(picture));
    this.decoding.set(picture, making);
    return making;
  }
}

/** Stored pictures of one size, fetched in stretches. */
class Store {
  private readonly begins: number[] = [];
  private readonly chunks = new Map<number, Promise<Blob>>();

  constructor(
    private readonly pictures: ParamsOf<typeof ROUTES.pictureFrames>,
    private readonly sizes: readonly number[],
    private readonly chunk: number,
    private readonly fetcher: Fetcher,
  ) {
    let at = 0;
    for (const size of sizes) {
      this.begins.push(at);
      at += size;
    }
  }

  async get(picture: number): Promise<Blob> {
    const chunk = Math.floor(picture / this.chunk);
    const from = chunk * this.chunk;
    const whole = await this.fetched(chunk, from);
    const start = this.begins[picture]! - this.begins[from]!;
    return whole.slice(start, start + this.sizes[picture]!, 'image/jpeg');
  }

  /** Begins to fetch the stretch that a picture lies in. One that does not come is asked for again by whoever needs it. */
  fetchAhead(picture: number): void {
    const chunk = Math.floor(picture / this.chunk);
    void this.fetched(chunk, chunk * this.chunk).catch(() => undefined);
  }

  private fetched(chunk: number, from: number): Promise<Blob> {
    const known = this.chunks.get(chunk);
    if (known) return known;
    const to = Math.min(this.sizes.length, from + this.chunk) - 1;
    const asked = this.fetcher(addressOf(ROUTES.pictureFrames, this.pictures, { from, to }));
    // One that did not come is asked for again.
    asked.catch(() => this.chunks.delete(chunk));
    this.chunks.set(chunk, asked);
    const mean = this.begins.at(-1)! / Math.max(1, this.sizes.length);
    const most = Math.max(4, Math.floor(FETCHED_BYTES / Math.max(1, mean * this.chunk)));
    for (const old of this.chunks.keys()) {
      if (this.chunks.size <= most) break;
      this.chunks.delete(old);
    }
    return asked;
  }
}
