import { FormatError } from '../src/formats/format-error.ts';
import type { FrameMark, MarkedShot } from '../src/formats/marks/frame-mark.ts';
import { writeTimelineMarkers } from '../src/formats/marks/timeline-markers.ts';
import { readWebAnnotations, writeWebAnnotations } from '../src/formats/marks/web-annotations.ts';
import { writeWebVtt } from '../src/formats/marks/web-vtt.ts';

const SHOT: MarkedShot = {
  name: 'Night round, Hoku Kealoha',
  file: 'night round 2.bvh',
  fps: 24,
  first: 1,
  frames: 25,
};
const mark = (own: Partial<FrameMark>): FrameMark => ({
  ...{ id: '1b671a64-40d5-491e-99b0-da01ff1f3341', kind: 'arc', from: 7, to: 13, point: 'hand.L' },
  ...{ words: 'The hand cuts its corner.', now: 'off by 4 %', wanted: 'along the arc', weight: 'must', state: 'open' },
  ...{ author: 'Ottoline Farrow', at: '2026-11-30T18:00:00.000Z' },
  ...own,
});
const MARKS = [
  mark({}),
  mark({
    ...{ id: '1b671a64-40d5-491e-99b0-da01ff1f3342', kind: 'note', from: 1, to: 1, point: null, now: '', wanted: '' },
    ...{ words: 'Slower & <heavier> --> see\n\nmy drawing.', weight: 'nice' },
  }),
];

interface Cue {
  readonly id: string;
  readonly startTime: number;
  readonly endTime: number;
  readonly text: string;
}
// Reference: the WebVTT parser and validator that the W3C’s own page runs (package `webvtt-parser`).
const { WebVTTParser } = jest.requireActual<{
  WebVTTParser: new (entities?: Readonly<Record<string, string>>) => {
    parse(text: string): { cues: readonly Cue[]; errors: readonly { message: string }[] };
  };
}>('webvtt-parser');
const ENTITIES = { '&amp': '&', '&lt': '<', '&gt': '>', '&amp;': '&', '&lt;': '<', '&gt;': '>' };

describe('marks as cues', () => {
  const parsed = new WebVTTParser(ENTITIES).parse(writeWebVtt(MARKS, SHOT));

  test('are read by another parser without a fault, in order of time', () => {
    expect(parsed.errors).toEqual([]);
    expect(parsed.cues.map(({ id }) => id)).toEqual([MARKS[1]!.id, MARKS[0]!.id]);
  });

  test('stand from the beginning of their first frame to the end of their last', () => {
    expect(parsed.cues.map(({ startTime, endTime }) => [startTime, endTime])).toEqual([
      [0, expect.closeTo(1 / 24, 3)],
      [0.25, expect.closeTo(13 / 24, 3)],
    ]);
  });

  test('say what the mark says, whatever is written in it', () => {
    expect(parsed.cues[1]!.text).toBe('arc, hand.L: The hand cuts its corner.\nnow: off by 4 %\nwanted: along the arc');
    expect(parsed.cues[0]!.text).toMatch(/^note: Slower &amp; &lt;heavier&gt; --&gt; see\nmy drawing\.$/);
  });

  test('of a shot of hours have their hours', () => {
    const late = writeWebVtt([mark({ from: 24 * 3723 + 13, to: 24 * 3723 + 24 })], { ...SHOT, frames: 100_000 });
    expect(late).toContain('01:02:03.500 --> 01:02:04.000');
  });
});

describe('marks as web annotations', () => {
  test('lie on the same frames when another installation reads them, at whatever rate it first was', () => {
    for (const fps of [12, 24, 25, 29.97, 60])
      for (const first of [0, 1, 101]) {
        const shot = { ...SHOT, fps, first };
        const own = MARKS.map((one) => ({ ...one, from: one.from + first, to: one.to + first }));
        expect(readWebAnnotations(writeWebAnnotations(own, shot), shot)).toEqual(
          own.map(({ now, wanted, state: _, ...rest }) => ({
            ...rest,
            described: [now && `now: ${now}`, wanted && `wanted: ${wanted}`].filter((text) => text !== ''),
          })),
        );
      }
  });

  test('have what the model asks for: context, ids, bodies, a selector of media fragments', () => {
    const page = JSON.parse(writeWebAnnotations(MARKS, SHOT)) as { items: Record<string, unknown>[] };
    expect(page).toMatchObject({ '@context': 'http://www.w3.org/ns/anno.jsonld', type: 'AnnotationPage' });
    expect(page.items[0]).toMatchObject({
      id: 'urn:uuid:1b671a64-40d5-491e-99b0-da01ff1f3341',
      type: 'Annotation',
      created: '2026-11-30T18:00:00.000Z',
      target: {
        source: 'night%20round%202.bvh',
        selector: { type: 'FragmentSelector', value: 't=npt:0.25,0.541667' },
      },
    });
  });

  test('of other programs are read as far as they say when', () => {
    const other = {
      items: [
        { id: 'x', body: { type: 'TextualBody', value: 'Look here.' }, target: { selector: { value: 't=1' } } },
        { id: 'y', body: { value: 'Until then.' }, target: { selector: [{ value: 't=npt:,0.5' }] } },
      ],
    };
    expect(readWebAnnotations(JSON.stringify(other), SHOT)).toMatchObject([
      { kind: 'note', from: 25, to: 25, words: 'Look here.', weight: 'should', point: null },
      { kind: 'note', from: 1, to: 12, words: 'Until then.' },
    ]);
    expect(readWebAnnotations(JSON.stringify(other.items), SHOT)).toHaveLength(2);
  });

  test.each([
    ['no JSON', '{', /no JSON/],
    ['none', '{"items":[]}', /no annotation/],
    [
      'too many',
      JSON.stringify(Array(501).fill({ target: { selector: { value: 't=1' } } })),
      /501 annotations.*at most 500/,
    ],
    ['one that lies nowhere', '{"items":[{"target":{}}]}', /annotation 1 does not say when/],
  ])('%s is refused in words', (_, text, message) => {
    expect(() => readWebAnnotations(text, SHOT)).toThrow(FormatError);
    expect(() => readWebAnnotations(text, SHOT)).toThrow(message);
  });
});

test('marks as markers of a timeline: on one clip, in frames, coloured by their weight', () => {
  const timeline = JSON.parse(writeTimelineMarkers(MARKS, SHOT)) as {
    tracks: { children: { children: { markers: Record<string, unknown>[]; source_range: unknown }[] }[] };
  };
  const [clip] = timeline.tracks.children[0]!.children;
  const rational = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: 24, value });
  expect(clip!.source_range).toEqual({ OTIO_SCHEMA: 'TimeRange.1', start_time: rational(0), duration: rational(25) });
  expect(clip!.markers.map(({ name, color, marked_range }) => [name, color, marked_range])).toEqual([
    ['arc', 'RED', { OTIO_SCHEMA: 'TimeRange.1', start_time: rational(6), duration: rational(7) }],
    ['note', 'YELLOW', { OTIO_SCHEMA: 'TimeRange.1', start_time: rational(0), duration: rational(1) }],
  ]);
});
