import { ChevronLeft, ChevronRight, Pause, Play } from 'lucide-react';
import { Button } from '../kit/button.tsx';
import { Hint } from '../kit/hint.tsx';
import { Select } from '../kit/select.tsx';
import { useDesk } from './desk-store.ts';
import { useClock, useClockValue } from './frames/frame-clock.ts';
import type { MotionSource } from './frames/motion-source.ts';

const SPEEDS = [
  [1, '1', 'At the shot’s own rate'],
  [0.5, '½', 'At half its rate'],
  [0.25, '¼', 'At a quarter of its rate'],
] as const;

/** The row between paper and strip: playing, stepping, and which joint is followed. */
export function Transport({ source }: { source: MotionSource }) {
  const clock = useClock();
  const playing = useClockValue((state) => state.playing);
  const speed = useClockValue((state) => state.speed);
  const { joint, space, path, ride, set } = useDesk();
  return (
    <div className="flex flex-wrap items-center gap-1.5 border-t border-edge bg-paper px-2 py-1">
      <Hint text={playing ? 'Stop' : 'Play'} shortcut="space" side="top">
        <Button aria-label={playing ? 'Stop' : 'Play'} onClick={() => clock.toggle()} className="w-9">
          {playing ? <Pause size={15} /> : <Play size={15} />}
        </Button>
      </Hint>
      <Hint text="A frame back" shortcut="←" side="top">
        <Button look="quiet" aria-label="A frame back" onClick={() => clock.step(-1)}>
          <ChevronLeft size={15} />
        </Button>
      </Hint>
      <Hint text="A frame on" shortcut="→" side="top">
        <Button look="quiet" aria-label="A frame on" onClick={() => clock.step(1)}>
          <ChevronRight size={15} />
        </Button>
      </Hint>
      <div role="group" aria-label="Speed" className="flex">
        {SPEEDS.map(([value, text, hint]) => (
          <Hint key={value} text={hint} side="top">
            <Button
              look="quiet"
              on={speed === value}
              aria-label={hint}
              onClick={() => clock.setSpeed(value)}
              className="frame-number w-8"
            >
              {text}
            </Button>
          </Hint>
        ))}
      </div>
      <span className="frame-number ml-2 text-xs text-graphite max-lg:hidden">
        {Number(source.fps.toFixed(2))} fps, {source.frames} frames,{' '}
        {source.loop === 'none'
          ? 'no loop'
          : source.loop === 'repeat'
            ? 'loop: the last repeats the first'
            : 'loop: the last comes before the first'}
      </span>
      <span className="ml-auto" />
      {path && (
        <Hint
          text={
            ride
              ? 'Riding on the hips, the path is judged as it is seen'
              : 'Judge the path in space, or as it is seen from here'
          }
          side="top"
        >
          <Button
            look="quiet"
            className="text-xs"
            disabled={ride}
            onClick={() => set({ space: space === 'world' ? 'screen' : 'world' })}
          >
            {space === 'screen' || ride ? 'as seen' : 'in space'}
          </Button>
        </Hint>
      )}
      <Select
        label="Joint"
        placeholder="Choose a joint"
        value={joint !== null && source.pointNames.includes(joint) ? joint : undefined}
        onChange={(name) => set({ joint: name, path: true })}
        options={source.pointNames.map((name) => ({ value: name, text: name }))}
        className="w-44"
      />
    </div>
  );
}
