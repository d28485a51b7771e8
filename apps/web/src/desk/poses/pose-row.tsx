import { ROUTES } from '@ypsigraph/contract/routes';
import { useEffect, useMemo, useRef, useState } from 'react';
import { posesOffMirror } from '@ypsigraph/core/measure/cycle/mirrored-poses';
import { figures } from '@ypsigraph/core/say/words';
import type { Pose } from '@ypsigraph/contract/marks';
import type { Revision } from '@ypsigraph/contract/shots';
import { attempt } from '../../api/attempt.ts';
import { call } from '../../api/client.ts';
import { refreshShot } from '../../api/data.ts';
import { useTheme } from '../../kit/theme.ts';
import { useClock, useClockValue } from '../frames/frame-clock.ts';
import type { FrameSource } from '../frames/frame-source.ts';

const WIDTH = 42;
/** A picture is wider than a figure. */
const PICTURE_WIDTH = 76;
const HEIGHT = 44;
/** More than this many are not drawn: a recording has hundreds. */
const MOST = 48;

interface Props {
  readonly source: FrameSource;
  readonly revision: Revision;
  readonly canEdit: boolean;
}

/** A pose in the row, with the one half a cycle before under which it should stand. */
interface Shown extends Pose {
  /** How far it is from the mirror of its pair, %L; undefined where it has none. */
  readonly off: number | undefined;
}

/** The key poses, small and in order; of a cycle the second half under the first, each under the pose it should mirror. */
export function PoseRow({ source, revision, canEdit }: Props) {
  const clock = useClock();
  const frame = useClockValue((state) => state.frame);
  const [renaming, setRenaming] = useState<number>();
  const own = revision.poses;
  const poses = useMemo(
    (): readonly Pose[] => own ?? source.keyPoses().map(({ label, name }) => ({ label, name })),
    [own, source],
  );
  const rows = useMemo(() => paired(source, poses.slice(0, MOST)), [source, poses]);
  const keep = (next: readonly Pose[] | null): Promise<boolean> =>
    attempt(async () => refreshShot(await call(ROUTES.setPoses, { id: revision.id }, { poses: next && [...next] })));
  /** A pose stands at another frame, keeping its name; where one stands already it stays. */
  const move = (from: number, to: number): void => {
    const taken = poses.some(({ label }) => label === to);
    if (taken || to < source.first || to >= source.first + source.frames) return;
    clock.seek(to);
    void keep(poses.map((pose) => (pose.label === from ? { ...pose, label: to } : pose)));
  };
  const nearest = poses.reduce<Pose | undefined>(
    (best, pose) => (best && Math.abs(best.label - frame) <= Math.abs(pose.label - frame) ? best : pose),
    undefined,
  );
  const at = poses.find(({ label }) => label === frame);
  if (poses.length === 0) return null;
  return (
    <section aria-label="Key poses" className="flex items-stretch border-t border-edge bg-paper" data-testid="pose-row">
      <div className="min-w-0 flex-1 overflow-x-auto">
        {rows.map((row, r) => (
          <ol key={r} className="flex gap-0.5 px-1 py-0.5">
            {row.map((pose, k) => (
              // By its place in the row: a pose that is moved keeps the focus.
              <li key={k} className="relative shrink-0">
                <button
                  type="button"
                  onClick={() => clock.seek(pose.label)}
                  onDoubleClick={() => canEdit && setRenaming(pose.label)}
                  onKeyDown={(event) => {
                    if (!canEdit || !event.altKey || !event.key.startsWith('Arrow')) return;
                    event.preventDefault();
                    move(pose.label, pose.label + (event.key === 'ArrowLeft' ? -1 : 1));
                  }}
                  aria-current={pose.label === frame}
                  aria-label={`${pose.name}, frame ${pose.label}`}
                  title={
                    pose.off === undefined
                      ? `${pose.name}, frame ${pose.label}`
                      : `${pose.name}, frame ${pose.label}: ${figures(pose.off, 2)} % of a leg off the mirror of its pair`
                  }
                  className={`block rounded-sm border ${pose.label === frame ? 'border-ink bg-sheet' : 'border-transparent hover:border-edge-strong'}`}
                >
                  <SmallFigure source={source} label={pose.label} />
                  <span className="frame-number block px-0.5 text-center text-[9px] leading-3 whitespace-nowrap">
                    {pose.label}{' '}
                    <span className="text-graphite">{pose.name === 'pose' ? '' : pose.name.slice(0, 8)}</span>
                  </span>
                </button>
                {pose.off !== undefined && pose.off >= 2 && (
                  <span className="frame-number pointer-events-none absolute top-0 right-0 rounded-sm bg-sheet/85 px-0.5 text-[9px] leading-3">
                    ○ {figures(pose.off, 2)}
                  </span>
                )}
                {renaming === pose.label && (
                  <Rename
                    pose={pose}
                    onName={(name) => {
                      setRenaming(undefined);
                      if (name !== undefined)
                        void keep(poses.map((other) => (other.label === pose.label ? { ...other, name } : other)));
                    }}
                  />
                )}
              </li>
            ))}
          </ol>
        ))}
      </div>
      {canEdit && (
        <div className="flex shrink-0 flex-col justify-center gap-0.5 border-l border-edge px-1 text-2xs">
          {at ? (
            <button
              type="button"
              className="rounded-sm border border-edge-strong px-1 hover:bg-wash"
              onClick={() => void keep(poses.filter(({ label }) => label !== frame))}
            >
              drop {frame}
            </button>
          ) : (
            <>
              <button
                type="button"
                className="rounded-sm border border-edge-strong px-1 hover:bg-wash"
                onClick={() => void keep([...poses, { label: frame, name: 'pose' }])}
              >
                add {frame}
              </button>
              {nearest && (
                <button
                  type="button"
                  className="rounded-sm border border-edge-strong px-1 hover:bg-wash"
                  title="Moves the nearest pose to this frame; alt with an arrow moves the pose in focus"
                  onClick={() => move(nearest.label, frame)}
                >
                  {nearest.label} to {frame}
                </button>
              )}
            </>
          )}
          {own && (
            <button type="button" className="rounded-sm px-1 hover:bg-wash" onClick={() => void keep(null)}>
              as found
            </button>
          )}
        </div>
      )}
    </section>
  );
}

function Rename({ pose, onName }: { pose: Pose; onName: (name: string | undefined) => void }) {
  return (
    <input
      autoFocus
      aria-label={`Name of the pose at ${pose.label}`}
      defaultValue={pose.name}
      maxLength={60}
      className="absolute bottom-0 left-0 z-10 w-24 rounded-sm border border-ink bg-sheet px-1 text-2xs"
      onKeyDown={(event) => {
        if (event.key === 'Enter') onName(event.currentTarget.value.trim() || pose.name);
        if (event.key === 'Escape') onName(undefined);
      }}
      onBlur={() => onName(undefined)}
    />
  );
}

/** Of a cycle on which both halves have their poses, two rows: a pose above, its mirror under it. Of anything else one. */
function paired(source: FrameSource, poses: readonly Pose[]): Shown[][] {
  const one = [poses.map((pose): Shown => ({ ...pose, off: undefined }))];
  if (source.loop === 'none' || !source.figure) return one;
  const period = source.loop === 'repeat' ? source.frames - 1 : source.frames;
  const cycle = poses.filter(({ label }) => label < source.first + period);
  const half = cycle.length / 2;
  if (!Number.isInteger(half) || half < 1) return one;
  const upper = cycle.slice(0, half);
  const under = cycle.slice(half);
  const shifts = under.map(({ label }, k) => label - upper[k]!.label - period / 2);
  if (shifts.some((frames) => Math.abs(frames) > 2)) return one;
  const off = (a: number, b: number): number =>
    posesOffMirror(source.figure!.shown, source.sampleAt(a), source.sampleAt(b));
  return [
    upper.map((pose) => ({ ...pose, off: undefined })),
    under.map((pose, k) => ({ ...pose, off: off(upper[k]!.label, pose.label) })),
  ];
}

/** One frame, small. */
function SmallFigure({ source, label }: { source: FrameSource; label: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const theme = useTheme();
  const width = source.flat ? PICTURE_WIDTH : WIDTH;
  useEffect(() => source.drawSmall(canvas.current!, label, { width, height: HEIGHT }), [source, label, theme, width]);
  return <canvas ref={canvas} style={{ width, height: HEIGHT }} aria-hidden />;
}
