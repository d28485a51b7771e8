import { ChevronDown, ChevronRight } from 'lucide-react';
import { BAND_HEIGHT, bandNames } from '../lanes/weave-lane.ts';
import { SIGNALS, type SignalName } from '../frames/frame-source.ts';
import { useDesk } from '../desk-store.ts';
import { RULER } from './ruler.tsx';
import type { PlacedLane } from './strip.tsx';

interface Props {
  readonly lanes: readonly PlacedLane[];
  readonly kind: string;
  readonly markRows: number;
  readonly width: number;
}

/** The column beside the lanes: what each is called. A click folds it; the weave names its bands, the trace its signal. */
export function Names({ lanes, kind, markRows, width }: Props) {
  const { toggleLane } = useDesk.getState();
  return (
    <div className="relative shrink-0 border-r border-edge text-2xs text-graphite" style={{ width }}>
      <div className="pr-2 text-right" style={{ height: RULER, lineHeight: `${RULER}px` }}>
        frame
      </div>
      <div className="pr-2 text-right" style={{ height: markRows, lineHeight: `${Math.min(20, markRows)}px` }}>
        marks
      </div>
      {lanes.map(({ lane, top, height, folded, prepared }) => (
        <div key={lane.id} className="absolute right-0 left-0" style={{ top: RULER + markRows + top, height }}>
          <button
            type="button"
            aria-expanded={!folded}
            aria-label={`${folded ? 'Unfold' : 'Fold'} ${lane.name}`}
            title={`${lane.name}: ${lane.legend}`}
            onClick={() => toggleLane(kind, lane.id)}
            className={`absolute left-0.5 grid place-items-center rounded-sm hover:bg-wash ${folded ? '-top-1.5 size-4' : 'top-0 size-4'}`}
          >
            {folded ? <ChevronRight size={10} /> : <ChevronDown size={10} />}
          </button>
          {!folded && lane.id === 'weave' ? (
            <Bands names={bandNames(prepared as Parameters<typeof bandNames>[0])} />
          ) : !folded && lane.id === 'trace' ? (
            <Signals />
          ) : (
            <span
              className={`absolute right-2 ${folded ? 'text-[8px] leading-[6px]' : 'leading-4'}`}
              title={lane.legend}
            >
              {lane.name}
            </span>
          )}
        </div>
      ))}
    </div>
  );
}

function Bands({ names }: { names: readonly string[] }) {
  const weaveBy = useDesk((state) => state.weaveBy);
  return (
    <div className="absolute right-2 left-5 text-right">
      {names.map((name, k) => (
        <div key={name} className="truncate" style={{ height: BAND_HEIGHT, lineHeight: `${BAND_HEIGHT}px` }}>
          {k === 0 ? (
            <button
              type="button"
              className="underline decoration-dotted"
              title={
                weaveBy === 'part'
                  ? 'Sorted by part; click to sort by what starts first'
                  : 'Sorted by what starts first; click to sort by part'
              }
              onClick={() => useDesk.getState().set({ weaveBy: weaveBy === 'part' ? 'start' : 'part' })}
            >
              {name}
            </button>
          ) : (
            name
          )}
        </div>
      ))}
    </div>
  );
}

function Signals() {
  const trace = useDesk((state) => state.trace);
  return (
    <select
      aria-label="Signal of the trace"
      className="absolute top-0.5 right-1 w-[4.6rem] rounded-sm border border-edge-strong bg-sheet text-2xs"
      value={trace}
      onChange={(event) => useDesk.getState().set({ trace: event.target.value as SignalName })}
    >
      {SIGNALS.map((name) => (
        <option key={name} value={name}>
          {name}
        </option>
      ))}
    </select>
  );
}
