import { useState } from 'react';
import { DELAY_MARK, eventName, type MeasuredDelay } from '@ypsigraph/core/mark/delay-mark';
import { type ShotEvent, isSame } from '@ypsigraph/core/measure/keys/shot-events';
import type { Draft } from '../../margin/draft.ts';
import { eventsOf, withEvent } from '../delay-events.ts';
import { AmountField, ChoiceField, Fields, STROKE } from './fields.tsx';
import type { FieldsProps, MarkKindView } from './mark-kind-view.ts';

const SAID = { events: 'two events', joints: 'two joints', chain: 'the joints of a chain' } as const;

export const DELAY_VIEW: MarkKindView<'delay'> = {
  about: 'how much later one thing comes than another',
  sign: <path {...STROKE} d="M-4-4.5V-1.5M4 1.5V4.5M-4-3C1-3-1 3 4 3" />,
  Fields: DelayFields,
  /** From the first event to where the second is wanted, on the strip. */
  frames: {
    read: ({ measured: { of, firstAt, frames: now }, wanted: { frames } }) => {
      if (of !== 'events' || firstAt === undefined) return undefined;
      const second = firstAt + frames;
      // Which end is the second one's is told by where it lies now.
      return now < 0
        ? { from: Math.min(second, firstAt), to: firstAt }
        : { from: firstAt, to: Math.max(second, firstAt) };
    },
    write: ({ from, to }, { measured: { firstAt = 0, frames: now } }) => ({
      frames: now < 0 ? from - firstAt : to - firstAt,
    }),
  },
};

function DelayFields({ payload, want, draft, setDraft, source }: FieldsProps<'delay'>) {
  const { measured, wanted } = payload;
  const [unlike, setUnlike] = useState(false);
  /** What can't be told is not chosen: the one before stays, with the reason. */
  const again = (next: MeasuredDelay): void => {
    const shot = source?.figure?.measured;
    const isTold = shot !== undefined && DELAY_MARK.measure(shot, draft, next) !== null;
    setUnlike(!isTold);
    if (isTold) setDraft({ ...draft, payload: { ...payload, measured: next }, moved: true });
  };
  const choose = (of: MeasuredDelay['of']): void => {
    setUnlike(false);
    if (of === 'events') return setDraft({ ...draft, payload: null, moved: true });
    const [first, second] = ends(source, draft.point);
    if (first !== undefined && second !== undefined) again({ of, first, second, frames: 0 });
  };
  return (
    <Fields>
      <ChoiceField
        label="between"
        value={measured.of}
        options={(Object.keys(SAID) as (keyof typeof SAID)[]).map((of) => [of, SAID[of]])}
        onChange={choose}
      />
      {measured.of === 'events' ? (
        <EventFields draft={draft} events={source?.events() ?? []} onChoose={setDraft} />
      ) : (
        <>
          <JointField
            label="first"
            value={measured.first}
            source={source}
            onChange={(first) => again({ ...measured, first })}
          />
          <JointField
            label="second"
            value={measured.second}
            source={source}
            onChange={(second) => again({ ...measured, second })}
          />
        </>
      )}
      {unlike && (
        <p role="status" className="text-xs text-graphite">
          Those two move too unlike one another to tell a delay.
        </p>
      )}
      <AmountField
        label={measured.of === 'chain' ? 'each link later by' : 'the second later by'}
        unit="frames"
        step={measured.of === 'events' ? 1 : 0.5}
        value={wanted.frames}
        onChange={(frames) => want({ frames })}
      />
    </Fields>
  );
}

interface EventProps {
  readonly draft: Draft;
  readonly events: readonly ShotEvent[];
  readonly onChoose: (draft: Draft) => void;
}

const said = (event: ShotEvent): string => `${event.label}  ${eventName(event).replace(/^the /, '')}`;

/** The two events, each chosen from all that happen. */
function EventFields({ draft, events, onChoose }: EventProps) {
  const own = eventsOf(draft);
  if (!own) return null;
  const at = (chosen: ShotEvent): string => String(events.findIndex((other) => isSame(other, chosen)));
  const options = events.map((other, k) => [String(k), said(other)] as const);
  return (['first', 'second'] as const).map((end, k) => (
    <ChoiceField
      key={end}
      label={end}
      value={at(own[k]!)}
      options={options}
      onChange={(chosen) => onChoose(withEvent(draft, events[Number(chosen)]!, end))}
    />
  ));
}

interface JointProps {
  readonly label: string;
  readonly value: string;
  readonly source: FieldsProps<'delay'>['source'];
  readonly onChange: (joint: string) => void;
}

const JointField = ({ label, value, source, onChange }: JointProps) => (
  <ChoiceField
    label={label}
    value={value}
    options={(source?.pointNames ?? [value]).map((name) => [name, name])}
    onChange={onChange}
  />
);

/** The joints a delay is first told between: what the chosen point hangs from, and itself. */
function ends(source: FieldsProps<'delay'>['source'], point: string | null): (string | undefined)[] {
  const shot = source?.figure?.shown;
  if (!shot) return [];
  const { joints } = shot.motion;
  const chosen = Math.max(
    0,
    joints.findIndex(({ name }) => name === point),
  );
  const own = joints[chosen]!.parent >= 0 ? chosen : Math.min(1, joints.length - 1);
  return [joints[Math.max(0, joints[own]!.parent)]?.name, joints[own]?.name];
}
