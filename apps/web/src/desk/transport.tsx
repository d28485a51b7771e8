import { ChevronLeft, ChevronRight, Pause, Play, Repeat, Volume2, VolumeX } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../kit/button.tsx';
import { Hint } from '../kit/hint.tsx';
import { Select } from '../kit/select.tsx';
import {
  ALIGNED_BY,
  type AlignedBy,
  CLIP_BY,
  type ClipBy,
  COMPARED,
  type ComparedBy,
  EXPOSURES,
  type Exposure,
  useDesk,
} from './desk-store.ts';
import { sameDrawings, useDrawings } from './cures/drawings-store.ts';
import { type ClockState, type FrameClock, useClock, useClockValue } from './frames/frame-clock.ts';
import type { FrameSource } from './frames/frame-source.ts';
import { BeginsAt } from './pictures/begins-at.tsx';
import type { Placed } from './pictures/use-clip.ts';
import { useSound } from './sound/use-sound.ts';

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

const SEEN: Readonly<Record<ComparedBy, string>> = {
  beside: 'side by side',
  behind: 'one behind the other',
  flicked: 'flicked between (shift c)',
  wiped: 'wiped',
  blended: 'blended',
};

const ALIGNED: Readonly<Record<AlignedBy, string>> = { label: 'by label', shown: 'aligned' };

const CLIP: Readonly<Record<ClipBy, string>> = {
  figure: 'figure alone',
  beside: 'clip beside',
  under: 'over the clip',
};

/** The row between paper and strip: playing, stepping, and which point is followed. */
export function Transport({
  source,
  canBeLaid,
  beside,
  hasClip,
  soundAlone,
  children,
}: {
  source: FrameSource;
  canBeLaid: boolean;
  /** The revision seen with it. */
  beside: FrameSource | undefined;
  hasClip: boolean;
  /** Where the sound lies, of a motion that came with one and no pictures. */
  soundAlone: Placed | undefined;
  /** What stands beside the speeds. */
  children?: ReactNode;
}) {
  const clock = useClock();
  const playing = useClockValue((state) => state.playing);
  const speed = useClockValue((state) => state.speed);
  const range = useClockValue((state) => state.range);
  const point = useDesk((state) => state.point);
  const space = useDesk((state) => state.space);
  const ride = useDesk((state) => state.ride);
  const exposure = useDesk((state) => state.exposure);
  const path = useDesk(({ lenses }) => lenses.has('path'));
  const twice = useDesk((state) => state.twice);
  const poseRow = useDesk((state) => state.poseRow);
  const exposes = useDrawings((state) => sameDrawings(state.source, source));
  const dial = useDesk((state) => state.dial);
  const heard = useDesk((state) => state.heard);
  const isHeard = useSound(clock, source.sound, heard);
  const { set } = useDesk.getState();
  const comparedBy = useDesk((state) => state.comparedBy);
  const alignedBy = useDesk((state) => state.alignedBy) ?? (beside?.frames === source.frames ? 'label' : 'shown');
  const clipBy = useDesk((state) => state.clipBy);
  const offered = COMPARED[canBeLaid ? 'pictures' : 'motion'];
  const riding = ride !== null;
  // Where two revisions share a narrow window their keys do what these do.
  const byKeys = beside ? 'max-[1100px]:hidden' : '';
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
      {source.sound && (
        <Hint
          text={heard ? 'Heard at speed 1, and frame by frame: off' : 'Let it be heard'}
          shortcut="shift s"
          side="top"
        >
          <Button
            look="quiet"
            on={heard}
            aria-label="Sound"
            data-heard={isHeard}
            className="!px-1.5"
            onClick={() => set({ heard: !heard })}
          >
            {heard ? <Volume2 size={14} /> : <VolumeX size={14} />}
          </Button>
        </Hint>
      )}
      {soundAlone && <BeginsAt placed={soundAlone} what="sound" />}
      {children}
      <Select
        givesBack
        className="text-xs max-[1100px]:w-19"
        label="Frames that are shown"
        value={exposure}
        options={EXPOSURES.map((value) => ({ value, text: SHOWN[value] }))}
        onChange={(value) => set({ exposure: value })}
      />
      {source.pictures && source.exposed && (
        <Hint text="Expose the drawings otherwise" side="top">
          <Button
            look="quiet"
            on={exposes}
            className="!px-1.5 text-xs"
            onClick={() => (exposes ? useDrawings.getState().close() : useDrawings.getState().open(source))}
          >
            expose
          </Button>
        </Hint>
      )}
      {source.travel && (
        <Hint text="The cycle twice in a row, going over the ground" shortcut="j" side="top">
          <Button
            look="quiet"
            on={twice}
            className={`!px-1.5 text-xs ${byKeys}`}
            onClick={() => toggleTwice(clock, source)}
          >
            twice
          </Button>
        </Hint>
      )}
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
      {hasClip && (
        <Select
          givesBack
          className="text-xs"
          label="How motion and clip are seen"
          value={clipBy}
          options={CLIP_BY.map((value) => ({ value, text: CLIP[value] }))}
          onChange={(value) => set({ clipBy: value })}
        />
      )}
      {beside && (
        <Select
          givesBack
          className="w-20 text-xs max-[1100px]:w-19"
          label="Which of their frames belong together"
          value={alignedBy}
          options={ALIGNED_BY.map((value) => ({ value, text: ALIGNED[value] }))}
          onChange={(value) => set({ alignedBy: value })}
        />
      )}
      {beside && (
        <Select
          givesBack
          className="w-28 text-xs max-[1100px]:w-26"
          label="How the two revisions are seen"
          value={offered.includes(comparedBy) ? comparedBy : 'beside'}
          options={offered.map((value) => ({ value, text: SEEN[value] }))}
          onChange={(value) => set({ comparedBy: value })}
        />
      )}
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
      <Hint
        text={riding ? `The view goes with ${ride}` : 'Ride on the chosen point, or on the hips'}
        shortcut="h"
        side="top"
      >
        <Button look="quiet" on={riding} className={`!px-1.5 text-xs ${byKeys}`} onClick={() => toggleRide(source)}>
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
        givesBack
        label="Point"
        placeholder="Choose a point"
        value={point !== null && source.pointNames.includes(point) ? point : undefined}
        onChange={(name) => set({ point: name, lenses: new Set([...useDesk.getState().lenses, 'path']) })}
        options={source.pointNames.map((name) => ({ value: name, text: name }))}
        className="w-32 max-[1100px]:w-21"
      />
    </div>
  );
}

/** A loop on the spot goes over the ground, twice round; or stays on the spot again. */
export function toggleTwice(clock: FrameClock, source: FrameSource | undefined): void {
  if (!source?.travel) return;
  const { twice, set } = useDesk.getState();
  set({ twice: !twice });
  clock.setLaps(twice ? 1 : 2);
}

/** The view goes with the chosen point, or with the hips where none is chosen; or stays again. */
export function toggleRide(source: FrameSource | undefined): void {
  const { ride, point, set } = useDesk.getState();
  const hips = source?.figure?.shown.roles.hips;
  const onto = point ?? (hips === undefined ? null : (source?.pointNames[hips] ?? null));
  set({ ride: ride === null ? onto : null });
}
