/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import { useState } from 'react';
import { exposeOn } from '@ypsigraph/core/exemplar/expose';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { prepareShot } from '@ypsigraph/core/motion/prepare-shot';
import type { Kind } from '@ypsigraph/core/motion/prepared-shot';
import { TimingChart } from '../src/charts/timing-chart.tsx';
import { MotionSource } from '../src/desk/frames/motion-source.ts';
import { type Draft, measured, newDraft, onto, withNumbers } from '../src/desk/margin/draft.ts';
import { eventsOf, nextEvent, withEvent } from '../src/desk/marks/delay-events.ts';
import { gripsOf, WantedFields, wantedFrames } from '../src/desk/marks/kinds/registry.tsx';
import { asPhrase, filled } from '../src/desk/margin/phrases.tsx';
import { Guard } from '../src/kit/guard.tsx';

// The browser gives pages this; the page it stands in for here does not.
globalThis.crypto.randomUUID ??= () => '00000000-0000-4000-8000-000000000000';

const source = (kind: Kind, faults: Record<string, number> = {}): MotionSource =>
  new MotionSource(prepareShot(EXEMPLARS[kind]!.make({}, faults), { kind }));

/** A draft that can be changed, and what it has become. */
function Written({ start, told, on }: { start: Draft; told: (draft: Draft) => void; on?: MotionSource | undefined }) {
  const [draft, setDraft] = useState(start);
  const set = (next: Draft): void => {
    setDraft(next);
    told(next);
  };
  return <WantedFields draft={draft} setDraft={set} source={on} />;
}
const write = (start: Draft, on?: MotionSource): (() => Draft) => {
  let last = start;
  render(<Written start={start} told={(draft) => (last = draft)} on={on} />);
  return () => last;
};
const type = (label: string | RegExp, value: number): void =>
  void fireEvent.change(screen.getByLabelText(label), { target: { value: String(value) } });

describe('a mark put on one frame', () => {
  test('of a hold is about all of it; of a spacing about the way between the key poses', async () => {
    const turn = source('turn', { deadHold: 1 });
    const hold = await measured(newDraft('moving hold', 24, 24, 'head'), turn);
    expect(hold.payload).toMatchObject({
      kind: 'moving hold',
      measured: { kind: 'dead', from: hold.from, to: hold.to },
    });
    expect(hold.to - hold.from).toBeGreaterThan(8);
    const walk = await measured(newDraft('spacing', 9, 9, 'hand.L'), source('walk'));
    expect([walk.from, walk.to]).toEqual([7, 10]);
  });

  test('where nothing of its kind is it has no numbers, and stays where it was put', async () => {
    // Where poses are held there is no end of a move to go past.
    const held = new MotionSource(prepareShot(exposeOn(EXEMPLARS.walk!.make({}, {}), 6), { kind: 'walk' }));
    const draft = await measured(newDraft('overshoot', 5, 5, 'foot.L'), held);
    expect(draft).toMatchObject({ from: 5, to: 5, payload: { measured: null, wanted: null } });
  });

  test('that was moved again while it was measured keeps its place, and words typed meanwhile stay', async () => {
    const asked = newDraft('timing', 9, 18, 'head');
    const told = await measured(asked, source('turn'));
    expect(withNumbers({ ...asked, words: 'Faster.' }, asked, told)).toMatchObject({
      words: 'Faster.',
      moved: false,
      payload: told.payload,
    });
    const moved = { ...asked, to: 20 };
    expect(withNumbers(moved, asked, told)).toBe(moved);
    expect(withNumbers(undefined, asked, told)).toBeUndefined();
    const other = newDraft('timing', 9, 18, 'head');
    expect(withNumbers(other, asked, told)).toBe(other);
  });

  test('is measured in the page where the worker can’t have its file', async () => {
    const gone = { measure: () => Promise.reject(new Error('gone')), met: () => Promise.reject(new Error('gone')) };
    const shot = prepareShot(EXEMPLARS.turn!.make({}, {}), { kind: 'turn' });
    const draft = newDraft('timing', 9, 18, 'head');
    const { payload } = await measured(draft, new MotionSource(shot, gone));
    expect(payload).toEqual((await measured(draft, new MotionSource(shot))).payload);
    expect(payload).toMatchObject({ measured: { from: 9, to: 18 } });
  });

  test('that changed meanwhile keeps what came, under what somebody changes of the one they saw', () => {
    const seen = newDraft('spacing', 4, 7, 'head');
    const now = { ...seen, kind: 'arc' as const };
    expect(onto(now, seen, { ...seen, words: 'Rounder.' })).toEqual({ ...now, words: 'Rounder.' });
    // Seen before it was measured, moved after: it is measured again.
    const after = { ...seen, moved: false };
    expect(onto(after, seen, { ...seen, to: 9 })).toMatchObject({ to: 9, moved: true });
    expect(onto(now, seen, undefined)).toBeUndefined();
    const other = newDraft('note', 1, 1, null);
    expect(onto(now, seen, other)).toBe(other);
  });

  test('a breakdown is measured at its frame, between the poses about it', async () => {
    const draft = await measured(newDraft('breakdown', 5, 5, null), source('walk'));
    expect(draft.from).toBeLessThan(5);
    expect(draft.to).toBeGreaterThan(5);
    expect(draft.payload).toMatchObject({ measured: { at: 5 } });
  });
});

describe('what is wanted, in numbers', () => {
  test('of an event one frame, of a hold its ends and its drift', async () => {
    const event = write(await measured(newDraft('timing', 13, 13, null), source('walk')));
    type('wanted at', 12);
    expect(event().payload!.wanted).toEqual({ from: 12, to: 12 });
    const hold = write(await measured(newDraft('moving hold', 24, 24, 'head'), source('turn', { deadHold: 1 })));
    type(/drift/, 4);
    type('hold from', 20);
    expect(hold().payload!.wanted).toMatchObject({ from: 20, drift: 4 });
  });

  test('a span can’t end before it begins', async () => {
    const span = write(await measured(newDraft('timing', 9, 18, 'head'), source('turn')));
    type('wanted from', 30);
    expect(span().payload!.wanted).toEqual({ from: 30, to: 30 });
  });

  test('a spacing by its name: ticks come where that puts them', async () => {
    const draft = write(await measured(newDraft('spacing', 1, 13, 'hand.L'), source('walk')));
    fireEvent.click(screen.getByRole('button', { name: 'even' }));
    const { fractions } = draft().payload!.wanted as { fractions: number[] };
    fractions.forEach((t, k) => expect(t).toBeCloseTo(k / 12, 9));
  });

  test('of a finding that was taken its band says it, and there is nothing to type', async () => {
    const draft = await measured(newDraft('timing', 1, 25, null), source('walk'));
    const quote = { reading: 'gait.step', value: 9, unit: 'frames', band: [10, 14] as [number, number] };
    const { container } = render(
      <WantedFields
        source={undefined}
        draft={{ ...draft, payload: { ...draft.payload!, quote } as never }}
        setDraft={() => undefined}
      />,
    );
    expect(container.textContent).toBe('');
  });
});

describe('a timing chart', () => {
  test('its ticks go by arrow keys, never past those beside them, and the ends stay', () => {
    let now = [0, 0.2, 0.5, 1];
    const { rerender } = render(
      <TimingChart measured={now} wanted={now} first={4} onChange={(next) => (now = next)} />,
    );
    const again = (): void =>
      rerender(<TimingChart measured={[0, 0.2, 0.5, 1]} wanted={now} first={4} onChange={(next) => (now = next)} />);
    expect(screen.getAllByRole('slider')).toHaveLength(2);
    const tick = (): HTMLElement => screen.getByRole('slider', { name: 'Frame 5, wanted' });
    fireEvent.keyDown(tick(), { key: 'ArrowRight' });
    expect(now[1]).toBeCloseTo(0.22, 9);
    again();
    for (let k = 0; k < 6; k++) {
      fireEvent.keyDown(tick(), { key: 'ArrowRight', shiftKey: true });
      again();
    }
    expect(now).toEqual([0, 0.5, 0.5, 1]);
  });
});

describe('phrases', () => {
  test('are filled with the numbers of the mark they are used on, and kept without them', async () => {
    const draft = { ...(await measured(newDraft('timing', 9, 18, 'head'), source('turn'))), words: '' };
    const text = filled('{point}: {now}; I want {wanted}. See {from}.', draft);
    expect(text).toMatch(/^head: \d+ frames, from \d+ to \d+; I want \d+ frames, from \d+ to \d+\. See 9\.$/);
    expect(filled('{nothing} stays', draft)).toBe('{nothing} stays');
    expect(asPhrase({ ...draft, words: 'The head takes too long.' })).toBe('The {point} takes too long.');
  });
});

test('what goes wrong in one part of the desk leaves the rest standing', () => {
  const silent = jest.spyOn(console, 'error').mockImplementation(() => undefined);
  const Broken = () => {
    throw new Error('no such lens');
  };
  render(
    <>
      <Guard what="the paper">
        <Broken />
      </Guard>
      <p>the margin</p>
    </>,
  );
  expect(screen.getByRole('alert').textContent).toContain('Something went wrong with the paper');
  expect(screen.getByText('the margin')).toBeTruthy();
  silent.mockRestore();
});

describe('how much, like this, and how much later', () => {
  const walk = source('walk');
  const choose = (label: string | RegExp, value: string): void =>
    void fireEvent.change(screen.getByLabelText(label), { target: { value } });

  test('an amount is typed, taken as a share, or asked of another quantity', async () => {
    const draft = await measured(newDraft('amount', 4, 4, 'upperArm.L'), walk);
    const now = write(draft, walk);
    const swing = draft.payload?.kind === 'amount' ? draft.payload.measured!.value : NaN;
    fireEvent.click(screen.getByTitle('a third less'));
    expect(now().payload).toMatchObject({ wanted: { value: Number(((2 / 3) * swing).toFixed(1)) } });
    type(/^wanted/, 12);
    expect(now().payload).toMatchObject({ measured: { quantity: 'swing' }, wanted: { value: 12 } });
    choose('of', 'spread:upperArm.L');
    expect(now()).toMatchObject({ moved: true, payload: { measured: { quantity: 'spread', of: 'upperArm.L' } } });
    // What was chosen is what is measured next.
    expect((await measured(now(), walk)).payload).toMatchObject({ measured: { quantity: 'spread', as: 'value' } });
  });

  test('over a range it is a size, a mean or a shake', async () => {
    const draft = await measured({ ...newDraft('amount', 1, 13, 'head'), typed: true }, walk);
    const now = write(draft, walk);
    choose('how much', 'shake');
    const shake = await measured(now(), walk);
    expect(shake.payload).toMatchObject({ measured: { as: 'shake' } });
    // A share of a shake is nothing that anybody asks for.
    expect(shake.payload?.kind === 'amount' && shake.payload.wanted!.value).toBeLessThanOrEqual(0.2);
  });

  test('an amount is pulled by the end of its limb, and turned by arrow keys', async () => {
    const draft = await measured(newDraft('amount', 4, 4, 'upperArm.L'), walk);
    const [grip] = gripsOf(draft.payload, { source: walk, sample: 3, from: 4, to: 4 });
    const kept = grip!.pull(grip!.place)!;
    const value = (payload: typeof kept): number => (payload.kind === 'amount' ? payload.wanted!.value : NaN);
    expect(value(kept)).toBeCloseTo(value(draft.payload!), 0);
    expect(value(grip!.turn!(3)!)).toBeCloseTo(value(draft.payload!) + 3, 6);
    // At another frame there is nothing to pull.
    expect(gripsOf(draft.payload, { source: walk, sample: 9, from: 4, to: 4 })).toEqual([]);
  });

  test('a pose is pulled by its joints, taken from a frame, and put back part by part', async () => {
    const draft = await measured(newDraft('pose', 4, 4, null), walk);
    const shown = { source: walk, sample: 3, from: 4, to: 4 };
    const grips = gripsOf(draft.payload, shown);
    expect(grips.map(({ label }) => label.split(':')[0])).toEqual(
      expect.arrayContaining(['hips', 'head', 'left hand', 'right foot', 'left shin']),
    );
    const hand = grips.find(({ label }) => label.startsWith('left hand'))!;
    const pulled = hand.pull([hand.place[0], hand.place[1] + 12, hand.place[2] + 6])!;
    const now = write({ ...draft, payload: pulled }, walk);
    expect(screen.getByTitle('Put the left arm back')).toBeTruthy();
    choose('or take', 'legs');
    type('frame', 13);
    fireEvent.click(screen.getByRole('button', { name: 'Take it' }));
    expect(screen.getByTitle('Put the left leg back')).toBeTruthy();
    fireEvent.click(screen.getByTitle('Put the left arm back'));
    const { payload } = now();
    const names = payload?.kind === 'pose' ? Object.keys(payload.wanted!.turns) : [];
    expect(names.length).toBeGreaterThan(0);
    expect(names.filter((name) => /arm|hand/i.test(name))).toEqual([]);
    // Elsewhere it is another pose: nothing is pulled there.
    expect(gripsOf(payload, { ...shown, sample: 9 })).toEqual([]);
  });

  test('a delay is told between two events, which are chosen, clicked or stepped to', async () => {
    const draft = await measured({ ...newDraft('delay', 1, 7, null), typed: true }, walk);
    const [first, second] = eventsOf(draft)!;
    expect([first.name, second.name]).toEqual(['contact', 'passing']);
    const events = walk.events();
    const next = nextEvent(events, draft, 1)!;
    expect(next.label).toBeGreaterThan(second.label);
    expect(nextEvent(events, draft, -1)!.label).toBeLessThan(second.label);
    const moved = await measured(withEvent(draft, next, 'second'), walk);
    expect(moved.payload).toMatchObject({ measured: { firstAt: first.label, secondAt: next.label } });
    // A click takes the end that lies nearer.
    const up = events.find(({ name }) => name === 'up')!;
    expect(withEvent(draft, up)).toMatchObject({ from: 1, to: up.label });
    const now = write(draft, walk);
    type(/later by/, 4);
    expect(now().payload).toMatchObject({ wanted: { frames: 4 } });
    choose('between', 'joints');
    const { payload } = now();
    expect(payload).toMatchObject({ measured: { of: 'joints' } });
    // A joint is no later than itself: what was chosen before stays, with the reason.
    choose('second', payload?.kind === 'delay' ? payload.measured!.first : '');
    expect(screen.getByRole('status').textContent).toMatch(/too unlike/);
    expect(now().payload).toEqual(payload);
  });

  test('the second event of a delay is dragged on the strip', async () => {
    const { payload } = await measured({ ...newDraft('delay', 1, 7, null), typed: true }, walk);
    const grip = wantedFrames(payload)!;
    expect(grip.now).toEqual({ from: 1, to: 7 });
    expect(grip.to({ from: 1, to: 9 })).toMatchObject({ wanted: { frames: 8 } });
  });
});
