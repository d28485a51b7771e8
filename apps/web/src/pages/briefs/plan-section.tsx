import { Pencil, Plus, Trash2 } from 'lucide-react';
import { useState } from 'react';
import type { BriefContent, PlannedPose } from '@ypsigraph/contract/briefs';
import { ownPose } from '@ypsigraph/core/measure/plan/own-pose';
import { foundPoses } from '@ypsigraph/core/measure/plan/plan';
import { loopPeriod } from '@ypsigraph/core/motion/loop';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { isFoundByName, PLANNED_POSES, POSES_OF_A_STEP } from '@ypsigraph/core/trade/planned-pose';
import { Button } from '../../kit/button.tsx';
import { INPUT } from '../../kit/field.tsx';
import { FileButton } from '../../kit/file-button.tsx';
import { Select } from '../../kit/select.tsx';
import { prepareFile } from '../../workers/motion.ts';
import { MOTIONS } from '../dropped-files.ts';
import { atEase, OwnPoseFigure } from './own-pose-figure.tsx';
import { PoseDrawing } from './pose-drawing.tsx';
import { NumberInput, Section } from './sections.tsx';
import type { Editing } from './what-section.tsx';

interface Props extends Editing {
  /** The exemplar as it is set; undefined where there is none. */
  readonly exemplar: PreparedShot | undefined;
}

const OWN = 'a pose of its own';
/** Frames that a pose may come earlier or later, until somebody says otherwise. */
const USUAL_TOLERANCE = 1;
const LEGS = [
  { value: 'either', text: 'either leg' },
  { value: 'leg.L', text: 'left leg' },
  { value: 'leg.R', text: 'right leg' },
] as const;

/** Key poses that a motion shows, as a plan: of a loop those of one cycle. */
function planOf(shot: PreparedShot): PlannedPose[] {
  const last = shot.firstFrame + loopPeriod(shot.loop, shot.played.motion.frames) - 1;
  // Every name is asked for: what the motion does not show is not found.
  const plan = PLANNED_POSES.map((name) => ({ name, frame: shot.firstFrame, tolerance: USUAL_TOLERANCE }));
  return foundPoses({ ...shot, plan })
    .filter(({ label }) => label >= shot.firstFrame && label <= last)
    .sort((a, b) => a.label - b.label)
    .map(({ name, label, part }) => ({
      name,
      frame: Math.round(label),
      tolerance: USUAL_TOLERANCE,
      ...((part === 'leg.L' || part === 'leg.R') && { part }),
    }));
}

/** The plan of a brief: which poses are to stand where, a line each. */
export function PlanSection({ draft, set, errorAt, exemplar }: Props) {
  const { plan } = draft;
  const change = (next: readonly PlannedPose[]): void => set({ plan: [...next] });
  const last = plan.at(-1)?.frame ?? draft.firstFrame;
  return (
    <Section
      title="Planned poses"
      aside={
        <p className="text-sm text-graphite">
          Which pose is to stand at which frame. The strip shows what was planned and what was found, one above the
          other.
        </p>
      }
    >
      {plan.length > 0 && (
        <ol aria-label="Planned poses" className="mb-2">
          {plan.map((pose, k) => (
            <PlannedRow
              key={k}
              pose={pose}
              draft={draft}
              exemplar={exemplar}
              error={errorAt(`plan.${k}`)}
              onChange={(next) => change(plan.with(k, next))}
              onDrop={() => change(plan.toSpliced(k, 1))}
            />
          ))}
        </ol>
      )}
      <div className="flex flex-wrap gap-2">
        <Button
          look="quiet"
          className="text-xs"
          onClick={() => change([...plan, { name: 'contact', frame: last, tolerance: USUAL_TOLERANCE }])}
        >
          <Plus size={13} /> A pose
        </Button>
        {exemplar && (
          <Button look="quiet" className="text-xs" onClick={() => change(planOf(exemplar))}>
            {plan.length > 0 ? 'The exemplar’s poses in their place' : 'The exemplar’s poses'}
          </Button>
        )}
      </div>
    </Section>
  );
}

interface RowProps {
  readonly pose: PlannedPose;
  readonly draft: BriefContent;
  readonly exemplar: PreparedShot | undefined;
  readonly error: string | undefined;
  readonly onChange: (pose: PlannedPose) => void;
  readonly onDrop: () => void;
}

/** One planned pose: its name, when it is planned, and how far off it may be. */
function PlannedRow({ pose, draft, exemplar, error, onChange, onDrop }: RowProps) {
  const { name, frame, share, part, tolerance } = pose;
  const known = isFoundByName(name);
  const mayBeShare = POSES_OF_A_STEP.includes(name);
  const called = (next: string): void => {
    const { pose: _pose, share: _share, ...rest } = pose;
    const at = { frame: frame ?? draft.firstFrame };
    if (next === OWN) return onChange({ ...rest, ...at, name: '' });
    onChange(
      share !== undefined && POSES_OF_A_STEP.includes(next)
        ? { ...rest, share, name: next }
        : { ...rest, ...at, name: next },
    );
  };
  const counted = (unit: string): void => {
    const { frame: _frame, share: _share, ...rest } = pose;
    onChange(unit === 'step' ? { ...rest, share: 50 } : { ...rest, frame: draft.firstFrame });
  };
  return (
    <li className="border-t border-edge py-1.5">
      <div className="flex flex-wrap items-center gap-2 text-sm">
        <Select
          label="Pose"
          className="w-40"
          value={known ? name : OWN}
          onChange={called}
          options={[...PLANNED_POSES, OWN].map((value) => ({ value, text: value }))}
        />
        {!known && (
          <input
            aria-label="Name of the pose"
            className={`${INPUT} !w-44`}
            placeholder="hand on the rail"
            maxLength={60}
            value={name}
            onChange={(event) => onChange({ ...pose, name: event.target.value })}
          />
        )}
        <span className="text-graphite">at</span>
        <span className="w-20">
          {share === undefined ? (
            <NumberInput
              label="Frame"
              value={frame ?? draft.firstFrame}
              onChange={(value) => value !== null && onChange({ ...pose, frame: Math.round(value) })}
            />
          ) : (
            <NumberInput
              label="Share of the step"
              value={share}
              onChange={(value) => value !== null && onChange({ ...pose, share: value })}
            />
          )}
        </span>
        {mayBeShare ? (
          <Select
            label="Counted in"
            value={share === undefined ? 'frame' : 'step'}
            onChange={counted}
            options={[
              { value: 'frame', text: 'frame' },
              { value: 'step', text: '% of the step' },
            ]}
          />
        ) : (
          <span className="text-graphite">frame</span>
        )}
        <span className="text-graphite">within</span>
        <span className="w-16">
          <NumberInput
            label="Within so many frames"
            value={tolerance}
            onChange={(value) => value !== null && value >= 0 && onChange({ ...pose, tolerance: value })}
          />
        </span>
        {(name === 'contact' || mayBeShare) && (
          <Select
            label="Leg"
            value={part ?? 'either'}
            onChange={(leg) => {
              const { part: _part, ...rest } = pose;
              onChange(leg === 'either' ? rest : { ...rest, part: leg });
            }}
            options={LEGS}
          />
        )}
        <Button look="quiet" className="ml-auto !min-h-6" aria-label={`Delete the planned ${name}`} onClick={onDrop}>
          <Trash2 size={13} />
        </Button>
      </div>
      {!known && <OwnPoseLine pose={pose} draft={draft} exemplar={exemplar} onChange={onChange} />}
      {error && (
        <p role="alert" className="text-xs font-semibold">
          {error}
        </p>
      )}
    </li>
  );
}

/** What a pose of its own looks like: taken from the exemplar or from a motion, at a frame, or drawn. */
function OwnPoseLine({ pose, draft, exemplar, onChange }: Pick<RowProps, 'pose' | 'draft' | 'exemplar' | 'onChange'>) {
  const [at, setAt] = useState(pose.frame ?? draft.firstFrame);
  const [refused, setRefused] = useState<string>();
  const take = (shot: PreparedShot): void => {
    const own = ownPose(shot, at);
    const hasParts = Object.keys(own.directions).length > 0;
    setRefused(hasParts ? undefined : 'Nothing in that motion has a direction: no pose can be taken from it.');
    if (hasParts) onChange({ ...pose, pose: structuredClone(own) as NonNullable<PlannedPose['pose']> });
  };
  const read = async (file: File): Promise<void> => {
    const made = await prepareFile(file, { kind: draft.kind, fps: draft.fps, firstFrame: draft.firstFrame });
    if ('error' in made) setRefused(`${file.name}: ${made.error}.`);
    else take(made.shot);
  };
  return (
    <div className="mt-1 flex flex-wrap items-center gap-2 text-xs text-graphite">
      {!pose.pose && <span>Show its pose:</span>}
      {pose.pose && !pose.pose.drawn && <OwnPoseFigure pose={pose.pose} />}
      <span>frame</span>
      <span className="w-16">
        <NumberInput
          label="Frame of the pose"
          value={at}
          onChange={(value) => value !== null && setAt(Math.round(value))}
        />
      </span>
      {exemplar && (
        <Button look="quiet" className="!min-h-6 text-xs" onClick={() => take(exemplar)}>
          of the exemplar
        </Button>
      )}
      <FileButton accept={MOTIONS} onFiles={([file]) => void read(file!)}>
        of a motion …
      </FileButton>
      {!pose.pose?.drawn && (
        <Button
          look="quiet"
          className="!min-h-6 text-xs"
          onClick={() => {
            setRefused(undefined);
            onChange({ ...pose, pose: atEase() });
          }}
        >
          <Pencil size={12} /> Draw it
        </Button>
      )}
      {pose.pose?.drawn && <PoseDrawing pose={pose.pose} onChange={(drawn) => onChange({ ...pose, pose: drawn })} />}
      {refused && (
        <p role="alert" className="w-full font-semibold">
          {refused}
        </p>
      )}
    </div>
  );
}
