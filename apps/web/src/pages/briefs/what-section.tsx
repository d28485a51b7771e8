import { CURES_SHOWN, type BriefContent, type ListedBrief } from '@ypsigraph/contract/briefs';
import { KindOfExercise, LoopChoice } from '@ypsigraph/contract/vocabulary';
import { Field, INPUT } from '../../kit/field.tsx';
import { Select } from '../../kit/select.tsx';
import { LineList, NumberInput, Section } from './sections.tsx';

export interface Editing {
  readonly draft: BriefContent;
  readonly set: (change: Partial<BriefContent>) => void;
  /** What is wrong with a field, by its path. */
  readonly errorAt: (path: string) => string | undefined;
}

const LOOPS: Readonly<Record<BriefContent['loop'], string>> = {
  auto: 'however it is handed in',
  none: 'no loop',
  repeat: 'a loop: the last frame repeats the first',
  follow: 'a loop: the last comes just before the first',
};
const GROUNDS = { auto: 'found out from the feet', flat: 'flat', steps: 'steps: each foot at its own height' } as const;
const RULES = { warn: 'taken in, with a word', refuse: 'not taken in' } as const;

const options = <K extends string>(texts: Readonly<Record<K, string>>) =>
  (Object.entries(texts) as [K, string][]).map(([value, text]) => ({ value, text }));

/** When students see how a finding could be put right on their own shot. */
const CURES: Readonly<Record<(typeof CURES_SHOWN)[number], string>> = {
  'with marks': 'shown with the marks that are sent',
  'before handing in': 'may be looked at before handing in; you see what was',
};

/** What a brief may be besides its kind. */
const MOST_BESIDES = 3;

/** Kinds that an exercise is as well: their readings and usual gauges come along. */
function AlsoKinds({ draft, set }: Pick<Editing, 'draft' | 'set'>) {
  const { kind, alsoKinds } = draft;
  const others = KindOfExercise.options.filter((own) => own !== kind && own !== 'any');
  return (
    <fieldset>
      <legend className="mb-0.5 text-xs font-semibold text-graphite">It is also</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
        {others.map((own) => (
          <label key={own} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={alsoKinds.includes(own)}
              disabled={!alsoKinds.includes(own) && alsoKinds.length >= MOST_BESIDES}
              onChange={(event) =>
                set({ alsoKinds: event.target.checked ? [...alsoKinds, own] : alsoKinds.filter((one) => one !== own) })
              }
            />
            {own}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

/** What the exercise is, and how its shots are measured. */
export function WhatSection({ draft, set, errorAt, briefs }: Editing & { readonly briefs: readonly ListedBrief[] }) {
  return (
    <Section title="The exercise">
      <div className="space-y-3">
        <div className="grid grid-cols-[1fr_10rem] gap-3">
          <Field label="Title" error={errorAt('title')}>
            {(id) => (
              <input
                id={id}
                className={INPUT}
                value={draft.title}
                maxLength={200}
                onChange={(e) => set({ title: e.target.value })}
              />
            )}
          </Field>
          <Field label="Kind">
            {() => (
              <Select
                label="Kind"
                value={draft.kind}
                className="w-full"
                onChange={(kind) => set({ kind, alsoKinds: draft.alsoKinds.filter((own) => own !== kind) })}
                options={KindOfExercise.options.map((value) => ({ value, text: value }))}
              />
            )}
          </Field>
        </div>
        <AlsoKinds draft={draft} set={set} />
        <Field label="The story, and what is to be done" error={errorAt('text')}>
          {(id) => (
            <textarea
              id={id}
              className={`${INPUT} min-h-28`}
              value={draft.text}
              maxLength={8000}
              onChange={(e) => set({ text: e.target.value })}
            />
          )}
        </Field>
        <div className="grid grid-cols-4 gap-3">
          <Field label="Frames (empty: any)" error={errorAt('frames')}>
            {(id) => <NumberInput id={id} empty value={draft.frames} onChange={(frames) => set({ frames })} />}
          </Field>
          <Field label="Frames a second" error={errorAt('fps')}>
            {(id) => <NumberInput id={id} value={draft.fps} onChange={(fps) => fps !== null && set({ fps })} />}
          </Field>
          <Field label="First frame" error={errorAt('firstFrame')}>
            {(id) => (
              <NumberInput
                id={id}
                value={draft.firstFrame}
                onChange={(firstFrame) => firstFrame !== null && set({ firstFrame })}
              />
            )}
          </Field>
          <Field label="Minutes on the clock" error={errorAt('clockMinutes')} hint="A timed drill, handed in once.">
            {(id) => (
              <NumberInput
                id={id}
                empty
                value={draft.clockMinutes}
                onChange={(clockMinutes) => set({ clockMinutes })}
              />
            )}
          </Field>
        </div>
        <Field label="One way to do it">
          {() => (
            <Select
              label="One way to do it"
              className="w-full"
              value={draft.cures}
              options={CURES_SHOWN.map((value) => ({ value, text: CURES[value] }))}
              onChange={(cures) => set({ cures })}
            />
          )}
        </Field>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Loop">
            {() => (
              <Select
                label="Loop"
                className="w-full"
                value={draft.loop}
                onChange={(loop) => set({ loop: LoopChoice.parse(loop) })}
                options={options(LOOPS)}
              />
            )}
          </Field>
          <Field label="Ground">
            {() => (
              <Select
                label="Ground"
                className="w-full"
                value={draft.ground}
                onChange={(ground) => set({ ground: ground })}
                options={options(GROUNDS)}
              />
            )}
          </Field>
        </div>
        {draft.ground !== 'steps' && (
          <div className="w-80">
            <Field
              label="Height of the ground"
              hint="In the files’ own units. Empty: found out from the feet."
              error={errorAt('groundHeight')}
            >
              {(id) => (
                <NumberInput
                  id={id}
                  empty
                  step={0.1}
                  value={draft.groundHeight}
                  onChange={(groundHeight) => set({ groundHeight })}
                />
              )}
            </Field>
          </div>
        )}
        <div className="grid grid-cols-3 gap-3">
          {(['length', 'rate', 'loop'] as const).map((rule) => (
            <Field key={rule} label={`Another ${rule} is`}>
              {() => (
                <Select
                  label={`Another ${rule} is`}
                  className="w-full"
                  value={draft.rules[rule]}
                  onChange={(value) => set({ rules: { ...draft.rules, [rule]: value } })}
                  options={options(RULES)}
                />
              )}
            </Field>
          ))}
        </div>
        <div className="grid grid-cols-2 gap-x-6 gap-y-3">
          <LineList
            label="Watch first, in this order"
            values={draft.watch}
            most={12}
            onChange={(watch) => set({ watch })}
          />
          <div className="space-y-3">
            <LineList
              label="Joints that must stay still"
              values={draft.still}
              most={40}
              placeholder="base"
              onChange={(still) => set({ still })}
            />
            <LineList
              label="Tops of two groups that should take turns"
              values={draft.groups}
              most={2}
              placeholder="pilot"
              onChange={(groups) => set({ groups })}
            />
          </div>
        </div>
        <fieldset>
          <legend className="mb-0.5 text-xs font-semibold text-graphite">To have done before</legend>
          <div className="flex flex-wrap gap-x-4 gap-y-1 text-sm">
            {briefs
              .filter(({ archived }) => archived === null)
              .map(({ family, title }) => (
                <label key={family} className="flex items-center gap-1.5">
                  <input
                    type="checkbox"
                    checked={draft.before.includes(family)}
                    onChange={(e) =>
                      set({
                        before: e.target.checked
                          ? [...draft.before, family]
                          : draft.before.filter((own) => own !== family),
                      })
                    }
                  />
                  {title}
                </label>
              ))}
          </div>
        </fieldset>
      </div>
    </Section>
  );
}
