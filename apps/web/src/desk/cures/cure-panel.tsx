import { Pencil, Trash2, Undo2, X } from 'lucide-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWRImmutable from 'swr/immutable';
import { toast } from 'sonner';
import type { StoredRecipe } from '@ypsigraph/contract/recipes';
import { sayReadingValue } from '@ypsigraph/core/mark/quote';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { readingName } from '@ypsigraph/core/measure/registry';
import type { KeyedChange } from '@ypsigraph/core/remedy/keyed-changes';
import type { ParameterKind, Step } from '@ypsigraph/core/remedy/remedy';
import { QUANTITIES, QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import { remedyOf } from '@ypsigraph/core/remedy/remedies';
import { asChart, chartFractions } from '@ypsigraph/core/remedy/spacing-chart';
import { differsFrom, type Outcome, stored } from '@ypsigraph/core/remedy/stored-recipe';
import { canBeAsked, type StepMark } from '@ypsigraph/core/remedy/to-mark';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { capital, figures } from '@ypsigraph/core/say/words';
import { Button } from '../../kit/button.tsx';
import { saveText } from '../../kit/save-text.ts';
import { Select } from '../../kit/select.tsx';
import { cureWorker } from '../../workers/cure.ts';
import type { Shown } from '../../workers/cure.worker.ts';
import { TimingChart } from '../../charts/timing-chart.tsx';
import { useDesk } from '../desk-store.ts';
import { chartOf } from '../marks/kinds/registry.tsx';
import { useClock } from '../frames/frame-clock.ts';
import { useReview } from '../review.ts';
import { CURE_SEEN, type CureFor, type CureSeen, useCures } from './cure-store.ts';
import { askedOf } from './use-cured.ts';

const SEEN: Readonly<Record<CureSeen, string>> = {
  over: 'dotted over the figure',
  beside: 'beside it',
  wiped: 'wiped over it',
  flicked: 'flicked between (shift c)',
};

interface Props {
  /** Makes a mark of what it is for, with the recipe; or keeps the recipe with the mark that there is. Left out where nothing can be marked. */
  readonly onKeep: ((on: CureFor, cure: StoredRecipe) => void) | undefined;
  /** Begins the mark that asks for what a step changes. */
  readonly onAsk: ((mark: StepMark, cure: StoredRecipe) => void) | undefined;
}

/** The cure that lies on the desk: what is done, what it does to everything else, and what would be keyed for it. */
export function CurePanel({ onKeep, onAsk }: Props) {
  const review = useReview();
  const navigate = useNavigate();
  const on = useCures((state) => state.on);
  const recipe = useCures((state) => state.recipe);
  const before = useCures((state) => state.before);
  const shown = useCures((state) => state.shown);
  const why = useCures((state) => state.why);
  const seen = useCures((state) => state.seen);
  const { change, undo, look, close } = useCures.getState();
  if (!on || on.revision !== review.revision.id) return null;
  const canChange = onKeep !== undefined;
  const toTheClass = async ({ reading, part }: NonNullable<CureFor['finding']>): Promise<void> => {
    const asked = askedOf(review);
    const like = asked && (await cureWorker().exemplarLike(asked, reading, part));
    if (!like) toast('No exemplar shows this fault.');
    else void navigate(`/exemplars/${like.exemplar}?fault=${like.fault}&size=${like.size}&cure`);
  };
  const askFor = async (k: number): Promise<void> => {
    const asked = askedOf(review);
    if (!asked || !recipe || !shown) return;
    const mark = await cureWorker()
      .markOf(asked, recipe, k)
      .catch((error: Error) => ({ why: error.message }));
    if ('why' in mark) toast(mark.why);
    else onAsk?.(mark, stored(recipe, shown.came));
  };
  const takeAway = async (): Promise<void> => {
    const asked = askedOf(review);
    if (!asked || !recipe) return;
    const written = await cureWorker()
      .write(asked, recipe)
      .catch((error: Error) => ({ why: error.message }));
    if ('why' in written) toast.error(written.why);
    else saveText(written.text, `${review.revision.fileName.replace(/\.[^.]*$/, '')}-one-way.bvh`);
  };
  return (
    <section
      aria-label="One way to do it"
      className="border-b border-edge-strong bg-wash px-2 py-1.5 text-xs"
      data-testid="cure"
      aria-busy={!shown && !why}
    >
      <div className="flex items-center gap-1">
        <h2 className="flex-1 font-semibold">One way to do it</h2>
        {canChange && before.length > 0 && (
          <Button look="quiet" className="!min-h-6 !px-1" aria-label="Undo the change of the cure" onClick={undo}>
            <Undo2 size={13} />
          </Button>
        )}
        <Button look="quiet" className="!min-h-6 !px-1" aria-label="Close the cure" onClick={close}>
          <X size={13} />
        </Button>
      </div>
      <p className="line-clamp-2 text-graphite">{on.about}</p>
      {why && (
        <p role="alert" className="mt-1 font-semibold">
          {capital(why)}
        </p>
      )}
      {!recipe && !why && (
        <p role="status" className="mt-1">
          Looking for what puts it right …
        </p>
      )}
      {recipe && (
        <>
          <ol className="mt-1 space-y-1">
            {recipe.map((step, k) => (
              <StepRow
                // Steps are told by their place: two may be alike.
                key={k}
                step={step}
                onChange={canChange ? (next) => change(recipe.with(k, next)) : undefined}
                onDrop={canChange && recipe.length > 1 ? () => change(recipe.toSpliced(k, 1)) : undefined}
                onAsk={
                  onAsk && shown && step.off !== true && canBeAsked(step.remedy) ? () => void askFor(k) : undefined
                }
              />
            ))}
          </ol>
          <div className="mt-1.5 flex items-center gap-1">
            <Select
              givesBack
              className="flex-1 text-xs"
              label="How the cure is seen"
              value={seen}
              options={CURE_SEEN.map((value) => ({ value, text: SEEN[value] }))}
              onChange={look}
            />
          </div>
        </>
      )}
      {shown && <Did shown={shown} on={on} tellsFindings={review.role !== 'student'} />}
      {shown && on.keptAs && <Since kept={on.keptAs} today={shown.came} />}
      {shown && (
        <div className="mt-1.5 flex flex-wrap justify-end gap-1">
          {canChange && on.finding && (
            <Button
              look="quiet"
              className="mr-auto !min-h-6 !px-1.5 text-xs"
              title="An exemplar with as much of this fault, and its cure: nobody’s shot"
              onClick={() => void toTheClass(on.finding!)}
            >
              For the class
            </Button>
          )}
          <Button className="!min-h-6 text-xs" onClick={() => void takeAway()} title="To lay beneath your own work">
            Take away as BVH
          </Button>
          {onKeep && recipe && (
            <Button
              look="instructor"
              className="!min-h-6 text-xs"
              onClick={() => onKeep(on, stored(recipe, shown.came))}
            >
              {on.mark ? 'Keep with the mark' : 'Make a mark with it'}
            </Button>
          )}
        </div>
      )}
    </section>
  );
}

/** Whether a cure that another version of the core made comes out as it did when it was kept. */
function Since({ kept, today }: { kept: StoredRecipe; today: Outcome }) {
  const differs = differsFrom(kept.came, today);
  return (
    <p className={`mt-1 ${differs ? 'font-semibold' : 'text-graphite'}`} data-testid="cure-since">
      {!kept.came
        ? 'It was kept by an earlier version, and may come out a little otherwise today.'
        : !differs
          ? 'It was kept by an earlier version, and comes out the same today.'
          : differs.joint === undefined
            ? `It comes out otherwise than when it was kept: ${differs.now} frames now, ${differs.then} then.`
            : `It comes out otherwise than when it was kept: ${partLabel(differs.joint)} by ${figures(differs.now)} now, ${figures(differs.then)} then.`}
    </p>
  );
}

/** One remedy of the recipe: what it is done to, and its numbers, which are dragged. */
function StepRow({
  step,
  onChange,
  onDrop,
  onAsk,
}: {
  step: Step;
  onChange: ((step: Step) => void) | undefined;
  onDrop: (() => void) | undefined;
  onAsk: (() => void) | undefined;
}) {
  const remedy = remedyOf(step.remedy);
  const off = step.off === true;
  const entries = Object.entries(step.parameters);
  const numbers = entries.filter(([name]) => remedy?.parameters[name]?.is === 'number' && name !== 'falloff');
  return (
    <li className={`rounded-md border border-edge bg-sheet px-1.5 py-1 ${off ? 'opacity-50' : ''}`}>
      <div className="flex items-center gap-1">
        <label className="flex min-w-0 flex-1 items-center gap-1" title={remedy && capital(remedy.does)}>
          {onChange && (
            <input
              type="checkbox"
              aria-label={`${remedy?.name ?? step.remedy} is on`}
              checked={!off}
              onChange={(event) =>
                onChange({
                  remedy: step.remedy,
                  parameters: step.parameters,
                  ...(!event.target.checked && { off: true }),
                })
              }
            />
          )}
          <span className="font-semibold">{remedy?.name ?? step.remedy}</span>
          <span className="min-w-0 flex-1 truncate">{saidOf(step)}</span>
        </label>
        {onAsk && (
          <Button
            look="quiet"
            className="!min-h-5 !px-0.5"
            aria-label={`Ask for it in a mark: ${remedy?.name ?? step.remedy}`}
            title="Ask for it in a mark, with what is there and what the cure makes of it"
            onClick={onAsk}
          >
            <Pencil size={12} />
          </Button>
        )}
        {onDrop && (
          <Button
            look="quiet"
            className="!min-h-5 !px-0.5"
            aria-label={`Without ${remedy?.name ?? step.remedy}`}
            onClick={onDrop}
          >
            <Trash2 size={12} />
          </Button>
        )}
      </div>
      {step.remedy === 'respace' && onChange && !off && <Chart step={step} onChange={onChange} />}
      {numbers.map(([name, value]) => {
        const kind = remedy!.parameters[name] as Extract<ParameterKind, { is: 'number' }>;
        return (
          <NumberRow
            key={name}
            name={name}
            kind={kind}
            unit={unitOf(step, kind)}
            value={Number(value)}
            onChange={onChange && ((next) => onChange({ ...step, parameters: { ...step.parameters, [name]: next } }))}
          />
        );
      })}
    </li>
  );
}

/** The spacing of a step as a timing chart: what is there above, what it makes of it beneath, whose ticks are dragged. */
function Chart({ step, onChange }: { step: Step; onChange: (step: Step) => void }) {
  const { source } = useReview();
  const { from, to, joint, chart } = step.parameters;
  const place = from === undefined || to === undefined ? undefined : { from: Number(from), to: Number(to) };
  const point = source?.pointNames.find((name) => name === joint) ?? null;
  const { data } = useSWRImmutable(
    source?.figure && place ? (['cure chart', source, place.from, place.to, point] as const) : null,
    async ([, own]) => chartOf(await own.figure!.measure('spacing', { ...place!, point, part: null }))?.measured,
  );
  const wanted = place && chartFractions(String(chart ?? ''), place.to - place.from);
  if (!data || !place || !wanted) return null;
  return (
    <TimingChart
      measured={data}
      wanted={wanted}
      first={place.from}
      onChange={(own) => onChange({ ...step, parameters: { ...step.parameters, chart: asChart(own) } })}
    />
  );
}

/** Everything of a step that is no number: which part, which frames, what of it. */
function saidOf({ remedy, parameters }: Step): string {
  const kinds = remedyOf(remedy)?.parameters ?? {};
  const frames = Object.entries(parameters).filter(([name]) => kinds[name]?.is === 'frame');
  const words = Object.entries(parameters).flatMap(([name, value]) => {
    const is = kinds[name]?.is;
    if (is === 'joint' || is === 'parts' || is === 'chain') return [String(value).split('+').map(partLabel).join(', ')];
    return is === 'one of' ? [String(value)] : is === 'fractions' ? [spacingOf(String(value))] : [];
  });
  const at = frames.map(([name, value]) => `${name} ${value}`).join(' ');
  return [words.join(' of '), at].filter((own) => own !== '').join(', ');
}

const spacingOf = (chart: string): string => (chart.includes('+') ? 'a chart of its own' : chart);

function NumberRow({
  name,
  kind,
  unit,
  value,
  onChange,
}: {
  name: string;
  unit: string;
  kind: Extract<ParameterKind, { is: 'number' }>;
  value: number;
  onChange: ((value: number) => void) | undefined;
}) {
  const [low, high] = kind.range;
  // The slider stays where it was while it is dragged: about as far to both sides as the value is large.
  const [around] = useState(() => Math.max(high - low <= 2 ? high - low : 4, 1.5 * Math.abs(value)));
  const [start] = useState(value);
  const whole = kind.unit === 'frames' && Number.isInteger(value);
  const step = whole ? 1 : high - low <= 12 ? 0.01 : 0.1;
  const field = { min: Math.max(low, start - around), max: Math.min(high, start + around), step };
  return (
    <div className="mt-0.5 grid grid-cols-[4rem_1fr_3.6rem] items-center gap-1" title={capital(kind.say)}>
      <span className="text-graphite">{name}</span>
      {onChange ? (
        <input
          type="range"
          aria-label={`${name}: ${kind.say}`}
          {...field}
          value={value}
          onChange={(event) => onChange(Number(event.target.value))}
        />
      ) : (
        <span />
      )}
      <span className="frame-number text-right" data-testid="cure-number">
        {figures(value)} {unit}
      </span>
    </div>
  );
}

/** The unit of a number as it is written behind it: of an amount that of its quantity. */
function unitOf({ remedy, parameters }: Step, { unit }: { unit: string }): string {
  if (remedy !== 'amount' || unit === 'times') return SHORT[unit] ?? '';
  const told = QUANTITIES.find((own) => own === parameters.quantity);
  return told && QUANTITY_KINDS[told].unit === '%L' ? '%' : '°';
}

const SHORT: Readonly<Record<string, string>> = {
  frames: 'f',
  '% of the move': '%',
  '% of the move before': '%',
  '% of the chord': '%',
  '% of a leg': '%',
  '%': '%',
  times: '×',
};

/** What the cure did: to what it is for, to everything else, and joint by joint. */
function Did({ shown, on, tellsFindings }: { shown: Shown; on: CureFor; tellsFindings: boolean }) {
  // Of several moves or holds it is not told which one: then what is gone says enough.
  const own = (readings: readonly Reading[]): Reading | undefined => {
    const same = readings.filter(({ id, part }) => id === on.finding?.reading && part === on.finding.part);
    return same.length === 1 ? same[0] : undefined;
  };
  const [was, is] = [own(shown.before), own(shown.after)];
  // What else the gauges find is the reviewer's own, until it is sent.
  const { gone, fresh } = tellsFindings ? shown : { gone: [], fresh: [] };
  const told = ({ id, value, unit }: Reading): string => sayReadingValue(id, value, unit);
  return (
    <div className="mt-1.5 space-y-0.5" data-testid="cure-did">
      {was && is && (
        <p>
          {capital(readingName(was.id))}: {told(was)} → <strong>{told(is)}</strong>
        </p>
      )}
      {gone.map(({ say }) => (
        <p key={`gone ${say}`}>● {say === on.about ? 'this is gone then' : `gone: ${say}`}</p>
      ))}
      {fresh.map((finding) => (
        <p key={`fresh ${finding.say}`} className="font-semibold">
          ○ new: {finding.say}
          {finding.judgement === 'near' && ' (near the edge)'}
        </p>
      ))}
      {shown.notes.map((note) => (
        <p key={note} className="text-graphite">
          {capital(note)}.
        </p>
      ))}
      {shown.map && <Moved shown={shown} map={shown.map} />}
      <Changes changes={shown.changes} />
    </div>
  );
}

/** How long the shot is then, or from where on its frames lie elsewhere. */
function Moved({ shown, map }: { shown: Shown; map: readonly number[] }) {
  const first = map.findIndex((from, f) => from !== f);
  if (first < 0) return null;
  const long = shown.shot.played.motion.frames;
  return (
    <p>
      The shot is then {long} frames long; other frames from {shown.shot.firstFrame + first} on.
    </p>
  );
}

/** As many joints as are told at once. */
const MOST = 6;

function Changes({ changes }: { changes: readonly KeyedChange[] }) {
  const [every, setEvery] = useState(false);
  const clock = useClock();
  if (changes.length === 0) return null;
  return (
    <details className="pt-0.5">
      <summary className="cursor-pointer text-graphite">What it would be keyed as</summary>
      <ul className="mt-0.5">
        {(every ? changes : changes.slice(0, MOST)).map(({ joint, unit, along, keys }) => (
          <li key={`${joint} ${along ?? ''}`}>
            {joint}
            {along ? ` ${along}` : ''}:{' '}
            {keys.map(({ label, by }, k) => (
              <button
                key={label}
                type="button"
                className="frame-number mr-1 underline-offset-2 hover:underline"
                onClick={() => {
                  clock.seek(label);
                  useDesk.getState().set({ point: joint });
                }}
              >
                {by > 0 ? '+' : '−'}
                {figures(Math.abs(by))}
                {unit === '°' ? '°' : ' %'} at {label}
                {k + 1 < keys.length && ','}
              </button>
            ))}
          </li>
        ))}
      </ul>
      {changes.length > MOST && (
        <Button look="quiet" className="!min-h-6 text-xs" onClick={() => setEvery(!every)}>
          {every ? 'Only the largest' : `All ${changes.length} joints`}
        </Button>
      )}
    </details>
  );
}
