import { Check, ChevronDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { type Choice, choose, useChoice } from '../choice.ts';
import { useDesk } from '../desk-store.ts';
import type { FrameSource } from '../frames/frame-source.ts';
import type { AnyLane } from '../lanes/lane.ts';
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
  readonly source: FrameSource;
  readonly kind: string;
  readonly markRows: number;
  readonly cureRows: number;
  readonly width: number;
}

/** The column beside the lanes: what each is called. The menu above folds them away; the choice is kept for each kind of exercise. */
export function Names({ lanes, source, kind, markRows, cureRows, width }: Props) {
  return (
    <div className="relative shrink-0 border-r border-edge text-2xs text-graphite" style={{ width }}>
      <div className="flex items-center justify-end pr-1" style={{ height: RULER }}>
        <LanesMenu lanes={lanes} source={source} kind={kind} />
      </div>
      <div className="pr-2 text-right" style={{ height: markRows, lineHeight: `${Math.min(20, markRows)}px` }}>
        marks
      </div>
      {cureRows > 0 && (
        <div className="pr-2 text-right" style={{ height: cureRows, lineHeight: '15px' }}>
          cure
        </div>
      )}
      {lanes.map(({ lane, top, height, folded, prepared }) => (
        <div
          key={lane.id}
          className="absolute right-2 left-1 text-right"
          style={{ top: RULER + markRows + cureRows + top, height }}
          title={`${lane.name}: ${lane.legend}`}
        >
          {!folded && <LaneName lane={lane} prepared={prepared} source={source} />}
        </div>
      ))}
    </div>
  );
}

/** What a lane is called: by its name, by the names of its rows, or by what is chosen to be shown. */
function LaneName({ lane, prepared, source }: Pick<PlacedLane, 'lane' | 'prepared'> & { source: FrameSource }) {
  const desk = useDesk();
  const { rows, namedBy } = lane;
  if (rows) {
    const { names, height } = rows(prepared);
    return names.map((name) => (
      <div key={name} className="truncate text-[10px]" style={{ height, lineHeight: `${height}px` }}>
        {name}
      </div>
    ));
  }
  if (!namedBy) return <span className="leading-4">{lane.name}</span>;
  return namedBy
    .filter(({ offered }) => offered?.(source, desk) ?? true)
    .map((own, k) => <NamingChoice key={own.id} own={own} source={source} row={k} />);
}

/** Height of a choice that stands for a lane's name, with the gap to the next. */
const CHOICE = 27;

function NamingChoice({ own, source, row }: { own: Choice; source: FrameSource; row: number }) {
  const chosen = useChoice(own);
  const options = own.options(source);
  return (
    <select
      aria-label={own.label}
      className="absolute right-0 h-6 w-[4.9rem] rounded-sm border border-edge-strong bg-sheet text-2xs"
      style={{ top: 2 + CHOICE * row }}
      value={options.some(({ value }) => value === chosen) ? chosen : own.first}
      onChange={(event) => choose(own, event.target.value)}
    >
      {options.map(({ value, text }) => (
        <option key={value} value={value}>
          {text}
        </option>
      ))}
    </select>
  );
}

const ITEM = 'flex items-center gap-2 rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash';

function LanesMenu({ lanes, source, kind }: Pick<Props, 'lanes' | 'source' | 'kind'>) {
  const { toggleLane } = useDesk.getState();
  const choices = lanes.flatMap(({ lane }) => lane.choices ?? []);
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
          {choices.map((own) => (
            <ChoiceItems key={own.id} own={own} source={source} tick={tick} />
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function ChoiceItems({ own, source, tick }: { own: Choice; source: FrameSource; tick: ReactNode }) {
  return (
    <>
      <DropdownMenu.Separator className="my-1 h-px bg-edge" />
      <DropdownMenu.RadioGroup
        aria-label={own.label}
        value={useChoice(own)}
        onValueChange={(value) => choose(own, value)}
      >
        {own.options(source).map(({ value, text }) => (
          <DropdownMenu.RadioItem
            key={value}
            value={value}
            onSelect={(event) => event.preventDefault()}
            className={ITEM}
          >
            {tick}
            {text}
          </DropdownMenu.RadioItem>
        ))}
      </DropdownMenu.RadioGroup>
    </>
  );
}
