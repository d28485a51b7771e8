import {
  ArrowLeftRight,
  Box,
  Contrast,
  Eye,
  Footprints,
  Orbit,
  PersonStanding,
  Spline,
  SquareArrowDown,
  SquareUser,
} from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import type { ReactNode } from 'react';
import { jointParts } from '@ypsigraph/core/measure/parts';
import { Hint } from '../kit/hint.tsx';
import { useDesk } from './desk-store.ts';
import type { MotionSource } from './frames/motion-source.ts';
import type { View, ViewRig } from './paper/view-rig.ts';

const VIEWS: readonly { view: Exclude<View, 'free'>; key: string; icon: ReactNode; text: string }[] = [
  { view: 'side', key: 'a', icon: <ArrowLeftRight size={16} />, text: 'From the side' },
  { view: 'front', key: 's', icon: <SquareUser size={16} />, text: 'From the front' },
  { view: 'above', key: 'd', icon: <SquareArrowDown size={16} />, text: 'From above' },
  { view: 'three-quarter', key: 'f', icon: <Box size={16} />, text: 'Three-quarter' },
];

function Tool({
  text,
  shortcut,
  on,
  onClick,
  children,
}: {
  text: string;
  shortcut?: string;
  on: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <Hint text={text} {...(shortcut && { shortcut })} side="right">
      <button
        type="button"
        aria-label={text}
        aria-pressed={on}
        onClick={onClick}
        className={`grid size-8 place-items-center rounded-md border ${on ? 'border-ink bg-wash' : 'border-transparent hover:bg-wash'}`}
      >
        {children}
      </button>
    </Hint>
  );
}

/** The column left of the paper: from where it is seen, and what is laid over it. */
export function LensBar({ source, rig }: { source: MotionSource; rig: ViewRig }) {
  const { view, path, ride, silhouette, hidden, set, togglePart } = useDesk();
  const parts = [...new Set(jointParts(source.shot))];
  return (
    <nav
      aria-label="View and lenses"
      className="flex w-11 shrink-0 flex-col items-center gap-0.5 border-r border-edge bg-paper py-2 max-md:w-full max-md:flex-row max-md:border-b max-md:px-2 max-md:py-1"
    >
      {VIEWS.map(({ view: name, key, icon, text }) => (
        <Tool
          key={name}
          text={text}
          shortcut={key}
          on={view === name}
          onClick={() => {
            rig.look(name);
            set({ view: name });
          }}
        >
          {icon}
        </Tool>
      ))}
      <Hint text="Drag on the paper turns the view freely" side="right">
        <span
          className={`grid size-8 place-items-center rounded-md border ${view === 'free' ? 'border-ink bg-wash' : 'border-transparent text-graphite-soft'}`}
        >
          <Orbit size={16} aria-label={view === 'free' ? 'Free view' : 'Free view: drag on the paper'} />
        </span>
      </Hint>
      <span className="my-1.5 h-px w-6 bg-edge-strong" />
      <Tool text="Path of the chosen joint" shortcut="e" on={path} onClick={() => set({ path: !path })}>
        <Spline size={16} />
      </Tool>
      <Tool
        text="Ride on the hips: see the motion on the spot"
        shortcut="h"
        on={ride}
        onClick={() => set({ ride: !ride })}
      >
        <Footprints size={16} />
      </Tool>
      <Tool text="Silhouette only" shortcut="x" on={silhouette} onClick={() => set({ silhouette: !silhouette })}>
        <Contrast size={16} />
      </Tool>
      <DropdownMenu.Root>
        <Hint text="Hide parts" side="right">
          <DropdownMenu.Trigger
            aria-label="Hide parts"
            className={`grid size-8 place-items-center rounded-md border ${hidden.size > 0 ? 'border-ink bg-wash' : 'border-transparent hover:bg-wash'}`}
          >
            <PersonStanding size={16} />
          </DropdownMenu.Trigger>
        </Hint>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            side="right"
            align="start"
            className="z-50 rounded-md border border-edge-strong bg-sheet p-1 shadow-[0_6px_20px_rgb(var(--shadow)/0.2)]"
          >
            {parts.map((part) => (
              <DropdownMenu.CheckboxItem
                key={part}
                checked={!hidden.has(part)}
                onCheckedChange={() => togglePart(part)}
                onSelect={(event) => event.preventDefault()}
                className="flex items-center gap-2 rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash"
              >
                <span className="w-4">
                  <DropdownMenu.ItemIndicator>
                    <Eye size={13} />
                  </DropdownMenu.ItemIndicator>
                </span>
                {part.replace(/^chain:/, '')}
              </DropdownMenu.CheckboxItem>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </nav>
  );
}
