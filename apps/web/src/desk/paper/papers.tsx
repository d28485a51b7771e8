import { useMemo } from 'react';
import type { Revision } from '@ypsigraph/contract/shots';
import { Guard } from '../../kit/guard.tsx';
import { MissingGhosts } from '../cures/missing-ghosts.tsx';
import { CureGhost } from '../cures/cure-ghost.tsx';
import { useDesk } from '../desk-store.ts';
import { Dial } from '../dial/dial.tsx';
import { useExemplarBeside } from '../frames/exemplar-beside.ts';
import type { Compared } from '../frames/use-compared.ts';
import type { LaneSubject } from '../lanes/lane.ts';
import { ClipChoices } from '../pictures/clip-choices.tsx';
import { ClipUnder } from '../pictures/clip-under.tsx';
import type { PlacedClip } from '../pictures/use-clip.ts';
import type { Points } from '../pictures/use-points.ts';
import { ReadingState } from '../reading-state.tsx';
import { useReview } from '../review.ts';
import { type MarksAt, Paper } from './paper.tsx';
import { RevisionBehind } from './revision-behind.tsx';
import { usePencil } from './use-pencil.ts';
import { ViewRig } from './view-rig.ts';
import { Wipe } from './wipe.tsx';

interface Props {
  readonly rig: ViewRig;
  readonly marksAt: MarksAt;
  readonly compared: Compared;
  readonly clip: PlacedClip | undefined;
  /** Points that are being put on its pictures. */
  readonly points: Points | undefined;
  /** What lanes and dial are made from; undefined until its frames have come. */
  readonly subject: LaneSubject | undefined;
  /** Why its frames can't be shown. */
  readonly error: string | undefined;
}

/** The papers side by side: other revisions, the clip, the exemplar, and on the right the one that is worked on. */
export function Papers({ rig, marksAt, compared, clip, points, subject, error }: Props) {
  const { revision, source } = useReview();
  const clipRig = useMemo(() => new ViewRig(), []);
  const clipBy = useDesk((state) => state.clipBy);
  const flicked = useDesk((state) => state.flicked);
  const wipeAt = useDesk((state) => state.wipeAt);
  const dial = useDesk((state) => state.dial);
  const exemplar = useExemplarBeside(source);
  const onPencil = usePencil();
  const { other, third, onAxis, by } = compared;
  const another = (own: NonNullable<Compared['other']>) => (
    <Guard what="the paper">
      <Paper
        // A canvas draws either flat or in depth, once and for all.
        key={own.source.flat ? 'flat' : 'deep'}
        shows={{ source: own.source, caption: own.caption, axis: own.axis }}
        rig={rig}
        marksAt={marksAt}
      />
    </Guard>
  );
  const isClipUnder = clip !== undefined && clipBy === 'under';
  const behind = by === 'behind' && onAxis ? <RevisionBehind over={onAxis} /> : undefined;
  const drawings = source?.exposed && source.pictures ? <MissingGhosts /> : undefined;
  const ghost = by === 'over' && onAxis ? <CureGhost cured={onAxis} /> : drawings;
  const beneath = isClipUnder ? <ClipUnder clip={clip} /> : behind;
  return (
    <div className="flex min-h-0 flex-1 divide-x divide-edge-strong">
      {revision.deleted && (
        <p className="m-auto max-w-md p-6 text-center">
          What was handed in has been deleted, since its student left. Its marks and verdicts are counted still.
        </p>
      )}
      {error && !revision.deleted && (
        <p role="alert" className="m-auto max-w-md p-6 text-center">
          This revision’s file can’t be shown: {error}
        </p>
      )}
      {!source && !error && !revision.deleted && (
        <div className="m-auto">
          <ReadingState reading={revision.reading} />
        </div>
      )}
      {third && another(third)}
      {other && by === 'beside' && another(other)}
      {clip && clipBy === 'beside' && (
        <Guard what="the clip">
          <Paper shows={{ source: clip.source, caption: 'The clip', axis: clip }} rig={clipRig}>
            <ClipChoices clip={clip} beneath={false} />
          </Paper>
        </Guard>
      )}
      {exemplar && (
        <Guard what="the exemplar’s paper">
          <Paper shows={{ source: exemplar, caption: 'The exemplar' }} rig={rig} />
        </Guard>
      )}
      {source && (
        <div className="@container relative flex min-w-0 flex-1">
          {other && by === 'flicked' && (
            <div
              className={`absolute inset-0 z-10 flex ${flicked ? '' : 'invisible'}`}
              data-testid="flicked"
              data-shown={flicked}
            >
              {another(other)}
            </div>
          )}
          {other && by === 'wiped' && (
            <>
              <div
                className="pointer-events-none absolute inset-0 z-10 flex"
                style={{ clipPath: `inset(0 0 0 ${100 * wipeAt}%)` }}
                data-testid="wiped"
              >
                {another(other)}
              </div>
              {/* Its own stands where it is wiped away. */}
              <p className="pointer-events-none absolute top-2 right-3 z-20 font-display text-sm text-graphite">
                {other.caption}
              </p>
              <Wipe />
            </>
          )}
          <Guard what="the paper">
            <Paper
              key={source.flat ? 'flat' : 'deep'}
              shows={{ source, caption: captionOf(revision, compared, exemplar !== undefined) }}
              rig={rig}
              marksAt={marksAt}
              atHand={{ onPencil, points, over: by === 'laid' ? onAxis : undefined, beneath, ghost }}
            >
              {isClipUnder && <ClipChoices clip={clip} beneath />}
            </Paper>
          </Guard>
          {dial && !points && subject && source.loop !== 'none' && (
            <Guard what="the dial">
              <Dial subject={subject} />
            </Guard>
          )}
        </div>
      )}
    </div>
  );
}

/** What is written on the paper that is worked on: which revision it shows, or which two. */
function captionOf(own: Revision, { other, by }: Compared, hasExemplar: boolean): string | undefined {
  if (other && (by === 'laid' || by === 'behind')) {
    const { says } = other.axis;
    const lies = by === 'behind' ? 'behind' : 'over';
    return `${other.caption} ${lies} ${own.number}${says ? `, ${says}` : ''}`;
  }
  if (other && by === 'over') return `${other.caption}, dotted, over ${own.number}`;
  return other || hasExemplar ? `Revision ${own.number}` : undefined;
}
