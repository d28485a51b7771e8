import { useEffect } from 'react';
import type { Mark } from '@ypsigraph/contract/shots';
import { Dialog } from '../kit/dialog.tsx';
import { useDesk } from './desk-store.ts';
import type { FrameClock } from './frames/frame-clock.ts';
import { KINDS } from './margin/kinds.tsx';
import type { View, ViewRig } from './paper/view-rig.ts';

const VIEW_KEYS: Readonly<Record<string, Exclude<View, 'free'>>> = {
  a: 'side',
  s: 'front',
  d: 'above',
  f: 'three-quarter',
};

interface Options {
  readonly clock: FrameClock;
  readonly rig: ViewRig;
  readonly marks: readonly Mark[];
  readonly canMark: boolean;
  readonly onCompare: () => void;
  readonly onHelp: () => void;
}

/** The desk's keys: left hand on views and lenses, right hand on frames. They are off while something is being typed. */
export function useDeskKeys({ clock, rig, marks, canMark, onCompare, onHelp }: Options): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      const target = event.target as HTMLElement;
      if (target.closest('input, textarea, [role="dialog"], [role="listbox"], [role="menu"]')) return;
      if (event.ctrlKey || event.metaKey || event.altKey) return;
      const { set, ask, ...state } = useDesk.getState();
      const view = VIEW_KEYS[event.key];
      const kind = KINDS.find(({ key }) => key === event.key);
      if (event.key === ' ') {
        if (target.closest('button, a, select')) target.blur();
        clock.toggle();
      } else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') {
        const way = event.key === 'ArrowLeft' ? -1 : 1;
        if (event.shiftKey) seekEvent(clock, marks, way);
        else clock.step(way);
      } else if (event.key === 'Home') clock.seek(clock.get().first);
      else if (event.key === 'End') clock.seek(clock.get().last);
      else if (view) {
        rig.look(view);
        set({ view });
      } else if (event.key === 'e') set({ path: !state.path });
      else if (event.key === 'h') set({ ride: !state.ride });
      else if (event.key === 'x') set({ silhouette: !state.silhouette });
      else if (event.key === 'c') onCompare();
      else if (event.key === '?') onHelp();
      else if (kind && canMark) ask(kind.kind);
      else return;
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [clock, rig, marks, canMark, onCompare, onHelp]);
}

/** The next or previous frame at which a mark begins or ends. */
function seekEvent(clock: FrameClock, marks: readonly Mark[], way: number): void {
  const { frame, first, last } = clock.get();
  const events = [...new Set(marks.flatMap((mark) => [mark.from, mark.to]))]
    .filter((label) => label >= first && label <= last)
    .sort((a, b) => a - b);
  const next = way > 0 ? events.find((label) => label > frame) : events.findLast((label) => label < frame);
  clock.seek(next ?? (way > 0 ? last : first));
}

const HELP: readonly (readonly [keys: string, does: string])[] = [
  ['space', 'play and stop'],
  ['← →', 'a frame back, a frame on'],
  ['shift ← →', 'to the mark before, to the next mark'],
  ['home, end', 'first frame, last frame'],
  ['a s d f', 'from the side, the front, above, three-quarter'],
  ['e', 'path of the chosen joint'],
  ['h', 'ride on the hips'],
  ['x', 'silhouette only'],
  ['c', 'two revisions side by side'],
  ['1 … 7', `start a mark: ${KINDS.map(({ kind }) => kind).join(', ')}`],
  ['ctrl enter', 'make the mark that is being written'],
  ['?', 'this list'],
];

export function KeysDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  return (
    <Dialog open={open} onOpenChange={onOpenChange} title="Keys" description="They work while nothing is being typed.">
      <dl className="grid grid-cols-[7rem_1fr] gap-y-1.5 text-sm">
        {HELP.map(([keys, does]) => (
          <div key={keys} className="contents">
            <dt>
              <kbd className="rounded-sm border border-edge-strong px-1.5 font-mono text-xs">{keys}</kbd>
            </dt>
            <dd>{does}</dd>
          </div>
        ))}
      </dl>
    </Dialog>
  );
}
