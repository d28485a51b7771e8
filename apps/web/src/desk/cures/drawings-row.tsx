import { ArrowLeftRight, Download, Minus, Plus, Trash2, Undo2, X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { Step } from '@ypsigraph/core/remedy/remedy';
import { stored } from '@ypsigraph/core/remedy/stored-recipe';
import { count } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';
import { Select } from '../../kit/select.tsx';
import { saveBlob, saveText } from '../../kit/save-text.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { DrawingBoxes, standings } from './drawing-boxes.tsx';
import { useDrawings } from './drawings-store.ts';

interface Props {
  readonly source: FrameSource;
  readonly fileName: string;
  /** Keeps the exposures with a mark; left out where nothing can be marked. */
  readonly onKeep: ((cure: StoredRecipe, mark: string | undefined) => void) | undefined;
}

/** Rates that are usual. */
const RATES = [12, 24, 25, 30] as const;

const ON = [
  [1, 'ones'],
  [2, 'twos'],
  [3, 'threes'],
] as const;

/** The drawings of a clip in a row, a box each, as wide as it stands long: held longer or shorter, dropped, swapped, put on twos; played so at once. */
export function DrawingsRow({ source, fileName, onKeep }: Props) {
  const { recipe, before, shown, missing, why, mark } = useDrawings();
  const [writing, setWriting] = useState<string>();
  const { change, undo, close } = useDrawings.getState();
  const clock = useClock();
  const frame = useClockValue((state) => state.frame);
  const row = useMemo(() => standings(shown, source.first), [shown, source.first]);
  const here = row.findIndex(({ from, frames }) => frame >= from && frame < from + frames);
  const [picked, setPicked] = useState<number>();
  // Another clip on the desk: its drawings stand as they were handed in.
  useEffect(() => () => useDrawings.getState().close(), []);
  useEffect(() => useDrawings.getState().follow(source), [source]);
  const at = picked !== undefined && picked < row.length ? picked : here;
  const own = row[at];
  const make = (step: Step): void => change([...recipe, step]);
  const held = (frames: number): void => make({ remedy: 'hold', parameters: { at: own!.from, frames } });
  const next = row[at + 1];
  const name = fileName.replace(/\.[^.]*$/, '');
  // What was put at another rate is played at that one.
  const fps = recipe.reduce(
    (now, { remedy, parameters }) => (remedy === 'rate' ? Number(parameters.to) : now),
    source.fps,
  );
  const takeAsClip = async (): Promise<void> => {
    setWriting('0 %');
    try {
      const { drawingsAsClip } = await import('./drawings-as-clip.ts');
      const blob = await drawingsAsClip(source, shown, fps, (share) => setWriting(`${Math.round(100 * share)} %`));
      saveBlob(blob, `${name}-exposures.webm`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The clip could not be written.');
    } finally {
      setWriting(undefined);
    }
  };
  const table = (): string =>
    `frame,drawing\n${shown.map((drawing, f) => `${source.first + f},${drawing + 1}\n`).join('')}`;
  return (
    <section aria-label="Exposures" className="border-t border-edge bg-wash px-2 py-1 text-xs" data-testid="drawings">
      <div className="flex flex-wrap items-center gap-1">
        <span className="font-semibold">Exposures</span>
        <span className="frame-number">
          {own && `drawing ${own.drawing + 1}: ${own.frames} of ${count(shown.length, 'frame')}`}
        </span>
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="A frame less"
          disabled={!own}
          onClick={() => held(-1)}
        >
          <Minus size={13} />
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="A frame more"
          disabled={!own}
          onClick={() => held(1)}
        >
          <Plus size={13} />
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="Swap it with the next drawing"
          disabled={!own || !next}
          onClick={() => make({ remedy: 'swap', parameters: { a: own!.from, b: next!.from } })}
        >
          <ArrowLeftRight size={13} />
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="Drop the drawing"
          disabled={!own || row.length < 2}
          onClick={() => make({ remedy: 'drop', parameters: { at: own!.from } })}
        >
          <Trash2 size={13} />
        </Button>
        {ON.map(([exposure, words]) => (
          <Button
            key={words}
            look="quiet"
            aria-label={`on ${words}`}
            className="!min-h-6 !px-1 text-xs"
            onClick={() => make({ remedy: 'trim', parameters: { exposure } })}
          >
            {exposure === 1 ? 'on ones' : words}
          </Button>
        ))}
        <Button
          look="quiet"
          className="!min-h-6 !px-1 text-xs"
          onClick={() => make({ remedy: 'reverse', parameters: {} })}
        >
          reversed
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 !px-1 text-xs"
          title="Once more backwards, without the drawing it turns round at"
          onClick={() => make({ remedy: 'mirror', parameters: {} })}
        >
          there and back
        </Button>
        <Select
          givesBack
          className="text-xs"
          label="The same drawings in the same time, at another rate"
          value=""
          options={[
            { value: '', text: 'rate' },
            ...RATES.filter((own) => own !== fps).map((own) => ({ value: String(own), text: `at ${own}` })),
          ]}
          onChange={(own) => own !== '' && make({ remedy: 'rate', parameters: { of: fps, to: Number(own) } })}
        />
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="Undo the exposure"
          disabled={before.length === 0}
          onClick={undo}
        >
          <Undo2 size={13} />
        </Button>
        <Button
          look="quiet"
          className="ml-auto !min-h-6 !px-1 text-xs"
          onClick={() => saveText(table(), `${name}-exposures.csv`)}
        >
          <Download size={12} /> CSV
        </Button>
        {source.pictures && (
          <Button
            look="quiet"
            className="!min-h-6 !px-1 text-xs"
            disabled={writing !== undefined}
            onClick={() => void takeAsClip()}
          >
            {writing ?? 'WebM'}
          </Button>
        )}
        {onKeep && recipe.length > 0 && (
          <Button
            look="instructor"
            title="Keep with a mark"
            className="!min-h-6 text-xs"
            onClick={() => onKeep(stored(recipe), mark)}
          >
            Keep
          </Button>
        )}
        <Button look="quiet" className="!min-h-6 !px-1" aria-label="As it was handed in" onClick={close}>
          <X size={13} />
        </Button>
      </div>
      {why && (
        <p role="alert" className="font-semibold">
          {why}
        </p>
      )}
      {missing.length > 0 && (
        <p data-testid="missing-drawings">
          A drawing is missing at{' '}
          {missing.map(({ label, between: [before, after] }, k) => (
            <button
              key={label}
              type="button"
              title={
                before === after ? 'Beyond the drawings there are' : `Between the drawings at ${before} and ${after}`
              }
              className="frame-number mr-1 underline-offset-2 hover:underline"
              onClick={() => clock.seek(label)}
            >
              {label}
              {k + 1 < missing.length && ','}
            </button>
          ))}
        </p>
      )}
      <DrawingBoxes
        row={row}
        at={at}
        onPick={(k) => {
          setPicked(k);
          clock.seek(row[k]!.from);
        }}
        onMove={(from, to) => {
          setPicked(to);
          const before = row[to > from ? to + 1 : to]?.from;
          make({ remedy: 'move', parameters: { at: row[from]!.from, ...(before !== undefined && { before }) } });
        }}
        onHold={(k, more) => make({ remedy: 'hold', parameters: { at: row[k]!.from, frames: more } })}
      />
    </section>
  );
}
