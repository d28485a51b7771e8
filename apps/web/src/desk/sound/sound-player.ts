import type { FrameClock } from '../frames/frame-clock.ts';
import { type HeardSound, secondsAt } from './heard-sound.ts';

/** What a player needs of the browser's sound: a clock, and stretches of a decoded sound. */
export interface SoundOutput {
  now(): number;
  /** Plays from `from` for `seconds`, with soft ends; ends what it gives when called. */
  play(from: number, seconds: number): () => void;
}

/** A frame is heard at least so long while it is scrubbed, seconds. */
const SNATCH = 0.08;
/** What is heard may be so far from what is seen, seconds, before it is put right. */
const OFF = 0.06;

/**
 * Lets a sound be heard with the frames: played at the shot's own rate as it is, at another silent; stepped and scrubbed a snatch of each frame.
 */
export class SoundPlayer {
  private readonly leave: () => void;
  private running: { readonly since: number; readonly from: number; readonly end: () => void } | undefined;
  private snatch: (() => void) | undefined;
  private frame: number;

  constructor(
    private readonly clock: FrameClock,
    private readonly sound: HeardSound,
    private readonly output: SoundOutput,
  ) {
    this.frame = clock.get().frame;
    this.leave = clock.subscribe(() => this.follow());
    this.follow();
  }

  end(): void {
    this.leave();
    this.silence();
  }

  private follow(): void {
    const { frame, playing, speed, pace } = this.clock.get();
    const moved = frame !== this.frame;
    this.frame = frame;
    const at = secondsAt(this.sound, frame);
    if (playing && speed === 1 && pace === 1) this.run(at);
    else {
      this.running?.end();
      this.running = undefined;
      if (moved && !playing) this.hear(at, Math.max(SNATCH, 1 / this.sound.fps));
    }
  }

  /** Goes on where it is on course, and begins anew where it is not: at the start, round a loop, or where the page was late. */
  private run(at: number): void {
    const heard = this.running && this.running.from + this.output.now() - this.running.since;
    if (heard !== undefined && heard > at - OFF && heard < at + 1 / this.sound.fps + OFF) return;
    this.silence();
    const left = this.sound.facts.seconds - at;
    // What is seen before the sound begins is silent, and the sound begins on time.
    if (at < 0 || left <= 0) return;
    this.running = { since: this.output.now(), from: at, end: this.play(at, left) };
  }

  private hear(at: number, seconds: number): void {
    this.snatch?.();
    this.snatch = at < 0 || at >= this.sound.facts.seconds ? undefined : this.play(at, seconds);
  }

  private play(at: number, seconds: number): () => void {
    return this.output.play(this.sound.facts.startsAt + at, seconds);
  }

  private silence(): void {
    this.running?.end();
    this.snatch?.();
    this.running = this.snatch = undefined;
  }
}
