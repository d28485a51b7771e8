import { Download } from 'lucide-react';
import { writeExposures } from '@ypsigraph/core/formats/points/write-exposures';
import { toggleDrawing } from '@ypsigraph/core/track/held-pictures';
import { Button } from '../../kit/button.tsx';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { PlacedSource } from '../frames/frame-source.ts';
import { saveText } from '../../kit/save-text.ts';
import type { Points } from './use-points.ts';

const ON: Readonly<Record<number, string>> = { 1: 'on ones', 2: 'on twos', 3: 'on threes' };

/** How many drawings there are, and how long each is held: “36 drawings, on twos”. */
function exposureWords(drawings: readonly { readonly from: number; readonly to: number }[]): string {
  const lengths = drawings.map(({ from, to }) => to - from + 1);
  const [least, most] = [Math.min(...lengths), Math.max(...lengths)];
  const held = least === most ? (ON[least] ?? `each held ${least} frames`) : `each held ${least} to ${most} frames`;
  return `${drawings.length} drawings, ${held}`;
}

/** How drawings are exposed: found from the pictures, put right by hand. */
export function Drawings({ source, points: { tracks, edit } }: { source: PlacedSource; points: Points }) {
  const clock = useClock();
  const frame = useClockValue((state) => state.frame);
  const sample = source.sampleAt(frame);
  const found = source.pictures.facts.exposures;
  const own = tracks.exposures ?? found;
  const here = own.find(({ from, to }) => sample >= from && sample <= to)!;
  return (
    <div className="space-y-1 border-t border-edge pt-1.5 text-xs">
      <p className="text-graphite">{exposureWords(own)}</p>
      <div className="flex flex-wrap gap-1">
        {sample > 0 && (
          <Button
            look="quiet"
            className="!min-h-6 px-1 text-xs"
            onClick={() => {
              clock.pause();
              edit((now) => ({ ...now, exposures: toggleDrawing(now.exposures ?? found, sample) }));
            }}
          >
            {here.from === sample ? 'The same as before' : 'A new drawing'}
          </Button>
        )}
        {tracks.exposures && (
          <Button
            look="quiet"
            className="!min-h-6 px-1 text-xs"
            onClick={() => edit((now) => ({ ...now, exposures: null }))}
          >
            As found
          </Button>
        )}
        <Button
          look="quiet"
          className="!min-h-6 px-1 text-xs"
          onClick={() => saveText(writeExposures(own, source.first), 'exposures.csv')}
        >
          <Download size={12} /> exposures
        </Button>
      </div>
    </div>
  );
}
