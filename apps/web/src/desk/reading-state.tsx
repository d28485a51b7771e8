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
  if (progress === null) return <Waiting>Reading the file …</Waiting>;
  return (
    <Waiting>
      Reading the clip: {Math.round(100 * progress)} %{' '}
      <progress className="ml-2 align-middle" value={progress} max={1} aria-label="Frames read" />
    </Waiting>
  );
}
