import { Metronome } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useRef, useState } from 'react';
import { paceOf, RATES, sayTempo, type Tempo } from '@ypsigraph/core/mark/tempo';
import { Button } from '../kit/button.tsx';
import { INPUT } from '../kit/field.tsx';
import { Hint } from '../kit/hint.tsx';
import { useDesk } from './desk-store.ts';
import { useClock, useClockValue } from './frames/frame-clock.ts';

interface Props {
  /** What it is now: of a gait one cycle, else what is played. */
  readonly own: Tempo;
  readonly takesSteps: boolean;
  /** Asks for so many frames in a mark; undefined where nobody may. */
  readonly onAsk: ((frames: number) => void) | undefined;
}

/** The shot as if it had another number of frames, or another rate: heard with the eye before anybody asks for it. */
export function TempoPreview({ own, takesSteps, onAsk }: Props) {
  const clock = useClock();
  const asks = useRef(false);
  const pace = useClockValue((state) => state.pace);
  const [tempo, setTempo] = useState(own);
  const play = (next: Tempo): void => {
    setTempo(next);
    clock.setPace(paceOf(own, next));
    if (!clock.get().playing) clock.play();
  };
  const rates = [...new Set([own.fps, ...RATES])].sort((a, b) => a - b);
  const isOwn = pace === 1;
  return (
    <Popover.Root>
      <Hint text="Another tempo, tried at once" side="top">
        <Popover.Trigger asChild>
          <Button look="quiet" on={!isOwn} className="frame-number !px-1.5 text-xs" aria-label="Tempo">
            <Metronome size={14} /> {!isOwn && tempo.frames}
          </Button>
        </Popover.Trigger>
      </Hint>
      <Popover.Portal>
        <Popover.Content
          side="top"
          align="start"
          sideOffset={6}
          // Asked for, the words of the mark come next: the button that opened this would take the focus from them.
          onCloseAutoFocus={(event) => {
            if (!asks.current) return;
            asks.current = false;
            event.preventDefault();
            useDesk.getState().set({ wantsWords: true });
          }}
          className="z-40 w-72 space-y-2 rounded-md border border-edge-strong bg-sheet p-3 text-sm shadow-sm"
        >
          <h3 className="font-display text-sm">Tempo</h3>
          <div className="flex items-center gap-2 text-xs text-graphite">
            <label>
              {takesSteps ? 'frames a cycle' : 'frames'}{' '}
              <input
                type="number"
                min={2}
                max={2000}
                className={`frame-number ${INPUT} !min-h-6 !w-16 !px-1`}
                value={tempo.frames}
                onChange={(event) => {
                  const frames = Math.round(Number(event.target.value));
                  if (frames >= 2 && frames <= 2000) play({ ...tempo, frames });
                }}
              />
            </label>
            <label>
              at{' '}
              <select
                aria-label="Frames a second"
                className="min-h-6 rounded-md border border-edge-strong bg-sheet px-1 text-xs"
                value={tempo.fps}
                onChange={(event) => play({ ...tempo, fps: Number(event.target.value) })}
              >
                {rates.map((rate) => (
                  <option key={rate} value={rate}>
                    {Number(rate.toFixed(2))}
                  </option>
                ))}
              </select>{' '}
              a second
            </label>
          </div>
          <dl className="grid grid-cols-[3rem_1fr] text-xs" aria-live="polite">
            <dt className="text-graphite">is</dt>
            <dd>{sayTempo(own, takesSteps)}</dd>
            <dt className="text-graphite">tried</dt>
            <dd>{sayTempo(tempo, takesSteps)}</dd>
          </dl>
          <div className="flex justify-between">
            <Button
              look="quiet"
              className="text-xs"
              disabled={isOwn}
              onClick={() => {
                setTempo(own);
                clock.setPace(1);
              }}
            >
              As it is
            </Button>
            {onAsk && (
              <Popover.Close asChild>
                <Button
                  className="text-xs"
                  disabled={tempo.frames === own.frames}
                  onClick={() => {
                    asks.current = true;
                    onAsk(tempo.frames);
                  }}
                >
                  Ask for {tempo.frames} frames
                </Button>
              </Popover.Close>
            )}
          </div>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
