import { useEffect, useMemo } from 'react';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import { useDesk } from './desk-store.ts';
import { ClockContext } from './frames/frame-clock.ts';
import { usePlaying } from './frames/use-playing.ts';
import { useJudged } from './judged.ts';
import { KeysDialog } from './keys.tsx';
import { OnTheDesk } from './on-the-desk.tsx';
import { readsBestFrom } from './paper/best-view.ts';
import { ViewRig } from './paper/view-rig.ts';
import { cameraOf } from './views.tsx';
import { usePoints } from './pictures/use-points.ts';
import { type Review, ReviewContext } from './review.ts';
import { TakenForDialog } from './taken-for-dialog.tsx';
import { useSource } from './use-source.ts';
import { useWritten, WritingContext } from './writing.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  /** The revision seen beside it. */
  readonly beside: Revision | undefined;
  /** A third one, beside both. */
  readonly third?: Revision | undefined;
  /** What a teacher has made of the exercise, seen beside it where no revision is. */
  readonly shownBy?: Shot | undefined;
  readonly role: Role;
  readonly onCompare: () => void;
  readonly onSendBack: () => void;
  readonly takenFor: boolean;
  readonly onTakenFor: (open: boolean) => void;
  readonly help: boolean;
  readonly onHelp: (open: boolean) => void;
}

/** Everything below the desk's head: paper, strip and margin on one frame axis. It opens playing, with nothing laid over. */
export function Desk({
  shot,
  revision,
  beside,
  third,
  shownBy,
  role,
  takenFor,
  onTakenFor,
  help,
  onHelp,
  ...keys
}: Props) {
  const { kind } = shot.brief;
  const rig = useMemo(() => new ViewRig(), []);
  useEffect(() => {
    const view = readsBestFrom(kind);
    useDesk.getState().begin(view, kind);
    rig.look(view);
  }, [shot.id, kind, rig]);
  const points = usePoints(revision);
  const { source, error } = useSource(shot, revision, points?.tracks);
  // A shot is seen first as its own camera saw it, a puppet as its picture shows it.
  const first = cameraOf(source) ? 'shot' : source?.figure?.shown.isFlat && !source.flat ? 'side' : undefined;
  useEffect(() => {
    if (!first) return;
    rig.look(first);
    useDesk.getState().set({ view: first });
  }, [shot.id, first, rig]);
  const clock = usePlaying(source, revision.id);
  const judged = useJudged(shot, revision);
  const writing = useWritten(revision.id);
  const canMark = role !== 'student' && revision.state !== 'withdrawn' && revision.state !== 'signed off';
  const review = useMemo(
    (): Review => ({ shot, revision, role, canMark, source, judged }),
    [shot, revision, role, canMark, source, judged],
  );
  return (
    <ClockContext.Provider value={clock}>
      <ReviewContext.Provider value={review}>
        <WritingContext.Provider value={writing}>
          <OnTheDesk
            rig={rig}
            points={points}
            error={error}
            beside={beside}
            third={third}
            shownBy={beside ? undefined : shownBy}
            keys={{ ...keys, onHelp: () => onHelp(true) }}
          />
          {source && takenFor && <TakenForDialog revision={revision} source={source} open onOpenChange={onTakenFor} />}
          <KeysDialog open={help} onOpenChange={onHelp} />
        </WritingContext.Provider>
      </ReviewContext.Provider>
    </ClockContext.Provider>
  );
}
