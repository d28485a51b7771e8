import { useEffect, useMemo } from 'react';
import type { Revision, Shot } from '@ypsigraph/contract/shots';
import type { Role } from '@ypsigraph/contract/vocabulary';
import { Waiting } from '../kit/states.tsx';
import { useDesk } from './desk-store.ts';
import { ClockContext, FrameClock } from './frames/frame-clock.ts';
import { KeysDialog, useDeskKeys } from './keys.tsx';
import { LensBar } from './lens-bar.tsx';
import { newDraft } from './margin/composer.tsx';
import { useKept } from '../api/kept.ts';
import type { Draft } from './margin/draft.ts';
import { Margin } from './margin/margin.tsx';
import { Paper } from './paper/paper.tsx';
import { ViewRig } from './paper/view-rig.ts';
import { Strip } from './strip/strip.tsx';
import { TakenForDialog } from './taken-for-dialog.tsx';
import { Transport } from './transport.tsx';
import { useSource } from './use-source.ts';

interface Props {
  readonly shot: Shot;
  readonly revision: Revision;
  /** The revision seen beside it. */
  readonly beside: Revision | undefined;
  readonly role: Role;
  readonly onCompare: () => void;
  readonly takenFor: boolean;
  readonly onTakenFor: (open: boolean) => void;
  readonly help: boolean;
  readonly onHelp: (open: boolean) => void;
}

/** Everything below the desk's head: paper, strip and margin on one frame axis. It opens playing, with nothing laid over. */
export function Desk({ shot, revision, beside, role, onCompare, takenFor, onTakenFor, help, onHelp }: Props) {
  const clock = useMemo(() => new FrameClock(), []);
  const rig = useMemo(() => new ViewRig(), []);
  const { source, error } = useSource(shot, revision);
  const other = useSource(shot, beside);
  const [draft, setDraft] = useKept<Draft>(`draft:${revision.id}`);

  useEffect(() => {
    useDesk
      .getState()
      .set({ joint: null, path: false, view: 'side', ride: false, silhouette: false, hidden: new Set() });
    return () => clock.destroy();
  }, [shot.id, clock]);
  useEffect(() => {
    if (!source) return;
    clock.span(source);
    const still = matchMedia('(prefers-reduced-motion: reduce)').matches;
    if (!still && useDesk.getState().joint === null) clock.play();
  }, [source, clock]);

  const marks = useMemo(
    () =>
      shot.marks.filter((mark) => mark.revision === revision.id || mark.state === 'open' || mark.state === 'answered'),
    [shot.marks, revision.id],
  );
  const canMark = role !== 'student' && revision.state !== 'withdrawn' && revision.state !== 'signed off';
  useDeskKeys({ clock, rig, marks, canMark, onCompare, onHelp: () => onHelp(true) });

  const onRange = (from: number, to: number): void => {
    if (!canMark) return;
    const joint = useDesk.getState().joint;
    setDraft(draft ? { ...draft, from, to } : newDraft('timing', from, to, joint));
  };

  return (
    <ClockContext.Provider value={clock}>
      <div className="flex min-h-0 flex-1 max-md:flex-col max-md:overflow-y-auto">
        {source && <LensBar source={source} rig={rig} />}
        <div className="flex min-w-0 flex-1 flex-col max-md:h-[70vh] max-md:flex-none">
          <div className="flex min-h-0 flex-1 divide-x divide-edge-strong">
            {error && (
              <p role="alert" className="m-auto max-w-md p-6 text-center">
                This revision’s file can’t be shown: {error}
              </p>
            )}
            {!source && !error && (
              <div className="m-auto">
                <Waiting>The motion is being read …</Waiting>
              </div>
            )}
            {beside && other.source && <Paper source={other.source} rig={rig} caption={`Revision ${beside.number}`} />}
            {source && <Paper source={source} rig={rig} {...(beside && { caption: `Revision ${revision.number}` })} />}
          </div>
          {source && (
            <>
              <Transport source={source} />
              <Strip source={source} other={beside ? other.source : undefined} marks={marks} onRange={onRange} />
            </>
          )}
        </div>
        <Margin shot={shot} revision={revision} role={role} draft={draft} setDraft={setDraft} />
      </div>
      {source && takenFor && <TakenForDialog revision={revision} source={source} open onOpenChange={onTakenFor} />}
      <KeysDialog open={help} onOpenChange={onHelp} />
    </ClockContext.Provider>
  );
}
