import { X } from 'lucide-react';
import { useState } from 'react';
import type { Tracks } from '@ypsigraph/contract/pictures';
import { Button } from '../../kit/button.tsx';
import type { Points } from './use-points.ts';

const CHOICE = 'w-full rounded-sm border border-edge-strong bg-sheet text-xs';
/** Points that each needs; a row has as many or more. */
const COUNTS = { pair: 2, shape: 4, chain: 3 } as const;
const ENDS = ['top', 'bottom', 'left', 'right'] as const;

/** What is measured between points: the distance of two, as a blink or a mouth; the height and width of a shape that four tell; a row, as a tail. */
export function MeasuredOf({ tracks, edit }: { tracks: Tracks; edit: Points['edit'] }) {
  const names = tracks.points.map(({ name }) => name);
  const [kind, setKind] = useState<keyof typeof COUNTS>();
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const count = kind === 'chain' ? Math.min(names.length, chosen.filter(Boolean).length + 1) : COUNTS[kind ?? 'pair'];
  const picked = chosen.filter(Boolean);
  const ready =
    kind === 'chain'
      ? picked.length >= COUNTS.chain && new Set(picked).size === picked.length
      : new Set(picked).size === count;
  const add = (): void => {
    edit((now) => {
      if (kind === 'chain') return { ...now, chains: [...now.chains, picked] };
      return kind === 'pair'
        ? { ...now, pairs: [...now.pairs, chosen as unknown as Tracks['pairs'][number]] }
        : { ...now, shapes: [...now.shapes, chosen as unknown as Tracks['shapes'][number]] };
    });
    setKind(undefined);
  };
  if (names.length < 2) return null;
  return (
    <div className="space-y-1 border-t border-edge pt-1.5 text-xs">
      {tracks.pairs.map((pair, k) => (
        <Line
          key={pair.join()}
          text={`distance: ${pair.join(' to ')}`}
          onDrop={() => edit((now) => ({ ...now, pairs: now.pairs.filter((_, i) => i !== k) }))}
        />
      ))}
      {tracks.shapes.map((shape, k) => (
        <Line
          key={shape.join()}
          text={`shape: ${shape.join(', ')}`}
          onDrop={() => edit((now) => ({ ...now, shapes: now.shapes.filter((_, i) => i !== k) }))}
        />
      ))}
      {tracks.chains.map((chain, k) => (
        <Line
          key={chain.join()}
          text={`row: ${chain.join(', ')}`}
          onDrop={() => edit((now) => ({ ...now, chains: now.chains.filter((_, i) => i !== k) }))}
        />
      ))}
      {kind ? (
        <div className="space-y-1">
          {Array.from({ length: count }, (_, k) => (
            <label key={k} className="block text-graphite">
              {kind === 'shape'
                ? ENDS[k]
                : kind === 'pair'
                  ? k === 0
                    ? 'from'
                    : 'to'
                  : k === 0
                    ? 'upper end'
                    : 'then'}
              <select
                className={CHOICE}
                value={chosen[k] ?? ''}
                onChange={(event) => {
                  const next = [...chosen];
                  next[k] = event.target.value;
                  setChosen(next);
                }}
              >
                <option value="">choose a point</option>
                {names.map((name) => (
                  <option key={name} value={name}>
                    {name}
                  </option>
                ))}
              </select>
            </label>
          ))}
          <Button className="!min-h-6 text-xs" disabled={!ready} onClick={add}>
            Measure it
          </Button>
          <Button look="quiet" className="!min-h-6 text-xs" onClick={() => setKind(undefined)}>
            Cancel
          </Button>
        </div>
      ) : (
        <div className="flex flex-wrap gap-1">
          <Button
            look="quiet"
            className="!min-h-6 px-1 text-xs"
            onClick={() => (setKind('pair'), setChosen(names.slice(0, 2)))}
          >
            Distance of two …
          </Button>
          {names.length >= COUNTS.chain && (
            <Button
              look="quiet"
              className="!min-h-6 px-1 text-xs"
              title="A tail, a rope, a hat: its delays and how it comes to rest"
              onClick={() => (setKind('chain'), setChosen(inARow(names)))}
            >
              A row of points …
            </Button>
          )}
          {names.length >= 4 && (
            <Button
              look="quiet"
              className="!min-h-6 px-1 text-xs"
              onClick={() => (
                setKind('shape'),
                setChosen(ENDS.map((end, k) => names.find((name) => name.toLowerCase().includes(end)) ?? names[k]!))
              )}
            >
              Stretch of a shape …
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

/** Points that are called alike, with a number behind: a row, in order. */
function inARow(names: readonly string[]): string[] {
  const rows = new Map<string, { name: string; at: number }[]>();
  for (const name of names) {
    const [, word, at] = /^(.*?)[ ._-]?(\d+)$/.exec(name) ?? [];
    if (word !== undefined) rows.set(word, [...(rows.get(word) ?? []), { name, at: Number(at) }]);
  }
  const longest = [...rows.values()].sort((a, b) => b.length - a.length)[0] ?? [];
  return longest.length >= COUNTS.chain ? longest.sort((a, b) => a.at - b.at).map(({ name }) => name) : [];
}

const Line = ({ text, onDrop }: { text: string; onDrop: () => void }) => (
  <p className="flex items-center justify-between gap-1">
    <span className="truncate">{text}</span>
    <button type="button" aria-label={`Delete: ${text}`} className="rounded-sm p-1 hover:bg-wash" onClick={onDrop}>
      <X size={11} />
    </button>
  </p>
);
