import type { Mark, MarkChange, NewMark, Payload, PencilLine, Weight } from '@ypsigraph/contract/marks';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import type { MarkKind, Stage } from '@ypsigraph/contract/vocabulary';
import { spanOf } from '@ypsigraph/core/mark/mark';
import type { MarkPlace } from '@ypsigraph/core/mark/mark-tool';
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
  /** What would put it right: it goes along with the mark. */
  readonly cure: StoredRecipe | null;
  readonly lines: readonly PencilLine[];
  /** A label of its own between the two, of a kind that has one. */
  readonly inner?: number;
  /** Becomes the mark's id, so that sending it twice makes one mark. */
  readonly key: string;
  /** The mark that is being changed, and the version it was seen at. */
  readonly changes?: { readonly id: string; readonly version: number };
  /** Its frames were typed: they stay what they are, though a hold or a move that lies there be longer. */
  readonly typed?: boolean;
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
  cure: null,
  lines: [],
  key: crypto.randomUUID(),
  moved: true,
});

const placeOf = ({ from, to, point, part, inner }: Draft): MarkPlace => ({
  from,
  to,
  point,
  part,
  ...(inner !== undefined && { inner }),
});

/**
 * The draft with its numbers as they are at its place. What was asked for by hand stays asked for as long as the kind stays the same; a
 * finding's reading is kept as it was quoted.
 */
export async function measured(draft: Draft, source: FrameSource | undefined): Promise<Draft> {
  if (!source?.figure || !(draft.from <= draft.to)) return { ...draft, moved: false };
  const now = draft.payload?.kind === draft.kind ? draft.payload : undefined;
  const free = draft.from === draft.to && !now?.quote && !draft.typed;
  const placed = free ? spread(draft, source) : draft;
  const payload = await source.figure.measure(placed.kind, placeOf(placed), now);
  return { ...placed, ...(free && ownSpan(placed, payload)), payload, moved: false };
}

/**
 * A draft that somebody made from the one they saw, put on the one there is now: what they changed is changed, and what has come meanwhile, a
 * kind that was chosen, numbers that were measured, stays.
 */
export function onto(now: Draft | undefined, seen: Draft | undefined, next: Draft | undefined): Draft | undefined {
  if (!now || !seen || !next || now === seen || now.key !== seen.key || next.key !== seen.key) return next;
  const changed = Object.entries(next).filter(([name, value]) => seen[name as keyof Draft] !== value);
  // Measuring once too often does no harm; once too few would leave numbers of another place.
  return { ...now, ...(Object.fromEntries(changed) as Partial<Draft>), moved: Boolean(next.moved || now.moved) };
}

/** The draft that was measured, as far as the same mark is still being written: words typed meanwhile stay, a place moved again is measured again. */
export function withNumbers(now: Draft | undefined, asked: Draft, told: Draft): Draft | undefined {
  if (!now || now.key !== asked.key || now.kind !== asked.kind) return now;
  const same = now.from === asked.from && now.to === asked.to && now.inner === asked.inner;
  if (!same || now.point !== asked.point) return now;
  const { from, to, payload, moved, inner } = told;
  return {
    ...now,
    from,
    to,
    payload,
    ...(moved !== undefined && { moved }),
    ...(inner !== undefined && { inner }),
  };
}

/** A mark put on one frame that needs two poses stands between the key poses about it. */
function spread(draft: Draft, source: FrameSource): Draft {
  const span = spanOf(draft.kind);
  if (span !== 'to the next pose' && span !== 'between poses') return draft;
  const between = span === 'between poses';
  const labels = source.keyPoses().map(({ label }) => label);
  const from = labels.findLast((label) => (between ? label < draft.from : label <= draft.from));
  const to = labels.find((label) => label > draft.from);
  if (from === undefined || to === undefined || to - from < 2) return draft;
  return { ...draft, from, to, ...(between && { inner: draft.from }) };
}

/** One put on a frame of a hold, or of a move, is about all of it. */
function ownSpan({ kind, from, to }: Draft, { measured }: Payload): { from: number; to: number } {
  if (spanOf(kind) !== 'as measured' || !measured || !('to' in measured) || from !== to) return { from, to };
  return measured.to > measured.from ? { from: measured.from, to: measured.to } : { from, to };
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
  cure,
  lines,
  words,
}: Mark): Draft {
  const said = { kind, from, to, point, part, weight, stage, payload, cure, lines, words };
  return { ...said, key: crypto.randomUUID(), changes: { id, version } };
}

/** What goes to the server of a mark that is changed: with the version it was seen at. */
export function changeOf(draft: Draft): MarkChange {
  const { key: _key, ...said } = asNewMark(draft);
  return { ...said, version: draft.changes!.version };
}

/** What goes to the server. */
export function asNewMark({
  inner: _inner,
  changes: _changes,
  moved: _moved,
  typed: _typed,
  stage,
  lines,
  words,
  ...rest
}: Draft): NewMark {
  return { ...rest, words: words.trim(), lines: [...lines], ...(stage && { stage }) };
}
