import { useRef, useState } from 'react';
import { Button } from '../kit/button.tsx';

interface Props {
  readonly address: string;
  readonly onUnseen: () => void;
}

/** A chosen clip before it is handed in: stopped, played and gone through like everything else here. */
export function ClipPreview({ address, onUnseen }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  const [{ at, of, playing }, setState] = useState({ at: 0, of: 0, playing: false });
  const read = (): void => {
    const { currentTime, duration, paused } = video.current!;
    setState({ at: currentTime, of: Number.isFinite(duration) ? duration : 0, playing: !paused });
  };
  const toggle = (): void => void (video.current!.paused ? video.current!.play() : video.current!.pause());
  return (
    <div className="mt-2 inline-block border border-edge bg-sheet">
      <video
        ref={video}
        src={address}
        muted
        loop
        playsInline
        className="max-h-64 max-w-full"
        onClick={toggle}
        onLoadedMetadata={read}
        onTimeUpdate={read}
        onPlay={read}
        onPause={read}
        onError={onUnseen}
      />
      <div className="flex items-center gap-2 border-t border-edge px-2 py-1">
        <Button className="!min-h-6 text-xs" onClick={toggle}>
          {playing ? 'Pause' : 'Play'}
        </Button>
        <input
          type="range"
          aria-label="Place in the clip"
          className="min-w-0 flex-1"
          min={0}
          max={of}
          step="any"
          value={at}
          onChange={({ target }) => {
            video.current!.pause();
            video.current!.currentTime = target.valueAsNumber;
          }}
        />
        <span className="frame-number text-xs text-graphite">{of.toFixed(1)} s</span>
      </div>
    </div>
  );
}
