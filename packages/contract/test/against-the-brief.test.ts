import { againstTheBrief } from '../src/against-the-brief.ts';

/** A cycle of 24 frames, whose first is there once more at its end. */
const brief = { frames: 24, fps: 24, loop: 'repeat' } as const;

describe('a motion held against its brief before it is sent', () => {
  test('one that is as the brief says has nothing said of it', () => {
    expect(againstTheBrief({ frames: 25, fps: 24, habit: 'repeat' }, brief)).toEqual([]);
    // Rates that differ in the file's last digits are one.
    expect(againstTheBrief({ frames: 25, fps: 24.0000384, habit: 'repeat' }, brief)).toEqual([]);
  });

  test('its length, its rate and the habit of its loop are said where they are other', () => {
    const said = againstTheBrief({ frames: 23, fps: 30, habit: 'follow' }, brief);
    expect(said.map(({ rule }) => rule)).toEqual(['length', 'rate', 'loop']);
    expect(said.map(({ say }) => say)).toEqual([
      'The exercise takes 24 frames; this takes 23.',
      'The file says 30 frames a second; the exercise runs at 24, and its frames are taken as such.',
      'The exercise asks for a loop whose last frame repeats the first; this is a loop whose last frame comes just before the first.',
    ]);
    expect(againstTheBrief({ frames: 24, fps: 24, habit: 'none' }, brief)[0]!.say).toMatch(/this is no loop\.$/);
  });

  test('a brief that leaves length and loop open asks for neither', () => {
    expect(againstTheBrief({ frames: 90, fps: 24, habit: 'none' }, { ...brief, frames: null, loop: 'auto' })).toEqual(
      [],
    );
  });
});
