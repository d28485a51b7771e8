import { type FrameMark, linesOf, type MarkedShot } from './frame-mark.ts';

/** Colours that OpenTimelineIO names, by how much a mark weighs. */
const COLOURS: Readonly<Record<string, string>> = { must: 'RED', should: 'ORANGE', nice: 'YELLOW' };

/**
 * Marks as markers on a clip (Academy Software Foundation, *OpenTimelineIO*: `Timeline.1`, `Stack.1`, `Track.1`, `Clip.2`, `Marker.2`; the schemas
 * from memory), in frames of the shot.
 */
export function writeTimelineMarkers(marks: readonly FrameMark[], shot: MarkedShot): string {
  const time = (value: number) => ({ OTIO_SCHEMA: 'RationalTime.1', rate: shot.fps, value });
  const range = (from: number, frames: number) => ({
    OTIO_SCHEMA: 'TimeRange.1',
    start_time: time(from),
    duration: time(frames),
  });
  const plain = { effects: [], markers: [], metadata: {}, enabled: true };
  const clip = {
    OTIO_SCHEMA: 'Clip.2',
    ...plain,
    name: shot.name,
    source_range: range(0, shot.frames),
    active_media_reference_key: 'DEFAULT_MEDIA',
    media_references: {
      DEFAULT_MEDIA: {
        OTIO_SCHEMA: 'ExternalReference.1',
        ...{ name: shot.file, target_url: encodeURI(shot.file), available_range: range(0, shot.frames) },
        metadata: {},
      },
    },
    markers: marks.map((mark) => ({
      OTIO_SCHEMA: 'Marker.2',
      name: mark.kind,
      color: COLOURS[mark.weight] ?? 'GREEN',
      comment: linesOf(mark).join('\n'),
      marked_range: range(mark.from - shot.first, mark.to - mark.from + 1),
      metadata: { ypsigraph: { id: mark.id, point: mark.point, state: mark.state, author: mark.author } },
    })),
  };
  const track = { OTIO_SCHEMA: 'Track.1', ...plain, name: 'shot', kind: 'Video', source_range: null, children: [clip] };
  const stack = { OTIO_SCHEMA: 'Stack.1', ...plain, name: 'tracks', source_range: null, children: [track] };
  const timeline = { OTIO_SCHEMA: 'Timeline.1', name: shot.name, global_start_time: null, metadata: {}, tracks: stack };
  return `${JSON.stringify(timeline, undefined, 2)}\n`;
}
