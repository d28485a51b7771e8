import { Progress } from 'radix-ui';
import type { Revision } from '@ypsigraph/contract/shots';
import { Waiting } from '../kit/states.tsx';

/** What a file waits for while it is read: those before it, or how much of a clip has been decoded. */
export function ReadingState({ reading }: { reading: Revision['reading'] }) {
  const { state, ahead, progress } = reading;
  if (state === 'queued')
    return (
      <Waiting>
        {ahead ? `Waiting to be read: ${ahead} ${ahead === 1 ? 'file is' : 'files are'} before it.` : 'Read next …'}
      </Waiting>
    );
  // Its frames are on their way to the page.
  if (state === 'read') return <Waiting>Loading the frames …</Waiting>;
  if (progress === null) return <Waiting>Reading the file …</Waiting>;
  const percent = Math.round(100 * progress);
  return (
    <>
      <Waiting>Reading the clip: {percent} %</Waiting>
      <Progress.Root
        value={percent}
        aria-label="Frames read"
        className="-mt-6 h-2 w-56 overflow-hidden rounded-sm border border-edge-strong bg-sheet"
      >
        <Progress.Indicator className="h-full bg-ink" style={{ width: `${percent}%` }} />
      </Progress.Root>
    </>
  );
}
