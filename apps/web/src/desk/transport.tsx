import { ChevronLeft, ChevronRight, Pause, Play, Repeat } from 'lucide-react';
import { Button } from '../kit/button.tsx';
import { Hint } from '../kit/hint.tsx';
import { Select } from '../kit/select.tsx';
import { EXPOSURES, type Exposure, type GhostsBy, useDesk } from './desk-store.ts';
import { type ClockState, useClock, useClockValue } from './frames/frame-clock.ts';
import type { FrameSource } from './frames/frame-source.ts';

export const SPEEDS: readonly (readonly [ClockState['speed'], string, string])[] = [
  [1, '1', 'At the shot’s own rate'],
  [0.5, '½', 'At half its rate'],
  [0.25, '¼', 'At a quarter of its rate'],
  [0.125, '⅛', 'At an eighth of its rate'],
];

const SHOWN: Readonly<Record<Exposure, string>> = {
  ones: 'every frame',
  twos: 'on twos',
  threes: 'on threes',
  poses: 'key poses, held',
};

const GHOSTS_BY: Readonly<Record<GhostsBy, string>> = {
  frames: 'ghosts: frames',
  twos: 'ghosts: on twos',
  poses: 'ghosts: key poses',
};

/** The row between paper and strip: playing, stepping, and which point is followed. */
export function Transport({ source }: { source: FrameSource }) {
  const clock = useClock();
  const playing = useClockValue((state) => state.playing);
  const speed = useClockValue((state) => state.speed);
  const range = useClockValue((state) => state.range);
  const point = useDesk((state) => state.point);
  const space = useDesk((state) => state.space);
  const ride = useDesk((state) => state.ride);
  const exposure = useDesk((state) => state.exposure);
  const ghostsBy = useDesk((state) => state.ghostsBy);
  const path = useDesk(({ lenses }) => lenses.has('path'));
  const ghosts = useDesk(({ lenses }) => lenses.has('ghosts'));
  const poseRow = useDesk((state) => state.poseRow);
  const dial = useDesk((state) => state.dial);
  const { set } = useDesk.getState();
  const riding = ride !== null;
  return (
    <div className="flex flex-wrap items-center gap-1 border-t border-edge bg-paper px-2 py-1">
      <Hint text={playing ? 'Stop' : 'Play'} shortcut="space" side="top">
        <Button aria-label={playing ? 'Stop' : 'Play'} onClick={() => clock.toggle()} className="w-9">
          {playing ? <Pause size={15} /> : <Play size={15} />}
        </Button>
      </Hint>
      <Hint text="A frame back" shortcut="←" side="top">
        <Button look="quiet" aria-label="A frame back" className="!px-1" onClick={() => clock.step(-1)}>
          <ChevronLeft size={15} />
        </Button>
      </Hint>
      <Hint text="A frame on" shortcut="→" side="top">
        <Button look="quiet" aria-label="A frame on" className="!px-1" onClick={() => clock.step(1)}>
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
              className="frame-number w-7 !px-0"
            >
              {text}
            </Button>
          </Hint>
        ))}
      </div>
      <Plain
        label="Frames that are shown"
        value={exposure}
        options={EXPOSURES.map((value) => [value, SHOWN[value]] as const)}
        onChange={(value) => set({ exposure: value })}
      />
      {range && (
        <Button
          look="quiet"
          on
          className="frame-number !px-1.5 text-xs"
          onClick={() => clock.setRange(null)}
          title="Play all of it again"
        >
          <Repeat size={12} /> {range[0]}–{range[1]}
        </Button>
      )}
      <span className="frame-number ml-1 truncate text-xs text-graphite max-[1500px]:hidden">
        {Number(source.fps.toFixed(2))} fps, {source.frames} frames,{' '}
        {source.loop === 'none'
          ? 'no loop'
          : source.loop === 'repeat'
            ? 'loop: the last repeats the first'
            : 'loop: the last comes before the first'}
      </span>
      <span className="ml-auto" />
      <Hint text="The row of key poses" shortcut="p" side="top">
        <Button look="quiet" on={poseRow} className="!px-1.5 text-xs" onClick={() => set({ poseRow: !poseRow })}>
          poses
        </Button>
      </Hint>
      {source.loop !== 'none' && (
        <Hint text="The dial of the loop" shortcut="l" side="top">
          <Button look="quiet" on={dial} className="!px-1.5 text-xs" onClick={() => set({ dial: !dial })}>
            dial
          </Button>
        </Hint>
      )}
      {ghosts && (
        <Plain
          label="Ghosts by"
          value={ghostsBy}
          options={(Object.keys(GHOSTS_BY) as GhostsBy[]).map((value) => [value, GHOSTS_BY[value]] as const)}
          onChange={(value) => set({ ghostsBy: value })}
        />
      )}
      <Hint
        text={riding ? `The view goes with ${ride}` : 'Ride on the chosen point, or on the hips'}
        shortcut="h"
        side="top"
      >
        <Button look="quiet" on={riding} className="!px-1.5 text-xs" onClick={() => toggleRide(source)}>
          {riding ? `riding on ${ride}` : 'ride'}
        </Button>
      </Hint>
      {path && (
        <Hint
          text={
            riding ? 'Riding, the path is judged as it is seen' : 'Judge the path in space, or as it is seen from here'
          }
          side="top"
        >
          <Button
            look="quiet"
            className="!px-1.5 text-xs"
            disabled={riding}
            onClick={() => set({ space: space === 'world' ? 'screen' : 'world' })}
          >
            {space === 'screen' || riding ? 'as seen' : 'in space'}
          </Button>
        </Hint>
      )}
      <Select
        label="Point"
        placeholder="Choose a point"
        value={point !== null && source.pointNames.includes(point) ? point : undefined}
        onChange={(name) => set({ point: name, lenses: new Set([...useDesk.getState().lenses, 'path']) })}
        options={source.pointNames.map((name) => ({ value: name, text: name }))}
        className="w-32"
      />
    </div>
  );
}

/** The view goes with the chosen point, or with the hips where none is chosen; or stays again. */
export function toggleRide(source: FrameSource | undefined): void {
  const { ride, point, set } = useDesk.getState();
  const hips = source?.figure?.shown.roles.hips;
  const onto = point ?? (hips === undefined ? null : (source?.pointNames[hips] ?? null));
  set({ ride: ride === null ? onto : null });
}

interface PlainProps<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly (readonly [T, string])[];
  readonly onChange: (value: T) => void;
}

function Plain<T extends string>({ label, value, options, onChange }: PlainProps<T>) {
  return (
    <select
      aria-label={label}
      className="min-h-7 rounded-md border border-edge-strong bg-sheet px-1 text-xs"
      value={value}
      onChange={(event) => onChange(event.target.value as T)}
    >
      {options.map(([own, text]) => (
        <option key={own} value={own}>
          {text}
        </option>
      ))}
    </select>
  );
}
