import type { Mark } from '@ypsigraph/contract/marks';
import { drawSpacing } from '@ypsigraph/core/remedy/missing-drawings';
import type { FrameSource } from '../frames/frame-source.ts';
import { asHandedIn, useDrawings } from './drawings-store.ts';

type OfSpacing = Pick<Mark, 'id' | 'from' | 'payload'>;

/** Whether a mark wants a spacing that drawings can be held against. */
export const wantsSpacing = ({ payload }: Pick<Mark, 'payload'>): boolean =>
  payload?.kind === 'spacing' && payload.measured !== null && payload.wanted !== null;

/** Opens the drawings of a clip as near to the spacing that a mark wants as they come, with the places where one is missing. */
export function openSpacing(source: FrameSource, { id, from, payload }: OfSpacing): void {
  if (payload?.kind !== 'spacing' || payload.measured === null || payload.wanted === null) return;
  const { recipe, missing } = drawSpacing({
    from,
    way: payload.measured.fractions,
    wanted: payload.wanted.fractions,
    exposed: asHandedIn(source),
    firstFrame: source.first,
  });
  useDrawings.getState().open(source, { recipe, missing, mark: id });
}
