import { useState } from 'react';
import { closestCenter, DndContext, KeyboardSensor, PointerSensor, useSensor, useSensors } from '@dnd-kit/core';
import {
  horizontalListSortingStrategy,
  SortableContext,
  sortableKeyboardCoordinates,
  useSortable,
} from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import { count } from '@ypsigraph/core/say/words';

/** A drawing as it stands in the row. */
export interface Standing {
  readonly drawing: number;
  /** Label of its first frame. */
  readonly from: number;
  readonly frames: number;
}

/** The drawings of a clip one after the other, each as long as it stands. */
export function standings(shown: readonly number[], first: number): Standing[] {
  const all: Standing[] = [];
  shown.forEach((drawing, f) => {
    const last = all.at(-1);
    if (last?.drawing === drawing) all[all.length - 1] = { ...last, frames: last.frames + 1 };
    else all.push({ drawing, from: first + f, frames: 1 });
  });
  return all;
}

/** Pixels a pointer goes before a box is dragged: less is a click. */
const SLOP = 6;

/** Enter chooses a drawing, as a click does. */
const LIFTED_BY = { start: ['Space'], cancel: ['Escape'], end: ['Space', 'Enter'] };

interface Props {
  readonly row: readonly Standing[];
  /** The one that is chosen, by its place. */
  readonly at: number;
  readonly onPick: (k: number) => void;
  readonly onMove: (from: number, to: number) => void;
  /** A drawing stands so many frames more. */
  readonly onHold: (k: number, more: number) => void;
}

/** A box a drawing, as wide as it stands long: dragged to another place, or by its right edge to stand longer. */
export function DrawingBoxes({ row, at, onPick, onMove, onHold }: Props) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: SLOP } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates, keyboardCodes: LIFTED_BY }),
  );
  const ids = row.map((_, k) => `drawing ${k}`);
  const named = (id: string | number): string => `Drawing ${row[ids.indexOf(String(id))]!.drawing + 1}`;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      accessibility={{
        screenReaderInstructions: {
          draggable: 'Space lifts the drawing, the arrow keys take it along the row, space puts it down there.',
        },
        announcements: {
          onDragStart: ({ active }) => `${named(active.id)} is lifted.`,
          onDragOver: ({ active, over }) =>
            over ? `${named(active.id)} is at the place of ${named(over.id)}.` : undefined,
          onDragEnd: ({ active }) => `${named(active.id)} is put down.`,
          onDragCancel: ({ active }) => `${named(active.id)} stays where it was.`,
        },
      }}
      onDragEnd={({ active, over }) => {
        const [from, to] = [ids.indexOf(String(active.id)), over ? ids.indexOf(String(over.id)) : -1];
        if (to >= 0 && from !== to) onMove(from, to);
      }}
    >
      <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
        <ol className="mt-0.5 flex overflow-x-auto">
          {row.map((own, k) => (
            <Box
              key={ids[k]}
              id={ids[k]!}
              own={own}
              isAt={k === at}
              onPick={() => onPick(k)}
              onHold={(more) => onHold(k, more)}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

interface BoxProps {
  readonly id: string;
  readonly own: Standing;
  readonly isAt: boolean;
  readonly onPick: () => void;
  readonly onHold: (more: number) => void;
}

function Box({ id, own: { drawing, from, frames }, isAt, onPick, onHold }: BoxProps) {
  const { attributes, listeners, setNodeRef, transform, transition, isDragging } = useSortable({ id });
  const [pull, setPull] = useState<{ readonly x: number; readonly frame: number; readonly more: number }>();
  const long = frames + (pull?.more ?? 0);
  return (
    <li
      ref={setNodeRef}
      style={{
        flex: `${long} 0 ${long}rem`,
        transform: CSS.Translate.toString(transform),
        ...(transition && { transition }),
      }}
      className={`relative min-w-4 ${isDragging ? 'z-10 opacity-80' : ''}`}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-roledescription="drawing that can be moved"
        aria-label={`Drawing ${drawing + 1}, ${count(frames, 'frame')} from ${from}`}
        aria-pressed={isAt}
        className={`frame-number w-full border border-edge-strong py-0.5 text-2xs ${isAt ? 'bg-ink text-sheet' : 'bg-sheet hover:bg-wash'}`}
        onClick={onPick}
      >
        {drawing + 1}
      </button>
      <span
        title="Drag: longer or shorter"
        data-testid="drawing-edge"
        className="absolute inset-y-0 right-0 w-1.5 cursor-ew-resize touch-none"
        onPointerDown={(event) => {
          event.stopPropagation();
          event.currentTarget.setPointerCapture(event.pointerId);
          const width = event.currentTarget.parentElement!.getBoundingClientRect().width;
          setPull({ x: event.clientX, frame: Math.max(4, width / frames), more: 0 });
        }}
        onPointerMove={(event) =>
          pull && setPull({ ...pull, more: Math.max(1 - frames, Math.round((event.clientX - pull.x) / pull.frame)) })
        }
        onPointerUp={() => {
          if (pull && pull.more !== 0) onHold(pull.more);
          setPull(undefined);
        }}
        onPointerCancel={() => setPull(undefined)}
      />
    </li>
  );
}
