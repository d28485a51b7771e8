import { ArrowLeftRight, Download, Minus, Plus, Trash2, Undo2, X } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { Step } from '@ypsigraph/core/remedy/remedy';
import { stored } from '@ypsigraph/core/remedy/stored-recipe';
import { count } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';
import { saveText } from '../../kit/save-text.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import { useDrawings } from './drawings-store.ts';

interface Props {
  readonly source: FrameSource;
  readonly fileName: string;
  /** Keeps the exposures with a mark; left out where nothing can be marked. */
  readonly onKeep: ((cure: StoredRecipe, mark: string | undefined) => void) | undefined;
}

/** A drawing as it stands in the row. */
interface Standing {
  readonly drawing: number;
  readonly from: number;
  readonly frames: number;
}

function standings(shown: readonly number[], first: number): Standing[] {
  const all: Standing[] = [];
  shown.forEach((drawing, f) => {
    const last = all.at(-1);
    if (last?.drawing === drawing) all[all.length - 1] = { ...last, frames: last.frames + 1 };
    else all.push({ drawing, from: first + f, frames: 1 });
  });
  return all;
}

const ON = [
  [1, 'ones'],
  [2, 'twos'],
  [3, 'threes'],
] as const;

/** The drawings of a clip in a row, a box each, as wide as it stands long: held longer or shorter, dropped, swapped, put on twos; played so at once. */
export function DrawingsRow({ source, fileName, onKeep }: Props) {
  const { recipe, before, shown, why, mark } = useDrawings();
  const { change, undo, close } = useDrawings.getState();
  const clock = useClock();
  const frame = useClockValue((state) => state.frame);
  const row = useMemo(() => standings(shown, source.first), [shown, source.first]);
  const here = row.findIndex(({ from, frames }) => frame >= from && frame < from + frames);
  const [picked, setPicked] = useState<number>();
  // Another clip on the desk: its drawings stand as they were handed in.
  useEffect(() => () => useDrawings.getState().close(), [source]);
  const at = picked !== undefined && picked < row.length ? picked : here;
  const own = row[at];
  const make = (step: Step): void => change([...recipe, step]);
  const held = (frames: number): void => make({ remedy: 'hold', parameters: { at: own!.from, frames } });
  const next = row[at + 1];
  const table = (): string =>
    `frame,drawing\n${shown.map((drawing, f) => `${source.first + f},${drawing + 1}\n`).join('')}`;
  return (
    <section aria-label="Exposures" className="border-t border-edge bg-wash px-2 py-1 text-xs" data-testid="drawings">
      <div className="flex flex-wrap items-center gap-1">
        <span className="mr-1 font-semibold">Exposures</span>
        <span className="frame-number mr-2">{own && `drawing ${own.drawing + 1}: ${count(own.frames, 'frame')}`}</span>
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
            className="!min-h-6 !px-1.5 text-xs"
            onClick={() => make({ remedy: 'trim', parameters: { exposure } })}
          >
            on {words}
          </Button>
        ))}
        <Button
          look="quiet"
          className="!min-h-6 !px-1.5 text-xs"
          onClick={() => make({ remedy: 'reverse', parameters: {} })}
        >
          reversed
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 !px-1"
          aria-label="Undo the exposure"
          disabled={before.length === 0}
          onClick={undo}
        >
          <Undo2 size={13} />
        </Button>
        <span className="ml-auto text-graphite">{count(shown.length, 'frame')}</span>
        <Button
          look="quiet"
          className="!min-h-6 !px-1.5 text-xs"
          onClick={() => saveText(table(), `${fileName.replace(/\.[^.]*$/, '')}-exposures.csv`)}
        >
          <Download size={12} /> CSV
        </Button>
        {onKeep && recipe.length > 0 && (
          <Button look="instructor" className="!min-h-6 text-xs" onClick={() => onKeep(stored(recipe), mark)}>
            Keep with a mark
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
      <ol className="mt-0.5 flex overflow-x-auto">
        {row.map(({ drawing, from, frames }, k) => (
          <li key={from} style={{ flex: `${frames} 0 ${frames}rem` }} className="min-w-4">
            <button
              type="button"
              aria-label={`Drawing ${drawing + 1}, ${count(frames, 'frame')} from ${from}`}
              aria-pressed={k === at}
              className={`frame-number w-full border border-edge-strong py-0.5 text-2xs ${k === at ? 'bg-ink text-sheet' : 'bg-sheet hover:bg-wash'}`}
              onClick={() => {
                setPicked(k);
                clock.seek(from);
              }}
            >
              {drawing + 1}
            </button>
          </li>
        ))}
      </ol>
    </section>
  );
}
