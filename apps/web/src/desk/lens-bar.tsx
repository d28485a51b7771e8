import { Crosshair, Eye, Orbit, PersonStanding } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { Hint } from '../kit/hint.tsx';
import { useDesk } from './desk-store.ts';
import type { FrameSource } from './frames/frame-source.ts';
import { LENSES } from './lenses/registry.ts';
import { preparedFor } from './paper/overlay.ts';
import type { ViewRig } from './paper/view-rig.ts';
import { TakePicture } from './take-picture.tsx';
import { viewsOf } from './views.tsx';

interface ToolProps {
  readonly text: string;
  /** In a word. */
  readonly label: string;
  readonly shortcut?: string;
  readonly on: boolean;
  readonly disabled?: boolean;
  readonly onClick: () => void;
  readonly children: ReactNode;
}

/** A square with its sign; where the window is wide its name stands beside it. */
const TOOL =
  'grid h-7 w-7 shrink-0 place-items-center rounded-md border min-[1600px]:flex min-[1600px]:w-full min-[1600px]:items-center min-[1600px]:gap-2 min-[1600px]:px-1.5';

const Label = ({ text }: { text: string }) => (
  <span className="hidden text-xs first-letter:uppercase min-[1600px]:inline-block">{text}</span>
);

function Tool({ text, label, shortcut, on, disabled = false, onClick, children }: ToolProps) {
  return (
    <Hint
      text={disabled ? `${text}: nothing of it is in this shot` : text}
      {...(shortcut && { shortcut })}
      side="right"
    >
      <button
        type="button"
        aria-label={text}
        aria-pressed={on}
        aria-disabled={disabled}
        onClick={() => !disabled && onClick()}
        className={`${TOOL} ${on ? 'border-ink bg-wash' : 'border-transparent hover:bg-wash'} ${disabled ? 'cursor-not-allowed opacity-40' : ''}`}
      >
        {children}
        <Label text={label} />
      </button>
    </Hint>
  );
}

interface LensBarProps {
  readonly source: FrameSource;
  readonly rig: ViewRig;
  readonly canPlace: boolean;
  /** What the shot's file is called, without its ending. */
  readonly name: string;
}

/** The column left of the paper: from where it is seen, and what is laid over it. */
export function LensBar({ source, rig, canPlace, name }: LensBarProps) {
  const desk = useDesk();
  const { view, lenses, toggleLens } = desk;
  return (
    <nav
      aria-label="View and lenses"
      className="flex w-10 shrink-0 flex-col items-center min-[1600px]:w-36 min-[1600px]:items-stretch min-[1600px]:px-1.5 gap-px overflow-y-auto border-r border-edge bg-paper py-1.5 max-md:w-full max-md:flex-row max-md:overflow-x-auto max-md:border-b max-md:px-2 max-md:py-1"
    >
      {viewsOf(source).map(({ id, key, icon, text, on, act }) => (
        <Tool key={id} text={text} label={id.replace('-', ' ')} shortcut={key} on={on(desk)} onClick={() => act(rig)}>
          {icon}
        </Tool>
      ))}
      {!source.flat && !source.figure?.shown.isFlat && (
        <Hint text="Drag on the paper turns the view freely" side="right">
          <span
            className={`${TOOL} ${view === 'free' ? 'border-ink bg-wash' : 'border-transparent text-graphite-soft'}`}
          >
            <Orbit size={16} aria-label={view === 'free' ? 'Free view' : 'Free view: drag on the paper'} />
            <Label text="free" />
          </span>
        </Hint>
      )}
      <span className="my-1 h-px w-6 shrink-0 bg-edge-strong max-md:h-6 max-md:w-px" />
      {LENSES.map((lens) => (
        <Tool
          key={lens.id}
          text={lens.name}
          label={lens.id}
          shortcut={lens.key}
          on={lenses.has(lens.id)}
          disabled={lenses.has(lens.id) ? false : preparedFor(source, lens.id) === undefined}
          onClick={() => toggleLens(lens.id)}
        >
          <lens.icon size={16} />
        </Tool>
      ))}
      {canPlace && (
        <Tool
          text="Points on the pictures: place them, follow them"
          label="points"
          shortcut="shift p"
          on={desk.placesPoints}
          onClick={() => desk.set({ placesPoints: !desk.placesPoints, placing: null, drawsGround: false })}
        >
          <Crosshair size={16} />
        </Tool>
      )}
      <Parts source={source} />
      <TakePicture name={name} className={`${TOOL} border-transparent hover:bg-wash`} />
    </nav>
  );
}

/** Which parts are drawn: each hidden by itself, or all but one. */
function Parts({ source }: { source: FrameSource }) {
  const hidden = useDesk((state) => state.hidden);
  const solo = useDesk((state) => state.solo);
  const { togglePart, set } = useDesk.getState();
  const plainFigure = useDesk((state) => state.plainFigure);
  const { shape, drawn } = source.figure?.shown.played.motion ?? {};
  const hasCharacter = (shape ?? drawn) !== undefined;
  const on = hidden.size > 0 || solo !== null || (hasCharacter && plainFigure);
  return (
    <DropdownMenu.Root modal={false}>
      <Hint text="Hide parts, or look at one alone" side="right">
        <DropdownMenu.Trigger
          aria-label="Hide parts"
          className={`${TOOL} ${on ? 'border-ink bg-wash' : 'border-transparent hover:bg-wash'}`}
        >
          <PersonStanding size={16} />
          <Label text="parts" />
        </DropdownMenu.Trigger>
      </Hint>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side="right"
          align="start"
          className="z-50 rounded-md border border-edge-strong bg-sheet p-1 shadow-[0_6px_20px_rgb(var(--shadow)/0.2)]"
        >
          {hasCharacter && (
            <PartItem
              checked={!plainFigure}
              onChange={(checked) => set({ plainFigure: !checked })}
              text="the student’s own character"
            />
          )}
          {source.parts.map((part) => (
            <PartItem
              key={part}
              checked={solo === null ? !hidden.has(part) : solo === part}
              onChange={() => (solo === null ? togglePart(part) : set({ solo: null }))}
              text={partLabel(part)}
            />
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

interface PartItemProps {
  readonly checked: boolean;
  readonly onChange: (checked: boolean) => void;
  readonly text: string;
}

function PartItem({ checked, onChange, text }: PartItemProps) {
  return (
    <DropdownMenu.CheckboxItem
      checked={checked}
      onCheckedChange={onChange}
      onSelect={(event) => event.preventDefault()}
      className="flex items-center gap-2 rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash"
    >
      <span className="w-4">
        <DropdownMenu.ItemIndicator>
          <Eye size={13} />
        </DropdownMenu.ItemIndicator>
      </span>
      {text}
    </DropdownMenu.CheckboxItem>
  );
}
