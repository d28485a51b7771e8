import type { Under } from '@ypsigraph/contract/shots';
import { Button } from '../../kit/button.tsx';
import { useDesk } from '../desk-store.ts';
import { BeginsAt } from './begins-at.tsx';
import type { PlacedClip } from './use-clip.ts';

/** Where the clip begins on the frame axis; beneath the figure also how large it is, and where. */
export function ClipChoices({ clip, beneath }: { clip: PlacedClip; beneath: boolean }) {
  const strength = useDesk((state) => state.clipStrength);
  const { place, move, mayMove, under } = clip;
  const lay = (change: Partial<Under>): void => {
    if (under) move({ ...place, under: { ...under, ...change } });
  };
  return (
    <fieldset
      className="absolute right-2 bottom-2 flex max-w-full flex-wrap items-center gap-x-3 gap-y-1 rounded-md bg-sheet/90 px-2 py-1 text-xs"
      aria-label="Where the clip lies"
    >
      <BeginsAt placed={clip} what="clip" />
      {beneath && under && (
        <>
          {mayMove && (
            <>
              <Slide
                text="size"
                value={Math.log(under.height)}
                from={Math.log(0.3)}
                to={Math.log(20)}
                onChange={(log) => lay({ height: Math.exp(log) })}
              />
              <Slide text="across" value={under.x} from={-4} to={4} onChange={(x) => lay({ x })} />
              <Slide text="up" value={under.y} from={-4} to={4} onChange={(y) => lay({ y })} />
              <Button
                look="quiet"
                className="!min-h-6 !px-1 text-xs"
                onClick={() => move({ ...place, under: null })}
                title="Fit the clip to the figure"
              >
                fit
              </Button>
            </>
          )}
          <Slide
            text="strength"
            value={strength}
            from={0.1}
            to={1}
            onChange={(clipStrength) => useDesk.getState().set({ clipStrength })}
          />
        </>
      )}
    </fieldset>
  );
}

function Slide({
  text,
  value,
  from,
  to,
  onChange,
}: {
  text: string;
  value: number;
  from: number;
  to: number;
  onChange: (value: number) => void;
}) {
  return (
    <label className="flex items-center gap-1">
      {text}
      <input
        type="range"
        min={from}
        max={to}
        step={(to - from) / 400}
        value={value}
        className="w-18 accent-ink"
        onChange={(event) => onChange(Number(event.target.value))}
      />
    </label>
  );
}
