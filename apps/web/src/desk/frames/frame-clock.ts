import { createContext, useContext, useSyncExternalStore } from 'react';
import { Listeners } from '../../kit/listeners.ts';

export interface ClockState {
  /** Label of the frame that is shown. */
  readonly frame: number;
  readonly playing: boolean;
  /** Share of the shot's own rate. */
  readonly speed: 1 | 0.5 | 0.25 | 0.125;
  /** How many times as fast as at its own tempo it is played: another tempo that is tried. */
  readonly pace: number;
  /** Labels of the first and last frame of the axis. */
  readonly first: number;
  readonly last: number;
  /** Last label that is played; one before `last` where that frame only repeats the first. */
  readonly lastPlayed: number;
  readonly fps: number;
  /** Times the shot is played before it begins anew, and the one that is played now, from 0. */
  readonly laps: 1 | 2;
  readonly lap: number;
  /** Labels between which it plays, round and round; null for all of it. */
  readonly range: readonly [number, number] | null;
}

/** How a shot lies on the axis. */
export interface Span {
  readonly first: number;
  readonly frames: number;
  readonly fps: number;
  readonly loop: 'none' | 'repeat' | 'follow';
}

type Timer = { now(): number; request(tick: () => void): number; cancel(handle: number): void };

const BROWSER: Timer = {
  now: () => performance.now(),
  request: (tick) => requestAnimationFrame(tick),
  cancel: (handle) => cancelAnimationFrame(handle),
};

/**
 * The one frame axis of the desk. Everything that shows a frame reads it from here, and everything that chooses one writes it here.
 * Playing is steady: the frame follows from the time since playing began, so a slow picture skips frames instead of slowing down. A
 * loop with the habit `repeat` goes from the frame before the last to the first: the last is the first again.
 */
export class FrameClock {
  private state: ClockState = {
    frame: 1,
    playing: false,
    speed: 1,
    pace: 1,
    first: 1,
    last: 1,
    lastPlayed: 1,
    fps: 24,
    laps: 1,
    lap: 0,
    range: null,
  };
  private readonly listeners = new Listeners();
  readonly subscribe = this.listeners.subscribe;
  private handle = 0;
  private startedAt = 0;
  private startedFrom = 1;
  private startedLap = 0;

  constructor(private readonly timer: Timer = BROWSER) {}

  get = (): ClockState => this.state;

  /** Lays a shot on the axis. The frame stays where it is if the shot has it. */
  span({ first, frames, fps, loop }: Span): void {
    const last = first + frames - 1;
    const lastPlayed = loop === 'repeat' && frames > 1 ? last - 1 : last;
    const frame = Math.min(Math.max(this.state.frame, first), last);
    this.change({ first, last, lastPlayed, fps, frame, range: null, laps: 1, lap: 0, pace: 1 });
    this.restart();
  }

  play(): void {
    if (this.state.playing) return;
    this.change({ playing: true });
    this.restart();
  }

  pause(): void {
    if (!this.state.playing) return;
    this.timer.cancel(this.handle);
    this.change({ playing: false });
  }

  toggle(): void {
    if (this.state.playing) this.pause();
    else this.play();
  }

  setSpeed(speed: ClockState['speed']): void {
    this.change({ speed });
    this.restart();
  }

  setPace(pace: number): void {
    this.change({ pace });
    this.restart();
  }

  /** Plays it once and anew, or twice in a row. */
  setLaps(laps: 1 | 2): void {
    if (laps === this.state.laps) return;
    this.change({ laps, lap: 0 });
    this.restart();
  }

  /** Plays only between two labels, or all of it again. */
  setRange(range: readonly [number, number] | null): void {
    const { first, lastPlayed, frame } = this.state;
    const own = range && ([Math.max(first, range[0]), Math.min(lastPlayed, range[1])] as const);
    if (own && own[0] >= own[1]) return;
    this.change({ range: own, ...(own && { frame: Math.min(own[1], Math.max(own[0], frame)) }) });
    this.restart();
  }

  /** Shows a frame and stops. Labels beyond the ends are brought back to them. */
  seek(label: number): void {
    this.pause();
    const { first, last } = this.state;
    this.change({ frame: Math.min(last, Math.max(first, Math.round(label))) });
  }

  /** Goes some frames on, round the ends of what is played. */
  step(by: number): void {
    this.pause();
    const { first, lastPlayed, frame, lap, laps } = this.state;
    const count = lastPlayed - first + 1;
    const at = Math.min(frame, lastPlayed) - first + by;
    this.change({ frame: first + modulo(at, count), lap: modulo(lap + Math.floor(at / count), laps) });
  }

  destroy(): void {
    this.timer.cancel(this.handle);
    this.listeners.clear();
  }

  private restart(): void {
    this.timer.cancel(this.handle);
    if (!this.state.playing) return;
    this.startedAt = this.timer.now();
    this.startedFrom = this.state.frame;
    this.startedLap = this.state.lap;
    const tick = (): void => {
      const { fps, speed, pace, range, laps } = this.state;
      const [first, lastPlayed] = range ?? [this.state.first, this.state.lastPlayed];
      const gone = ((this.timer.now() - this.startedAt) / 1000) * fps * speed * pace;
      const count = lastPlayed - first + 1;
      const from = Math.min(lastPlayed, Math.max(first, this.startedFrom));
      const at = Math.floor(gone + 1e-6 + from - first);
      const frame = first + (at % count);
      const lap = modulo(this.startedLap + Math.floor(at / count), laps);
      if (frame !== this.state.frame || lap !== this.state.lap) this.change({ frame, lap });
      this.handle = this.timer.request(tick);
    };
    this.handle = this.timer.request(tick);
  }

  private change(changes: Partial<ClockState>): void {
    this.state = { ...this.state, ...changes };
    this.listeners.tell();
  }
}

const modulo = (value: number, by: number): number => ((value % by) + by) % by;

export const ClockContext = createContext<FrameClock | null>(null);

export function useClock(): FrameClock {
  const clock = useContext(ClockContext);
  if (!clock) throw new Error('there is no frame clock above this component');
  return clock;
}

/** One value of the clock; the component is drawn again only when that value changes. */
export function useClockValue<T>(select: (state: ClockState) => T): T {
  const clock = useClock();
  return useSyncExternalStore(clock.subscribe, () => select(clock.get()));
}
