import type { AnyLane } from '../lanes/lane.ts';
import { Check, ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { SIGNALS } from '../frames/frame-source.ts';
import { BAND_HEIGHT, bandNames } from '../lanes/weave-lane.ts';
import { useDesk } from '../desk-store.ts';
import { RULER } from './ruler.tsx';

/** A lane that the shot has something for, with its place. */
export interface PlacedLane {
  readonly lane: AnyLane;
  readonly prepared: unknown;
  readonly top: number;
  readonly height: number;
  readonly folded: boolean;
}

interface Props {
  readonly lanes: readonly PlacedLane[];
  /** Points that the trace may tell the distance to. */
  readonly points: readonly string[];
  /** Signals of the shot's own that the trace can show. */
  readonly ownSignals: readonly string[];
  readonly kind: string;
  readonly markRows: number;
  readonly width: number;
}

/** The column beside the lanes: what each is called. The menu above folds them away; the choice is kept for each kind of exercise. */
export function Names({ lanes, points, ownSignals, kind, markRows, width }: Props) {
  return (
    <div className="relative shrink-0 border-r border-edge text-2xs text-graphite" style={{ width }}>
      <div className="flex items-center justify-end pr-1" style={{ height: RULER }}>
        <LanesMenu lanes={lanes} kind={kind} />
      </div>
      <div className="pr-2 text-right" style={{ height: markRows, lineHeight: `${Math.min(20, markRows)}px` }}>
        marks
      </div>
      {lanes.map(({ lane, top, height, folded, prepared }) => (
        <div
          key={lane.id}
          className="absolute right-2 left-1 text-right"
          style={{ top: RULER + markRows + top, height }}
          title={`${lane.name}: ${lane.legend}`}
        >
          {folded ? null : lane.id === 'weave' ? (
            bandNames(prepared as Parameters<typeof bandNames>[0]).map((name) => (
              <div
                key={name}
                className="truncate text-[10px]"
                style={{ height: BAND_HEIGHT, lineHeight: `${BAND_HEIGHT}px` }}
              >
                {name}
              </div>
            ))
          ) : lane.id === 'trace' ? (
            <Signals points={points} ownSignals={ownSignals} />
          ) : (
            <span className="leading-4">{lane.name}</span>
          )}
        </div>
      ))}
    </div>
  );
}

const ITEM = 'flex items-center gap-2 rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash';

function LanesMenu({ lanes, kind }: { lanes: readonly PlacedLane[]; kind: string }) {
  const weaveBy = useDesk((state) => state.weaveBy);
  const { toggleLane, set } = useDesk.getState();
  const tick = (
    <span className="w-4">
      <DropdownMenu.ItemIndicator>
        <Check size={13} />
      </DropdownMenu.ItemIndicator>
    </span>
  );
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label="Lanes"
        className="inline-flex h-5 items-center gap-0.5 rounded-sm px-1 hover:bg-wash"
      >
        lanes <ChevronDown size={10} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side="top"
          align="start"
          className="z-50 max-w-96 rounded-md border border-edge-strong bg-sheet p-1 shadow-[0_6px_20px_rgb(var(--shadow)/0.2)]"
        >
          {lanes.map(({ lane, folded }) => (
            <DropdownMenu.CheckboxItem
              key={lane.id}
              checked={!folded}
              onCheckedChange={() => toggleLane(kind, lane.id)}
              onSelect={(event) => event.preventDefault()}
              className={ITEM}
            >
              {tick}
              <span>
                {lane.name} <span className="text-xs text-graphite">{lane.legend}</span>
              </span>
            </DropdownMenu.CheckboxItem>
          ))}
          <DropdownMenu.Separator className="my-1 h-px bg-edge" />
          <DropdownMenu.CheckboxItem
            checked={weaveBy === 'start'}
            onCheckedChange={(on) => set({ weaveBy: on ? 'start' : 'part' })}
            onSelect={(event) => event.preventDefault()}
            className={ITEM}
          >
            {tick}
            weave sorted by what starts first
          </DropdownMenu.CheckboxItem>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

const SIGNAL_CHOICE = 'absolute right-0 h-6 w-[4.9rem] rounded-sm border border-edge-strong bg-sheet text-2xs';

function Signals({ points, ownSignals }: Pick<Props, 'points' | 'ownSignals'>) {
  const trace = useDesk((state) => state.trace);
  const traceTo = useDesk((state) => state.traceTo);
  const { set } = useDesk.getState();
  return (
    <>
      <select
        aria-label="Signal of the trace"
        className={`${SIGNAL_CHOICE} top-0.5`}
        value={[...SIGNALS, ...ownSignals].includes(trace) ? trace : 'speed'}
        onChange={(event) => set({ trace: event.target.value })}
      >
        {[...SIGNALS, ...ownSignals].map((name) => (
          <option key={name} value={name}>
            {name}
          </option>
        ))}
      </select>
      {trace === 'distance' && (
        <select
          aria-label="Point the distance is told to"
          className={`${SIGNAL_CHOICE} top-[1.8rem]`}
          value={traceTo !== null && points.includes(traceTo) ? traceTo : ''}
          onChange={(event) => set({ traceTo: event.target.value || null })}
        >
          <option value="">to the hips</option>
          {points.map((name) => (
            <option key={name} value={name}>
              to {name}
            </option>
          ))}
        </select>
      )}
    </>
  );
}
