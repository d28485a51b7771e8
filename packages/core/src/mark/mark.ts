import type { MarkKind } from '../trade/mark-kinds.ts';
import type { Finding } from '../gauge/findings.ts';
import { CORE_VERSION, readingKind } from '../measure/registry.ts';
import type { PreparedShot } from '../motion/prepared-shot.ts';
import { AMOUNT_MARK } from './amount-mark.ts';
import { ARC_MARK } from './arc-mark.ts';
import { BREAKDOWN_MARK } from './breakdown-mark.ts';
import { MOVING_HOLD_MARK } from './moving-hold-mark.ts';
import { OVERSHOOT_MARK } from './overshoot-mark.ts';
import { DELAY_MARK } from './delay-mark.ts';
import type { Distance, MarkPlace, MarkTool, MarkWords, Met, Quote, Span } from './mark-tool.ts';
import { POSE_MARK } from './pose-mark.ts';
import { metQuote, quoteOf, sayQuote } from './quote.ts';
import { SPACING_MARK } from './spacing-mark.ts';
import { TIMING_MARK } from './timing-mark.ts';

/** Words alone: nothing is measured. */
const NOTE_MARK: MarkTool<'note', null, null> = {
  kind: 'note',
  numbers: null,
  measure: () => null,
  propose: () => null,
  say: () => ({ now: '', wanted: '' }),
  distance: () => undefined,
};

/** Every kind of mark. Adding one is a file and a line here: its numbers are those of its tool. */
export const MARK_TOOLS = {
  timing: TIMING_MARK,
  spacing: SPACING_MARK,
  arc: ARC_MARK,
  breakdown: BREAKDOWN_MARK,
  overshoot: OVERSHOOT_MARK,
  'moving hold': MOVING_HOLD_MARK,
  amount: AMOUNT_MARK,
  pose: POSE_MARK,
  delay: DELAY_MARK,
  note: NOTE_MARK,
} satisfies { readonly [K in MarkKind]: { readonly kind: K } };

/** What is there, null where nothing could be measured; and what is wanted in its place, null where words say it. Nothing is wanted of what is not measured. */
type Pair<M, W> =
  { readonly measured: M; readonly wanted: W | null } | { readonly measured: null; readonly wanted: null };

type Numbers<K extends string, M, W> = Pair<M, W> & {
  readonly kind: K;
  /** Version of the core that measured. */
  readonly core: string;
  readonly quote?: Quote;
};

type NumbersOf<T> = T extends MarkTool<infer K, infer M, infer W> ? Numbers<K, M, W> : never;

/** The numbers of a mark, by its kind; frames are labels, places in the shot's own coordinates. */
export type Payload = { [K in MarkKind]: NumbersOf<(typeof MARK_TOOLS)[K]> }[MarkKind];
export type PayloadOf<K extends MarkKind> = Extract<Payload, { readonly kind: K }>;

/** The same numbers with something else wanted; as they are where nothing is measured. */
export function asking<K extends MarkKind>(
  payload: PayloadOf<K>,
  wanted: NonNullable<PayloadOf<K>['wanted']>,
): PayloadOf<K> {
  return payload.measured === null ? payload : { ...payload, wanted };
}

/** A tool whose measured and wanted are what the payload of its own kind holds: looked up by that kind, they always fit. */
interface AnyTool {
  readonly spans?: Span;
  inner?(measured: unknown): number;
  measure(shot: PreparedShot, place: MarkPlace, like?: unknown): unknown;
  propose(measured: unknown, place: MarkPlace): unknown;
  say(measured: unknown, wanted: unknown, place: MarkPlace): MarkWords;
  distance(measured: unknown, wanted: unknown, then?: unknown): Distance | undefined;
}
const toolOf = (kind: MarkKind): AnyTool => MARK_TOOLS[kind];

/**
 * A mark's numbers where it is put: what is measured there, and what is asked for until somebody says otherwise. Both are null where the
 * place shows nothing of the kind.
 *
 * @param now the numbers it has had so far: the finding it was made from stays quoted, and what was chosen to be measured is measured again
 */
export function measureMark(kind: MarkKind, shot: PreparedShot, place: MarkPlace, now?: Payload): Payload {
  const tool = toolOf(kind);
  const own = now?.kind === kind ? now : undefined;
  const measured = tool.measure(shot, place, own?.measured ?? undefined);
  return {
    kind,
    core: CORE_VERSION,
    ...(own?.quote && { quote: own.quote }),
    measured,
    wanted: measured === null ? null : tool.propose(measured, place),
  } as Payload;
}

/** A shot, and a mark's place on it. */
interface Placed {
  readonly shot: PreparedShot;
  readonly place: MarkPlace;
}

/**
 * A mark's numbers where another shot shows what is wanted: measured on the one, wanted as it is on the other; as it is proposed where the other does
 * not show it.
 *
 * @param now with numbers whose own choice, of a quantity, of a pair of joints, is measured on both
 */
export function wantedAsIn(kind: MarkKind, now: Placed & { readonly like?: unknown }, shown: Placed): Payload {
  const tool = toolOf(kind);
  const measured = tool.measure(now.shot, now.place, now.like);
  const there = measured === null ? null : tool.measure(shown.shot, shown.place, measured);
  const wanted = measured === null ? null : tool.propose(there ?? measured, there ? shown.place : now.place);
  return { kind, core: CORE_VERSION, measured, wanted } as Payload;
}

/**
 * The numbers of a mark that a finding is taken as, before they are measured: its reading is quoted, and of an amount the quantity it tells is the one to
 * measure.
 *
 * @param kind the kind its reading becomes, or another that was chosen
 */
export function takeFinding(finding: Finding, kind = readingKind(finding.reading.id)?.mark ?? 'note'): Payload {
  const { id, part } = finding.reading;
  const told = kind === 'amount' ? readingKind(id)?.quantity : undefined;
  const measured = told && { quantity: told.quantity, of: told.of(part), as: told.amount ?? 'size', value: 0 };
  return { kind, core: CORE_VERSION, quote: quoteOf(finding), measured: measured ?? null, wanted: null } as Payload;
}

/** Which frames a mark of a kind is about that was put on one of them. */
export const spanOf = (kind: MarkKind): Span | undefined => toolOf(kind).spans;

/** The label a mark has of its own between its first and its last, where its kind has one: a breakdown's. */
export const innerLabel = ({ kind, measured }: Payload): number | undefined =>
  measured === null ? undefined : toolOf(kind).inner?.(measured);

/** What is there and what is wanted, in words; of a finding that was taken as its reading has it. Empty where nothing is told. */
export function sayMark(payload: Payload, place: MarkPlace): MarkWords {
  if (payload.quote) return sayQuote(payload.quote);
  return toolOf(payload.kind).say(payload.measured, payload.wanted, place);
}

/** A mark as far as it can be held against a shot. */
export interface Measurable extends MarkPlace {
  readonly payload: Payload;
}

/**
 * How far a shot is from what a mark wants: of a finding that was taken its reading made again against the band it was taken with, of any
 * other its own kind's measure made again at the same labels. Pure: give it labels of the shot it is held against.
 *
 * @returns undefined where the mark wants nothing that can be measured, or the shot does not show it
 */
export function met(mark: Measurable, shot: PreparedShot): Met | undefined {
  const { payload } = mark;
  if (payload.quote) return metQuote(payload.quote, shot, mark);
  if (payload.measured === null || payload.wanted === null) return undefined;
  const tool = toolOf(payload.kind);
  const inner = mark.inner ?? innerLabel(payload);
  const place = inner === undefined ? mark : { ...mark, inner };
  const measured = tool.measure(shot, place, payload.measured);
  if (measured === null) return undefined;
  const away = tool.distance(measured, payload.wanted, payload.measured);
  if (!away) return undefined;
  return { side: 0, ...away, now: tool.say(measured, payload.wanted, place).now, met: away.distance <= 0 };
}
