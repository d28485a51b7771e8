import { ImageDown } from 'lucide-react';
import { DropdownMenu } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { toast } from 'sonner';
import { attempt } from '../api/attempt.ts';
import { Hint } from '../kit/hint.tsx';
import { pngFile, svgFile } from '../kit/picture-of.ts';
import { saveBlob } from '../kit/save-text.ts';
import { useClock } from './frames/frame-clock.ts';
import { hasPlace } from './marks/placed-marks.ts';
import { usePlacedMarks } from './marks/use-placed-marks.ts';
import { useReview } from './review.ts';

/** Something on the desk that is taken away as a picture. */
interface Picture {
  readonly id: string;
  readonly text: string;
  /** Where it is; nothing is offered while it is not there. */
  readonly at: string;
  readonly ending: 'png' | 'svg';
}

const PAPER = '[data-testid="paper"]';
const ITEM = 'rounded-sm px-2 py-1 text-sm outline-none data-[highlighted]:bg-wash';

/** What can be taken away, the ending first that suits it best. */
const SEEN: readonly (Omit<Picture, 'ending'> & { readonly endings: readonly Picture['ending'][] })[] = [
  { id: 'paper', text: 'the paper at this frame', at: PAPER, endings: ['png', 'svg'] },
  { id: 'poses', text: 'the row of poses', at: '[data-testid="pose-row"]', endings: ['png', 'svg'] },
  { id: 'strip', text: 'the strip', at: '[data-testid="strip"]', endings: ['png', 'svg'] },
  { id: 'dial', text: 'the dial', at: '[data-testid="dial"] svg', endings: ['svg', 'png'] },
  { id: 'chart', text: 'a mark’s timing chart', at: '[data-testid="timing-chart"]', endings: ['svg', 'png'] },
];
const PICTURES: readonly Picture[] = SEEN.flatMap(({ endings, ...seen }) =>
  endings.map((ending) => ({ ...seen, ending, text: `${seen.text} (${ending.toUpperCase()})` })),
);

/** What is on the desk as the menu opens. */
function WhatIsSeen({ take }: { take: (picture: Picture) => void }) {
  const seen = useMemo(() => PICTURES.filter(({ at }) => document.querySelector(at)), []);
  return seen.map((picture) => (
    <DropdownMenu.Item key={picture.text} onSelect={() => take(picture)} className={ITEM}>
      {picture.text}
    </DropdownMenu.Item>
  ));
}

const inTheFile = async (element: Element, ending: Picture['ending']): Promise<Blob> =>
  ending === 'svg' ? new Blob([await svgFile(element)], { type: 'image/svg+xml' }) : pngFile(element);

/**
 * What is seen on the desk, taken away as a picture for a slide or a message.
 *
 * @param name what the shot's file is called, without its ending
 */
export function TakePicture({ name, className }: { name: string; className: string }) {
  const clock = useClock();
  const { shot, revision, source } = useReview();
  const placed = usePlacedMarks(shot, revision);
  const [ending, setEnding] = useState<AbortController>();
  const film = async (): Promise<void> => {
    const work = new AbortController();
    setEnding(work);
    const id = toast.loading('Writing the review: 0 %', {
      duration: Infinity,
      action: { label: 'Cancel', onClick: () => work.abort(new Error('The review was not written.')) },
    });
    try {
      const { reviewFilm } = await import('./film/review-film.ts');
      const reviewed = {
        title: `${shot.brief.title}, ${shot.student.name}, revision ${revision.number}`,
        marks: placed.filter(hasPlace),
        sound: source?.sound,
      };
      const tell = (share: number): void =>
        void toast.loading(`Writing the review: ${Math.round(100 * share)} %`, { id });
      const blob = await reviewFilm(clock, document.querySelector(PAPER)!, reviewed, tell, work.signal);
      saveBlob(blob, `${name}-review.webm`);
      toast.success('The review is written.', { id, duration: 4_000, action: undefined });
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The review could not be written.', {
        ...{ id, duration: 8_000, action: undefined },
      });
    } finally {
      setEnding(undefined);
    }
  };
  // Whoever leaves the shot wants no film of another.
  useEffect(() => () => ending?.abort(new Error('The review was not written.')), [ending, revision.id]);
  const take = ({ id, at, ending }: Picture): void =>
    void attempt(async () => {
      const { frame } = clock.get();
      saveBlob(await inTheFile(document.querySelector(at)!, ending), `${name}-${id}-${frame}.${ending}`);
    });
  return (
    <DropdownMenu.Root modal={false}>
      <Hint text="Take a picture away" side="right">
        <DropdownMenu.Trigger aria-label="Take a picture away" className={className}>
          <ImageDown size={16} />
          <span className="hidden text-xs min-[1600px]:inline-block">Picture</span>
        </DropdownMenu.Trigger>
      </Hint>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          side="right"
          align="start"
          className="z-50 rounded-md border border-edge-strong bg-sheet p-1 shadow-[0_6px_20px_rgb(var(--shadow)/0.2)]"
        >
          <WhatIsSeen take={take} />
          {source && !ending && (
            <DropdownMenu.Item onSelect={() => void film()} className={ITEM}>
              the review, frame by frame (WebM)
            </DropdownMenu.Item>
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
