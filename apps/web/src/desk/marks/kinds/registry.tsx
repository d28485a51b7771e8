import type { ReactNode } from 'react';
import { MARK_KINDS, type MarkKind } from '@ypsigraph/core/trade/mark-kinds';
import { asking, type Payload } from '@ypsigraph/core/mark/mark';
import type { LoosePose } from '@ypsigraph/core/posing/loose-pose';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import type { Labels } from '@ypsigraph/core/mark/mark-tool';
import type { FrameSource } from '../../frames/frame-source.ts';
import type { LensFrame } from '../../lenses/lens.ts';
import type { Draft } from '../../margin/draft.ts';
import type { DrawnMark } from '../drawn-mark.ts';
import { AMOUNT_VIEW } from './amount.tsx';
import { ARC_VIEW } from './arc.tsx';
import { BREAKDOWN_VIEW } from './breakdown.tsx';
import { STROKE } from './fields.tsx';
import { DELAY_VIEW } from './delay.tsx';
import type { ChartFacts, FieldsProps, Grip, MarkKindView, Shown } from './mark-kind-view.ts';
import { MOVING_HOLD_VIEW } from './moving-hold.tsx';
import { OVERSHOOT_VIEW } from './overshoot.tsx';
import { POSE_VIEW } from './pose.tsx';
import { SPACING_VIEW } from './spacing.tsx';
import { TIMING_VIEW } from './timing.tsx';
import type { Line, PlaceThenAndNow, Traced } from './traced.ts';

const NOTE_VIEW: MarkKindView<'note'> = {
  about: 'anything else',
  sign: <path {...STROKE} d="M-4-3H4M-4 0H4M-4 3H1" />,
};

/** Every kind of mark as the page shows it. Adding one is a file and a line here. */
export const MARK_VIEWS: { readonly [K in MarkKind]: MarkKindView<K> } = {
  timing: TIMING_VIEW,
  spacing: SPACING_VIEW,
  arc: ARC_VIEW,
  breakdown: BREAKDOWN_VIEW,
  overshoot: OVERSHOOT_VIEW,
  'moving hold': MOVING_HOLD_VIEW,
  amount: AMOUNT_VIEW,
  pose: POSE_VIEW,
  delay: DELAY_VIEW,
  note: NOTE_VIEW,
};

/** Kinds in the order of their keys, with what each is about. */
export const KIND_CHOICES = MARK_KINDS.map((kind, k) => ({
  kind,
  key: kind === 'note' ? '.' : String(k + 1),
  about: MARK_VIEWS[kind].about,
}));

/** A kind's sign, drawn about its own middle. */
export const kindSign = (kind: MarkKind): ReactNode => MARK_VIEWS[kind].sign;

export function KindSign({ kind, size = 14 }: { kind: MarkKind; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-6.5 -6.5 13 13" aria-hidden>
      {kindSign(kind)}
    </svg>
  );
}

/** A view whose numbers are those of its own kind: looked up by the payload's kind, they always fit. */
interface AnyView {
  readonly Fields?: (props: AnyFields) => ReactNode;
  readonly draw?: (frame: LensFrame, mark: DrawnMark, payload: Payload) => void;
  readonly trace?: (payload: Payload, place: PlaceThenAndNow, traced: Traced) => Line;
  readonly frames?: { read(payload: Payload): Labels | undefined; write(labels: Labels, payload: Payload): never };
  readonly grips?: (payload: Payload, shown: Shown) => readonly Grip<never>[];
  readonly posed?: (payload: Payload, shot: PreparedShot, sample: number) => LoosePose | undefined;
  readonly line?: (wanted: unknown) => ArrayLike<number>;
  readonly chart?: (payload: Payload) => ChartFacts;
}
interface AnyFields {
  readonly payload: Payload;
  readonly want: (wanted: never) => void;
  readonly draft: Draft;
  readonly setDraft: (draft: Draft) => void;
  readonly source: FrameSource | undefined;
}
const viewOf = ({ kind }: Payload): AnyView => MARK_VIEWS[kind] as AnyView;
/** What is wanted by a mark's own numbers. Of a finding that was taken its band is wanted, which is none of these. */
const wantedOf = (payload: Payload | null): Payload['wanted'] => (payload?.quote ? null : (payload?.wanted ?? null));

/** Fields for what a mark that is being written wants. Where a finding was taken its band says that. */
export function WantedFields({ draft, setDraft, source }: Omit<FieldsProps<never>, 'payload' | 'want'>) {
  const { payload } = draft;
  if (!payload || !wantedOf(payload)) return null;
  const { Fields } = viewOf(payload);
  const want = (wanted: never): void => setDraft({ ...draft, payload: asking(payload, wanted) });
  return Fields ? <Fields payload={payload} want={want} draft={draft} setDraft={setDraft} source={source} /> : null;
}

/** Draws what a mark wants over the paper. */
export function drawWanted(frame: LensFrame, mark: DrawnMark): void {
  if (mark.payload?.wanted) viewOf(mark.payload).draw?.(frame, mark, mark.payload);
}

/** What a mark wants of the signal that the trace shows. */
export const wantedLine = (payload: Payload, place: PlaceThenAndNow, traced: Traced): Line =>
  wantedOf(payload) ? (viewOf(payload).trace?.(payload, place, traced) ?? []) : [];

/** Frames that a mark wants, and the same mark with others. */
export function wantedFrames(
  payload: Payload | null,
): { readonly now: Labels; readonly to: (next: Labels) => Payload } | undefined {
  const frames = payload && wantedOf(payload) ? viewOf(payload).frames : undefined;
  const now = payload && frames?.read(payload);
  return payload && frames && now ? { now, to: (next) => asking(payload, frames.write(next, payload)) } : undefined;
}

/** Places by which a mark that is written is pulled, each with the mark it becomes. */
export function gripsOf(payload: Payload | null | undefined, shown: Shown): readonly Grip<Payload>[] {
  if (!payload || !wantedOf(payload)) return [];
  const asked = (wanted: never | undefined): Payload | undefined =>
    wanted === undefined ? undefined : asking(payload, wanted);
  return (viewOf(payload).grips?.(payload, shown) ?? []).map((grip): Grip<Payload> => {
    const { turn } = grip;
    return { ...grip, pull: (place) => asked(grip.pull(place)), ...(turn && { turn: (steps) => asked(turn(steps)) }) };
  });
}

/** The figure that a mark wants, posed. */
export const wantedFigure = (payload: Payload | null, shot: PreparedShot, sample: number): LoosePose | undefined =>
  payload && wantedOf(payload) ? viewOf(payload).posed?.(payload, shot, sample) : undefined;

/** The line that a mark wants, flat x, y, z. */
export const wantedCurve = (payload: Payload | null): ArrayLike<number> | undefined =>
  payload?.wanted ? viewOf(payload).line?.(payload.wanted) : undefined;

/** A mark's timing chart, where its kind has one and it was measured. */
export const chartOf = (payload: Payload | null): ChartFacts | undefined =>
  payload?.measured ? viewOf(payload).chart?.(payload) : undefined;
