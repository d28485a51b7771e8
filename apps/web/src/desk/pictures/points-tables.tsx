import { Download, Upload } from 'lucide-react';
import { useRef } from 'react';
import { toast } from 'sonner';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { readPoints } from '@ypsigraph/core/formats/points/read-points';
import { writePoints } from '@ypsigraph/core/formats/points/write-points';
import { followedPoints, pointTracks } from '@ypsigraph/core/track/picture-shot';
import { NewTracks, type Tracks } from '@ypsigraph/contract/pictures';
import { Button } from '../../kit/button.tsx';
import type { PlacedSource } from '../frames/frame-source.ts';
import { saveText } from '../../kit/save-text.ts';
import type { Points } from './use-points.ts';

/** Tables of points in and out. */
export function Tables({
  source,
  points: { tracks, edit },
  fileName,
}: {
  source: PlacedSource;
  points: Points;
  fileName: string;
}) {
  const input = useRef<HTMLInputElement>(null);
  const facts = { ...source.pictures.facts, frames: source.frames, fps: source.fps };
  const load = async (file: File): Promise<void> => {
    try {
      const read = readPoints(await file.text(), { fps: source.fps, y: 'down' });
      // Labels of the table are those of the strip.
      const shift = read.firstFrame - source.first;
      const come = followedPoints(read, 0).map(({ name, places }) => ({
        name,
        places: places.flatMap(([at, x, y, confidence]): Tracks['points'][number]['places'] =>
          at + shift >= 0 && at + shift < source.frames ? [[at + shift, x, y, confidence]] : [],
        ),
      }));
      const names = new Set(come.map(({ name }) => name));
      const next = { ...tracks, points: [...tracks.points.filter(({ name }) => !names.has(name)), ...come] };
      const checked = NewTracks.safeParse(next);
      if (!checked.success) throw new FormatError(checked.error.issues[0]!.message);
      edit(() => next);
      toast(`${come.length === 1 ? 'One point has' : `${come.length} points have`} come in.`);
    } catch (error) {
      if (!(error instanceof FormatError)) throw error;
      toast.error(`This table can’t be taken: ${error.message}`);
    }
  };
  return (
    <div className="flex flex-wrap gap-1 border-t border-edge pt-1.5">
      <Button look="quiet" className="!min-h-6 px-1 text-xs" onClick={() => input.current!.click()}>
        <Upload size={12} /> points in
      </Button>
      <Button
        look="quiet"
        className="!min-h-6 px-1 text-xs"
        disabled={tracks.points.length === 0}
        onClick={() => {
          const table = pointTracks({ ...facts, height: 0 }, tracks.points, source.first);
          saveText(writePoints(table), `${fileName.replace(/\.\w+$/, '')}-points.csv`);
        }}
      >
        <Download size={12} /> points out
      </Button>
      <input
        ref={input}
        type="file"
        accept=".csv,text/csv"
        aria-label="Table of points"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void load(file);
          event.target.value = '';
        }}
      />
    </div>
  );
}
