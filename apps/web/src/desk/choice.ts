import { type ChosenBefore, useDesk } from './desk-store.ts';
import type { FrameSource } from './frames/frame-source.ts';

export interface Option<V extends string = string> {
  readonly value: V;
  readonly text: string;
}

/**
 * One of several ways in which a lens or a lane shows what it shows. It is declared in that lens's or lane's file and kept by the browser under its id; what
 * offers it and what reads it know nothing else.
 */
export interface Choice<V extends string = string> {
  readonly id: string;
  /** Read out for the list. */
  readonly label: string;
  readonly first: V;
  options(source: FrameSource): readonly Option<V>[];
  /** Left out where it is always offered. */
  offered?(source: FrameSource, desk: ChosenBefore): boolean;
  /** What was chosen last; the first until then. */
  of(desk: ChosenBefore): V;
}

interface About<V extends string> {
  readonly id: string;
  readonly label: string;
  readonly first: NoInfer<V>;
  /** What each is called: a fixed list, or one that depends on the shot. */
  readonly options: Readonly<Record<V, string>> | ((source: FrameSource) => readonly Option<V>[]);
  readonly offered?: Choice['offered'];
}

/** Declares a choice. One of a fixed list that the browser keeps and that is no more is as if nothing was chosen. */
export function choice<V extends string>({ id, label, first, options, offered }: About<V>): Choice<V> {
  const list = typeof options === 'function' ? undefined : options;
  const fixed = list && (Object.keys(list) as V[]).map((value) => ({ value, text: list[value] }));
  return {
    id,
    label,
    first,
    options: typeof options === 'function' ? options : () => fixed!,
    ...(offered && { offered }),
    of: ({ chosen }) => {
      const kept = chosen[id] as V | undefined;
      return kept === undefined || (list && !(kept in list)) ? first : kept;
    },
  };
}

/** Chooses, and keeps it. */
export const choose = ({ id }: Pick<Choice, 'id'>, value: string): void => {
  const { chosen, set } = useDesk.getState();
  set({ chosen: { ...chosen, [id]: value } });
};

/** A choice as a component follows it. */
export const useChoice = <V extends string>(own: Choice<V>): V => useDesk((desk) => own.of(desk));
