import { FormatError } from '../format-error.ts';
import { type FrameMark, type MarkedShot, secondsOf } from './frame-mark.ts';

const CONTEXT = 'http://www.w3.org/ns/anno.jsonld';
const MEDIA_FRAGMENTS = 'http://www.w3.org/TR/media-frags/';

/**
 * Marks as a page of web annotations (W3C, *Web Annotation Data Model*), each on a stretch of time of the shot's file (W3C, *Media Fragments URI 1.0*,
 * normal play time).
 */
export function writeWebAnnotations(marks: readonly FrameMark[], shot: MarkedShot): string {
  const page = {
    '@context': CONTEXT,
    type: 'AnnotationPage',
    label: shot.name,
    items: marks.map((mark) => ({
      id: `urn:uuid:${mark.id}`,
      type: 'Annotation',
      motivation: 'commenting',
      created: mark.at,
      creator: { type: 'Person', name: mark.author },
      body: [
        { type: 'TextualBody', value: mark.words, format: 'text/plain', purpose: 'commenting' },
        { type: 'TextualBody', value: mark.kind, purpose: 'classifying' },
        { type: 'TextualBody', value: mark.weight, purpose: 'assessing' },
        ...(mark.point === null ? [] : [{ type: 'TextualBody', value: mark.point, purpose: 'identifying' }]),
        ...[mark.now && `now: ${mark.now}`, mark.wanted && `wanted: ${mark.wanted}`]
          .filter((text) => text !== '')
          .map((value) => ({ type: 'TextualBody', value, purpose: 'describing' })),
      ],
      target: {
        source: encodeURI(shot.file),
        selector: {
          type: 'FragmentSelector',
          conformsTo: MEDIA_FRAGMENTS,
          value: `t=npt:${secondsOf(mark, shot).map(exact).join(',')}`,
        },
      },
    })),
  };
  return `${JSON.stringify(page, undefined, 2)}\n`;
}

/** Seconds to a microsecond: a frame is found again at any rate. */
const exact = (seconds: number): string => String(Number(seconds.toFixed(6)));

/** Annotations of one page at most. */
const MOST = 500;

/** What is read of an annotation: where it lies, its words, and what else it describes: what there was, what was wanted. */
export type ReadMark = Pick<
  FrameMark,
  'id' | 'kind' | 'from' | 'to' | 'point' | 'words' | 'weight' | 'author' | 'at'
> & { readonly described: readonly string[] };

interface Loose {
  readonly [name: string]: unknown;
}

const asObject = (value: unknown): Loose =>
  typeof value === 'object' && value !== null && !Array.isArray(value) ? (value as Loose) : {};
const asList = (value: unknown): readonly unknown[] =>
  Array.isArray(value) ? value : value === undefined ? [] : [value];
const asText = (value: unknown): string => (typeof value === 'string' ? value : '');

/**
 * Reads a page of web annotations: of another installation, or of any program that writes them with stretches of time.
 *
 * @param shot the shot they are laid on: its rate and its first label
 * @throws FormatError where there are none, or too many, or one has no stretch of time
 */
export function readWebAnnotations(text: string, { fps, first }: Pick<MarkedShot, 'fps' | 'first'>): ReadMark[] {
  let page: unknown;
  try {
    page = JSON.parse(text);
  } catch {
    throw new FormatError('this is no JSON that can be read');
  }
  const items = Array.isArray(page) ? page : asList(asObject(page).items);
  if (items.length === 0) throw new FormatError('there is no annotation in it');
  if (items.length > MOST)
    throw new FormatError(`there are ${items.length} annotations in it; at most ${MOST} can be read`);
  return items.map((item, k) => {
    const own = asObject(item);
    const bodies = asList(own.body).map(asObject);
    const all = (purpose: string | undefined): string[] =>
      bodies.filter((body) => body.purpose === purpose).map(({ value }) => asText(value));
    const said = (purpose: string | undefined): string => all(purpose)[0] ?? '';
    const selector = asObject(asList(asObject(own.target).selector)[0]);
    const match = /^t=(?:npt:)?(\d+(?:\.\d+)?)?(?:,(\d+(?:\.\d+)?))?$/.exec(asText(selector.value));
    if (!match || (match[1] === undefined && match[2] === undefined))
      throw new FormatError(`annotation ${k + 1} does not say when: expected a stretch of time, t=npt:0.5,1`);
    const from = Math.round(Number(match[1] ?? 0) * fps) + first;
    const to = match[2] === undefined ? from : Math.max(from, Math.round(Number(match[2]) * fps) + first - 1);
    return {
      id: asText(own.id).replace(/^urn:uuid:/, ''),
      kind: said('classifying') || 'note',
      ...{ from, to },
      point: said('identifying') || null,
      words: said('commenting') || said(undefined),
      described: all('describing'),
      weight: said('assessing') || 'should',
      author: asText(asObject(own.creator).name),
      at: asText(own.created),
    };
  });
}
