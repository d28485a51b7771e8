import type { Mark, MarkChange, NewMark, Payload, PencilLine, Weight } from '@ypsigraph/contract/marks';
import type { MarkKind, Stage } from '@ypsigraph/contract/vocabulary';
import { measureMark } from '@ypsigraph/core/mark/mark';
import type { MarkPlace, Quote } from '@ypsigraph/core/mark/payload';
import type { FrameSource } from '../frames/frame-source.ts';

/** A mark as it is being written, or written anew. */
export interface Draft {
  readonly kind: MarkKind;
  readonly from: number;
  readonly to: number;
  readonly point: string | null;
  readonly part: string | null;
  readonly weight: Weight;
  /** Null for the stage of the revision. */
  readonly stage: Stage | null;
  readonly words: string;
  readonly payload: Payload | null;
  readonly lines: readonly PencilLine[];
  /** Of a breakdown its own label, between the two. */
  readonly breakdown?: number;
  /** Becomes the mark's id, so that sending it twice makes one mark. */
  readonly key: string;
  /** The mark that is being changed, and the version it was seen at. */
  readonly changes?: { readonly id: string; readonly version: number };
  /** Its place has changed since it was measured. */
  readonly moved?: boolean;
}

/** A new mark at a place, without words yet. */
export const newDraft = (kind: MarkKind, from: number, to: number, point: string | null): Draft => ({
  kind,
  from,
  to,
  point,
  part: null,
  weight: 'should',
  stage: null,
  words: '',
  payload: null,
  lines: [],
  key: crypto.randomUUID(),
  moved: true,
});

const placeOf = ({ from, to, point, part, breakdown }: Draft): MarkPlace => ({
  from,
  to,
  point,
  part,
  ...(breakdown !== undefined && { breakdown }),
});

/**
 * The draft with its numbers as they are at its place. What was asked for by hand stays asked for as long as the kind stays the same; a
 * finding's reading is kept as it was quoted.
 */
export function measured(draft: Draft, source: FrameSource | undefined): Draft {
  if (!source?.figure || !(draft.from <= draft.to)) return { ...draft, moved: false };
  const quote: Quote | undefined = draft.payload?.kind === draft.kind ? draft.payload.quote : undefined;
  const placed = draft.from === draft.to && !quote ? spread(draft, source) : draft;
  const payload = measureMark(placed.kind, source.figure.measured, placeOf(placed), quote) as Payload;
  return { ...placed, ...ownSpan(placed, payload), payload, moved: false };
}

/** A mark put on one frame that needs two poses stands between the key poses about it. */
function spread(draft: Draft, source: FrameSource): Draft {
  if (draft.kind !== 'spacing' && draft.kind !== 'arc' && draft.kind !== 'breakdown') return draft;
  const labels = source.keyPoses().map(({ label }) => label);
  const from = labels.findLast((label) => label <= draft.from - (draft.kind === 'breakdown' ? 1 : 0));
  const to = labels.find((label) => label > draft.from);
  if (from === undefined || to === undefined || to - from < 2) return draft;
  return { ...draft, from, to, ...(draft.kind === 'breakdown' && { breakdown: draft.from }) };
}

/** One put on a frame of a hold, or of a move, is about all of it. */
function ownSpan({ from, to }: Draft, payload: Payload): { from: number; to: number } {
  const lasts = payload.kind === 'moving hold' || payload.kind === 'overshoot' ? payload.measured : null;
  return from === to && lasts && lasts.to > lasts.from ? { from: lasts.from, to: lasts.to } : { from, to };
}

/** A mark that stands, as it is to be changed. */
export function draftOf({
  id,
  version,
  kind,
  from,
  to,
  point,
  part,
  weight,
  stage,
  payload,
  lines,
  words,
}: Mark): Draft {
  const said = { kind, from, to, point, part, weight, stage, payload, lines, words };
  return { ...said, key: crypto.randomUUID(), changes: { id, version } };
}

/** What goes to the server of a mark that is changed: with the version it was seen at. */
export function changeOf(draft: Draft): MarkChange {
  const { key: _key, ...said } = asNewMark(draft);
  return { ...said, version: draft.changes!.version };
}

/** What goes to the server. */
export function asNewMark({
  breakdown: _breakdown,
  changes: _changes,
  moved: _moved,
  stage,
  lines,
  words,
  ...rest
}: Draft): NewMark {
  return { ...rest, words: words.trim(), lines: [...lines], ...(stage && { stage }) };
}
