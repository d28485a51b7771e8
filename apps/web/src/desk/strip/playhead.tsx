import { useEffect, useRef } from 'react';
import { useClock } from '../frames/frame-clock.ts';
import { RULER } from './ruler.tsx';

interface Props {
  readonly box: React.RefObject<HTMLDivElement | null>;
  readonly x: (label: number) => number;
  readonly perFrame: number;
  readonly width: number;
}

/** Half the width of the playhead's own label. */
const HALF = 16;

/** Where the shown frame is. It is moved by hand at each frame: nothing else of the strip is drawn again. */
export function Playhead({ box, x, perFrame, width }: Props) {
  const clock = useClock();
  const line = useRef<HTMLDivElement>(null);
  const label = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const move = (): void => {
      const { frame } = clock.get();
      const at = x(frame);
      line.current!.style.transform = `translateX(${at - perFrame / 2}px)`;
      // The label stays on the strip at its ends.
      label.current!.style.transform = `translateX(${Math.min(width - 2 * HALF, Math.max(0, at - HALF))}px)`;
      label.current!.textContent = String(frame);
      const slider = box.current?.querySelector('[role="slider"][aria-label="Frame"]');
      slider?.setAttribute('aria-valuenow', String(frame));
    };
    move();
    return clock.subscribe(move);
  }, [clock, x, perFrame, width, box]);
  return (
    <>
      <div
        ref={line}
        className="pointer-events-none absolute bottom-0 left-0 bg-ink/7"
        style={{ top: RULER, width: perFrame }}
        aria-hidden
      >
        <span className="absolute top-0 bottom-0 left-1/2 w-px bg-ink" />
      </div>
      <div
        ref={label}
        aria-hidden
        className="frame-number pointer-events-none absolute top-0 left-0 rounded-sm bg-ink text-center text-[11px] leading-4 font-medium text-sheet"
        style={{ width: 2 * HALF }}
      />
    </>
  );
}
