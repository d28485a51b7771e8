import { ArrowLeftToLine, ArrowRightToLine, Square, Trash2, Undo2, X } from 'lucide-react';
import { useState } from 'react';
import { FIGURE_ROLES } from '@ypsigraph/core/motion/role';
import { pointTracks } from '@ypsigraph/core/track/picture-shot';
import { knownShare } from '@ypsigraph/core/motion/point-tracks';
import { MOST_POINTS, type Tracks } from '@ypsigraph/contract/pictures';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { Hint } from '../../kit/hint.tsx';
import { useDesk } from '../desk-store.ts';
import { useClockValue } from '../frames/frame-clock.ts';
import { addPoint, dropPoint, liftPoint, placeOf } from './edit-points.ts';
import { Drawings } from './drawings-fold.tsx';
import { MeasuredOf } from './measured-of.tsx';
import type { PlacedSource } from '../frames/frame-source.ts';
import { Tables } from './points-tables.tsx';
import type { Following } from './use-follow.ts';
import type { Points } from './use-points.ts';

/** Names that mean something to what is measured, as people say them. */
const NAMES = [
  'hips',
  'chest',
  'head',
  'nose',
  ...(['L', 'R'] as const).flatMap((side) =>
    ['shoulder', 'elbow', 'hand', 'knee', 'ankle', 'toe'].map((name) => `${name}.${side}`),
  ),
  ...FIGURE_ROLES.filter((role) => role === 'neck' || role === 'spine'),
  'tip of the hat',
];

const STEPS: readonly (readonly [number, string])[] = [
  [1, 'the next frame'],
  [2, 'two frames on'],
  [4, 'four frames on'],
  [0, 'stay'],
];

interface Props {
  readonly source: PlacedSource;
  readonly points: Points;
  readonly following: Following;
  readonly onClose: () => void;
  readonly fileName: string;
}

/** Points on the pictures: named, placed, followed; what is measured between them; the ground, the camera, the exposures; in and out as tables. */
export function PointsPanel({ source, points, following, onClose, fileName }: Props) {
  const { tracks, edit, undo, canUndo, state, settle } = points;
  const placing = useDesk((desk) => desk.placing);
  const stepAfter = useDesk((desk) => desk.stepAfter);
  const drawsGround = useDesk((desk) => desk.drawsGround);
  const { set } = useDesk.getState();
  const choose = (name: string | null): void => set({ placing: name, ...(name !== null && { point: name }) });
  const chosen = tracks.points.find(({ name }) => name === placing);
  return (
    <aside
      aria-label="Points on the pictures"
      className="flex w-56 shrink-0 flex-col gap-1.5 overflow-y-auto border-r border-edge bg-paper p-2 text-sm"
      data-testid="points-panel"
    >
      <div className="flex items-center justify-between">
        <h2 className="text-base">Points</h2>
        <span className="flex items-center gap-0.5">
          <Hint text="Undo">
            <Button look="quiet" aria-label="Undo" className="!px-1" disabled={!canUndo} onClick={undo}>
              <Undo2 size={14} />
            </Button>
          </Hint>
          <Button look="quiet" aria-label="Close" className="!px-1" onClick={onClose}>
            <X size={14} />
          </Button>
        </span>
      </div>
      <p className="text-2xs text-graphite" role="status">
        {state}
      </p>
      {state === 'changed by somebody else' && (
        <div className="flex gap-1">
          <Button className="!min-h-6 text-xs" onClick={() => settle('theirs')}>
            Use theirs
          </Button>
          <Button className="!min-h-6 text-xs" onClick={() => settle('mine')}>
            Keep mine
          </Button>
        </div>
      )}
      <NewPoint tracks={tracks} onName={(name) => (edit((now) => addPoint(now, name)), choose(name))} />
      {tracks.points.length === 0 && (
        <p className="text-xs text-graphite">
          Name a point, as hips, ankle.L or tip of the hat, and click where it is: what it does is then measured. One
          named as a part of the body is that part; of two characters say whose it is: pilot: hips, keeper: hips.
        </p>
      )}
      <ul className="space-y-px">
        {tracks.points.map((point) => (
          <li key={point.name}>
            <button
              type="button"
              aria-pressed={point.name === placing}
              onClick={() => choose(point.name === placing ? null : point.name)}
              className={`flex w-full items-center justify-between rounded-md border px-1.5 py-0.5 text-left ${point.name === placing ? 'border-ink bg-sheet' : 'border-transparent hover:bg-wash'}`}
            >
              <span className="truncate">{point.name}</span>
              <Known point={point} source={source} />
            </button>
          </li>
        ))}
      </ul>
      {chosen && (
        <Chosen
          key={chosen.name}
          name={chosen.name}
          source={source}
          points={points}
          following={following}
          onDropped={() => choose(null)}
        />
      )}
      <label className="text-xs text-graphite">
        after a click:{' '}
        <select
          className="rounded-sm border border-edge-strong bg-sheet"
          value={stepAfter}
          onChange={(event) => set({ stepAfter: Number(event.target.value) })}
        >
          {STEPS.map(([value, text]) => (
            <option key={value} value={value}>
              {text}
            </option>
          ))}
        </select>
      </label>
      <div className="flex flex-wrap items-center gap-1 border-t border-edge pt-1.5 text-xs">
        <Button
          look="quiet"
          on={drawsGround}
          className="!min-h-6 px-1.5 text-xs"
          title="Drag along the ground on the picture; a click is a level line"
          onClick={() => set({ drawsGround: !drawsGround })}
        >
          {tracks.ground ? 'Draw the ground anew' : 'Draw the ground'}
        </Button>
        {tracks.ground && (
          <Button
            look="quiet"
            className="!min-h-6 px-1 text-xs"
            onClick={() => edit((now) => ({ ...now, ground: null }))}
          >
            none
          </Button>
        )}
      </div>
      <MeasuredOf tracks={tracks} edit={edit} />
      <Drawings source={source} points={points} />
      <Tables source={source} points={points} fileName={fileName} />
    </aside>
  );
}

function NewPoint({ tracks, onName }: { tracks: Tracks; onName: (name: string) => void }) {
  const [name, setName] = useState('');
  const taken = new Set(tracks.points.map((point) => point.name));
  const own = name.trim();
  return (
    <form
      className="flex gap-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (own === '' || taken.has(own) || tracks.points.length >= MOST_POINTS) return;
        onName(own);
        setName('');
      }}
    >
      <input
        aria-label="Name of a new point"
        className={`${INPUT} !min-h-7 min-w-0 flex-1`}
        placeholder="name of a point"
        list="point-names"
        maxLength={80}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <datalist id="point-names">
        {NAMES.filter((role) => !taken.has(role)).map((role) => (
          <option key={role} value={role} />
        ))}
      </datalist>
      <Button type="submit" className="!min-h-7" disabled={own === '' || taken.has(own)}>
        Add
      </Button>
    </form>
  );
}

/** Share of the frames at which a point is known. */
function Known({ point, source }: { point: Tracks['points'][number]; source: PlacedSource }) {
  const [track] = pointTracks(factsOf(source), [point], 1).points;
  return <span className="frame-number text-2xs text-graphite">{Math.round(100 * knownShare(track!))} %</span>;
}

const factsOf = ({ pictures: { facts }, frames, fps }: PlacedSource) => ({ ...facts, frames, fps });

interface ChosenProps {
  readonly name: string;
  readonly source: PlacedSource;
  readonly points: Points;
  readonly following: Following;
  readonly onDropped: () => void;
}

function Chosen({ name, source, points: { tracks, edit }, following, onDropped }: ChosenProps) {
  const frame = useClockValue((state) => state.frame);
  const point = tracks.points.find((own) => own.name === name)!;
  const at = placeOf(point, source.sampleAt(frame));
  const still = tracks.still.includes(name);
  const { busy, follow, stop } = following;
  return (
    <div className="space-y-1 border-l-2 border-edge-strong pl-1.5" data-testid="chosen-point">
      <p className="text-xs text-graphite" data-testid="point-here">
        {at
          ? at.how === 'placed'
            ? 'placed by hand here'
            : at.how === 'followed'
              ? `followed here, ${Math.round(100 * at.confidence)} % sure`
              : 'between two places here'
          : 'not known here: click where it is'}
      </p>
      {busy === name ? (
        <Button className="!min-h-7 text-xs" onClick={stop}>
          <Square size={12} /> Stop
        </Button>
      ) : (
        <div className="flex flex-wrap gap-1">
          <Button
            className="!min-h-7 px-1.5 text-xs"
            disabled={busy !== undefined}
            onClick={() => follow(name, -1)}
            title="Follow it from here back"
          >
            <ArrowLeftToLine size={13} /> Follow back
          </Button>
          <Button
            className="!min-h-7 px-1.5 text-xs"
            disabled={busy !== undefined}
            onClick={() => follow(name, 1)}
            title="Follow it from here on"
          >
            Follow on <ArrowRightToLine size={13} />
          </Button>
        </div>
      )}
      <div className="flex flex-wrap items-center gap-1 text-xs">
        <Button
          look="quiet"
          className="!min-h-6 px-1 text-xs"
          disabled={!at || at.how === 'between'}
          onClick={() => edit((now) => liftPoint(now, name, source.sampleAt(frame)))}
        >
          Remove here
        </Button>
        <Button
          look="quiet"
          className="!min-h-6 px-1 text-xs"
          aria-label={`Delete ${name}`}
          onClick={() => (edit((now) => dropPoint(now, name)), onDropped())}
        >
          <Trash2 size={12} /> away
        </Button>
      </div>
      <label className="flex items-center gap-1.5 text-xs" title="Shows how the camera moves; that is taken out">
        <input
          type="checkbox"
          checked={still}
          onChange={() =>
            edit((now) => ({ ...now, still: still ? now.still.filter((own) => own !== name) : [...now.still, name] }))
          }
        />
        stands still in the world
      </label>
    </div>
  );
}
