import { useEffect, useRef } from 'react';
import type { Mark } from '@ypsigraph/contract/marks';
import { Dialog } from '../kit/dialog.tsx';
import { EXPOSURES, useDesk } from './desk-store.ts';
import type { FrameClock } from './frames/frame-clock.ts';
import { type FrameSource, pointIndex } from './frames/frame-source.ts';
import { LENSES } from './lenses/registry.ts';
import { KIND_CHOICES } from './marks/kinds/registry.tsx';
import { preparedFor } from './paper/overlay.ts';
import type { ViewRig } from './paper/view-rig.ts';
import { zoomAbout } from './strip/use-zoom.ts';
import { SPEEDS, toggleRide, toggleTwice } from './transport.tsx';
import { VIEW_KEYS, viewsOf } from './views.tsx';

export interface DeskHands {
  readonly clock: FrameClock;
  readonly rig: ViewRig;
  readonly source: FrameSource | undefined;
  readonly marks: readonly Mark[];
  readonly canMark: boolean;
  readonly onCompare: () => void;
  readonly onHelp: () => void;
  readonly onUndo: () => void;
  readonly onRedo: () => void;
  /** The next event, or the one before, as the end of a delay that is written; false where none is. */
  readonly onEvent: (direction: 1 | -1) => boolean;
  /** The next finding, or the one before. */
  readonly onFinding: (direction: 1 | -1) => void;
  readonly onTake: () => void;
  readonly onAside: () => void;
  readonly onSendBack: () => void;
}

/** One key: what it does, in words, and doing it. */
interface KeyAction {
  readonly keys: string;
  readonly does: string;
  /** A single letter or digit: these can be turned off. */
  readonly letter?: boolean;
  readonly when: (event: KeyboardEvent) => boolean;
  readonly act: (hands: DeskHands, event: KeyboardEvent) => void;
}

const plainKey =
  (key: string) =>
  (event: KeyboardEvent): boolean =>
    event.key === key;

const speeds = SPEEDS.map(([value]) => value);
const slower = (clock: FrameClock, by: 1 | -1): void => {
  const at = speeds.indexOf(clock.get().speed) + by;
  clock.setSpeed(speeds[Math.min(speeds.length - 1, Math.max(0, at))] ?? 1);
};

/** Every key of the desk, in the order of the list: the left hand looks, the right hand steps and marks. */
const ACTIONS: readonly KeyAction[] = [
  { keys: 'space', does: 'play and stop', when: plainKey(' '), act: ({ clock }) => clock.toggle() },
  {
    keys: '← →',
    does: 'a frame back, a frame on; with shift to the event before, to the next',
    when: ({ key }) => key === 'ArrowLeft' || key === 'ArrowRight',
    act: ({ clock, marks, source, onEvent }, { key, shiftKey }) => {
      const direction = key === 'ArrowLeft' ? -1 : 1;
      if (shiftKey) {
        if (!onEvent(direction)) seekEvent(clock, marks, source, direction);
      } else clock.step(direction);
    },
  },
  {
    keys: 'home end',
    does: 'first frame, last frame',
    when: ({ key }) => key === 'Home' || key === 'End',
    act: ({ clock }, { key }) => clock.seek(key === 'Home' ? clock.get().first : clock.get().last),
  },
  {
    keys: '< >',
    does: 'slower, faster',
    letter: true,
    when: ({ key }) => key === '<' || key === '>',
    act: ({ clock }, { key }) => slower(clock, key === '<' ? 1 : -1),
  },
  {
    keys: '[ ]',
    does: 'play from here, play to here; both again for all of it',
    letter: true,
    when: ({ key }) => key === '[' || key === ']',
    act: ({ clock }, { key }) => {
      const { frame, first, lastPlayed, range } = clock.get();
      const [from, to] = range ?? [first, lastPlayed];
      const next: [number, number] = key === '[' ? [frame, to] : [from, frame];
      clock.setRange(next[0] === from && next[1] === to ? null : next);
    },
  },
  {
    keys: 'i',
    does: 'on ones, on twos, on threes, key poses alone',
    letter: true,
    when: plainKey('i'),
    act: () => {
      const { exposure, set } = useDesk.getState();
      set({ exposure: EXPOSURES[(EXPOSURES.indexOf(exposure) + 1) % EXPOSURES.length]! });
    },
  },
  {
    keys: '+ − \\',
    does: 'frames of the strip nearer, farther, all of them',
    letter: true,
    when: ({ key }) => key === '+' || key === '-' || key === '\\',
    act: ({ clock }, { key }) => {
      const { frame, first, last } = clock.get();
      if (key === '\\') useDesk.getState().set({ window: null });
      else zoomAbout(frame, key === '+' ? 0.6 : 1 / 0.6, first, last);
    },
  },
  ...VIEW_KEYS.map(({ key, text }): KeyAction => ({
    keys: key,
    does: text,
    letter: true,
    when: plainKey(key),
    act: ({ rig, source }) =>
      viewsOf(source)
        .find((view) => view.key === key)
        ?.act(rig),
  })),
  ...LENSES.map(({ id, key, name }): KeyAction => ({
    keys: key,
    does: name[0]!.toLowerCase() + name.slice(1),
    letter: true,
    when: plainKey(key),
    act: ({ source }) => {
      if (source && preparedFor(source, id) !== undefined) useDesk.getState().toggleLens(id);
    },
  })),
  {
    keys: 'z',
    does: 'all lenses off; again, the last ones on',
    letter: true,
    when: plainKey('z'),
    act: () => useDesk.getState().swapLenses(),
  },
  {
    keys: 'k',
    does: 'the chosen point’s part alone; with shift the next part',
    letter: true,
    when: ({ key }) => key === 'k' || key === 'K',
    act: ({ source }, { shiftKey }) => source && soloPart(source, shiftKey),
  },
  {
    keys: 'j',
    does: 'the cycle twice in a row, going over the ground',
    letter: true,
    when: plainKey('j'),
    act: ({ clock, source }) => toggleTwice(clock, source),
  },
  {
    keys: 'p',
    does: 'the row of key poses',
    letter: true,
    when: plainKey('p'),
    act: () => useDesk.getState().set({ poseRow: !useDesk.getState().poseRow }),
  },
  {
    keys: 'shift p',
    does: 'points on the pictures: placed, followed',
    letter: true,
    when: plainKey('P'),
    act: ({ source }) => {
      const { placesPoints, set } = useDesk.getState();
      if (source?.pictures) set({ placesPoints: !placesPoints, placing: null, drawsGround: false });
    },
  },
  {
    keys: 'shift s',
    does: 'what sounds is heard, or not',
    letter: true,
    when: plainKey('S'),
    act: ({ source }) => {
      const { heard, set } = useDesk.getState();
      if (source?.sound) set({ heard: !heard });
    },
  },
  {
    keys: 'l',
    does: 'the dial of a loop',
    letter: true,
    when: plainKey('l'),
    act: () => useDesk.getState().set({ dial: !useDesk.getState().dial }),
  },
  {
    keys: 'h',
    does: 'ride on the chosen point, or on the hips',
    letter: true,
    when: plainKey('h'),
    act: ({ source }) => toggleRide(source),
  },
  {
    keys: 'shift c',
    does: 'the other revision in place of this one, and back',
    letter: true,
    when: plainKey('C'),
    act: () => useDesk.getState().set({ flicked: !useDesk.getState().flicked }),
  },
  {
    keys: 'c',
    does: 'two revisions side by side',
    letter: true,
    when: plainKey('c'),
    act: (hands) => hands.onCompare(),
  },
  {
    keys: 'n',
    does: 'the next finding; with shift the one before',
    letter: true,
    when: ({ key }) => key === 'n' || key === 'N',
    act: ({ onFinding }, { shiftKey }) => onFinding(shiftKey ? -1 : 1),
  },
  { keys: 'm', does: 'take the finding as a mark', letter: true, when: plainKey('m'), act: (hands) => hands.onTake() },
  { keys: 'o', does: 'put the finding aside', letter: true, when: plainKey('o'), act: (hands) => hands.onAside() },
  {
    keys: '1 … 9 .',
    does: `start a mark: ${KIND_CHOICES.map(({ kind }) => kind).join(', ')}`,
    letter: true,
    when: ({ key }) => KIND_CHOICES.some((kind) => kind.key === key),
    act: ({ canMark }, { key }) => {
      if (canMark) useDesk.getState().ask(KIND_CHOICES.find((kind) => kind.key === key)!.kind);
    },
  },
  {
    keys: 'u',
    does: 'undo in the mark that is written; with shift redo',
    letter: true,
    when: ({ key }) => key === 'u' || key === 'U',
    act: (hands, { shiftKey }) => (shiftKey ? hands.onRedo() : hands.onUndo()),
  },
  {
    keys: 'shift ↵',
    does: 'to the page that sends back',
    when: ({ key, shiftKey }) => key === 'Enter' && shiftKey,
    act: (hands) => hands.onSendBack(),
  },
  { keys: '?', does: 'this list', when: plainKey('?'), act: (hands) => hands.onHelp() },
];

/** Keys that belong to fields and pages alone. */
const ELSEWHERE: readonly (readonly [string, string])[] = [
  ['ctrl ↵', 'in a mark’s words: make it; in a dialog: send'],
  ['escape', 'out of a field, out of a dialog'],
];

/** A control that has the focus keeps the keys it answers itself. */
function keeps(target: HTMLElement, { key }: KeyboardEvent): boolean {
  if (target.closest('input, textarea, select, [contenteditable], [role="dialog"], [role="listbox"], [role="menu"]'))
    return true;
  const control = target.closest('button, a, summary, [role="slider"]:not([aria-label="Frame"])');
  if (!control) return false;
  // A button keeps what presses it.
  return key === ' ' || key === 'Enter' || (control.matches('[role="slider"]') && key.startsWith('Arrow'));
}

/** The desk's keys. They are off while something is being typed, and leave a focused control what it needs. */
export function useDeskKeys(hands: DeskHands): void {
  const current = useRef(hands);
  useEffect(() => {
    current.current = hands;
  });
  useEffect(() => {
    const onKey = (event: KeyboardEvent): void => {
      // What something on the desk has answered already, such as a drawing that is taken along its row, is not answered again.
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return;
      if (keeps(event.target as HTMLElement, event)) return;
      const { letters } = useDesk.getState();
      const action = ACTIONS.find((own) => own.when(event) && (letters || !own.letter));
      if (!action) return;
      action.act(current.current, event);
      event.preventDefault();
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, []);
}

/** One part alone: the chosen point's, then the next of the weave, and after the last all again. */
function soloPart(source: FrameSource, next: boolean): void {
  const { solo, point, set } = useDesk.getState();
  const chosen = pointIndex(source, point);
  if (solo === null) return set({ solo: source.partOf(chosen >= 0 ? chosen : source.leading) });
  set({ solo: next ? (source.parts[source.parts.indexOf(solo) + 1] ?? null) : null });
}

/** The next or previous frame at which something happens: a mark begins or ends, or a key pose stands. */
function seekEvent(
  clock: FrameClock,
  marks: readonly Mark[],
  source: FrameSource | undefined,
  direction: number,
): void {
  const { frame, first, last } = clock.get();
  const own = marks.flatMap((mark) => [mark.from, mark.to]);
  const labels = own.length > 0 ? own : (source?.keyPoses() ?? []).map(({ label }) => label);
  const events = [...new Set(labels)].filter((label) => label >= first && label <= last).sort((a, b) => a - b);
  const next = direction > 0 ? events.find((label) => label > frame) : events.findLast((label) => label < frame);
  clock.seek(next ?? (direction > 0 ? last : first));
}

export function KeysDialog({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const letters = useDesk((state) => state.letters);
  const rows = [...ACTIONS.map(({ keys, does }) => [keys, does] as const), ...ELSEWHERE];
  return (
    <Dialog
      open={open}
      onOpenChange={onOpenChange}
      title="Keys"
      description="They work while nothing is being typed."
      wide
    >
      <label className="mb-3 flex items-center gap-2 text-sm">
        <input
          type="checkbox"
          checked={letters}
          onChange={(event) => useDesk.getState().set({ letters: event.target.checked })}
        />
        Single letters, digits and signs do something
      </label>
      <dl className="columns-3 gap-6 text-sm max-lg:columns-2 max-md:columns-1">
        {rows.map(([keys, does]) => (
          <div key={keys} className="mb-1 grid break-inside-avoid grid-cols-[5.2rem_1fr]">
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
