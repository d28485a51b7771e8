import type { Mark } from '@ypsigraph/contract/marks';
import type { FrameMark, MarkedShot } from '@ypsigraph/core/formats/marks/frame-mark';
import { writeTimelineMarkers } from '@ypsigraph/core/formats/marks/timeline-markers';
import { writeWebAnnotations } from '@ypsigraph/core/formats/marks/web-annotations';
import { writeWebVtt } from '@ypsigraph/core/formats/marks/web-vtt';
import { writeTable } from '@ypsigraph/core/formats/tables/write-table';
import { sayMark } from '@ypsigraph/core/mark/mark';
import { saveText } from '../../kit/save-text.ts';
import { Select } from '../../kit/select.tsx';
import { useReview } from '../review.ts';

interface Way {
  readonly text: string;
  readonly ending: string;
  readonly write: (marks: readonly FrameMark[], shot: MarkedShot) => string;
}

const COLUMNS = ['frame from', 'frame to', 'kind', 'point', 'words', 'now', 'wanted', 'weight', 'state', 'by', 'at'];

/** Open formats that other programs read. */
const WAYS: readonly Way[] = [
  { text: 'cues of a clip (WebVTT)', ending: '.vtt', write: writeWebVtt },
  { text: 'markers of a timeline (OpenTimelineIO)', ending: '.otio', write: writeTimelineMarkers },
  { text: 'web annotations (JSON-LD)', ending: '.jsonld', write: writeWebAnnotations },
  {
    text: 'a table (CSV)',
    ending: '.csv',
    write: (marks) =>
      writeTable([
        COLUMNS,
        ...marks.map(({ from, to, kind, point, words, now, wanted, weight, state, author, at }) => [
          ...[from, to, kind, point, words],
          ...[now, wanted, weight, state, author, at],
        ]),
      ]),
  },
];

/** The marks of this revision as a file for another program. */
export function TakeMarksAway({ marks }: { marks: readonly Mark[] }) {
  const { shot, revision, source } = useReview();
  if (!source || marks.length === 0) return null;
  const { fps, first, frames } = source;
  const take = (ending: string): void => {
    const way = WAYS.find((own) => own.ending === ending);
    if (!way) return;
    const own = marks.map((mark): FrameMark => {
      const { id, kind, from, to, point, words, weight, state, author, at } = mark;
      const said = mark.payload ? sayMark(mark.payload, mark) : { now: '', wanted: '' };
      return { id, kind, from, to, point, words, ...said, weight, state, author: author.name, at };
    });
    const shown = {
      name: `${shot.brief.title}, revision ${revision.number}`,
      file: revision.fileName,
      fps,
      first,
      frames,
    };
    saveText(way.write(own, shown), `${revision.fileName.replace(/\.[^.]*$/, '')}-marks${ending}`);
  };
  return (
    <Select
      givesBack
      label="Take the marks away as"
      className="text-xs"
      value=""
      options={[
        { value: '', text: 'Take the marks away as …' },
        ...WAYS.map(({ text, ending }) => ({ value: ending, text })),
      ]}
      onChange={take}
    />
  );
}
