import { X } from 'lucide-react';
import { useState } from 'react';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { posedAs, withoutPart, withPulled, withTaken, withTurned } from '@ypsigraph/core/posing/pulled-pose';
import { hasWanted } from '@ypsigraph/core/mark/pose-mark';
import type { WantedPose } from '@ypsigraph/core/posing/wanted-pose';
import type { Role } from '@ypsigraph/core/motion/role';
import { partLabel } from '@ypsigraph/core/say/part-names';
import { Button } from '../../../kit/button.tsx';
import type { FrameSource } from '../../frames/frame-source.ts';
import { figureShape } from '../../lenses/stick.ts';
import { exemplarOf } from '../../lenses/reference-lens.ts';
import { ChoiceField, Fields, NumberField, STROKE } from './fields.tsx';
import type { FieldsProps, Grip, MarkKindView } from './mark-kind-view.ts';

/** Joints that are pulled, from the middle outwards: what lies on top is drawn last. */
const PULLED: readonly Role[] = [
  'hips',
  'chest',
  'head',
  ...(['L', 'R'] as const).flatMap((side): Role[] => [
    `foreArm.${side}`,
    `shin.${side}`,
    `hand.${side}`,
    `foot.${side}`,
  ]),
];

/** Groups of parts that are taken from another pose. */
const TAKEN = {
  'all of it': undefined,
  'upper body': ['spine', 'head', 'arm.L', 'arm.R'],
  arms: ['arm.L', 'arm.R'],
  'left arm': ['arm.L'],
  'right arm': ['arm.R'],
  legs: ['leg.L', 'leg.R', 'hips'],
  head: ['head'],
} as const;
type Taken = keyof typeof TAKEN;

const FROM = { here: 'a frame of this shot', exemplar: 'the exemplar' } as const;

export const POSE_VIEW: MarkKindView<'pose'> = {
  about: 'like this: the pose pulled to where it should be',
  sign: <path {...STROKE} d="M0-5.2a1.2 1.2 0 1 1-.01 0M0-2.6V1.2M-4-1.4L0-1.8L4-3.4M0 1.2L-3 5.4M0 1.2L2.6 5.4" />,
  Fields: PoseFields,
  /** The pose that is wanted, dotted over the student's. */
  draw(frame, mark, { wanted }) {
    const { context, scene, source, sample, inks } = frame;
    const shot = source.figure?.shown;
    if (!shot || !hasWanted(wanted) || sample !== source.sampleAt(mark.from)) return;
    const pose = remembered(shot, sample, wanted);
    context.strokeStyle = inks.instructor;
    context.lineWidth = 2;
    context.setLineDash([2, 4]);
    const shape = figureShape(frame, (joint, out) => scene.projectWorld(sample, ...pose.place(joint), out));
    context.stroke(shape);
    context.setLineDash([]);
  },
  posed: ({ wanted }, shot, sample) => (hasWanted(wanted) ? remembered(shot, sample, wanted) : undefined),
  grips(payload, { source, sample, from }) {
    const shot = source.figure?.shown;
    if (!shot || sample !== source.sampleAt(from)) return [];
    const { wanted } = payload;
    const pose = remembered(shot, sample, wanted);
    return jointsOf(shot).map((joint): Grip<WantedPose> => ({
      id: String(joint),
      label: `${partLabel(roleOf(shot, joint) ?? shot.motion.joints[joint]!.name)}: drag it to where it should be, or turn it by the arrow keys`,
      place: pose.place(joint),
      small: true,
      pull: (place) => withPulled(shot, sample, wanted, joint, place),
      turn: (steps) => withTurned(shot, sample, wanted, joint, steps),
    }));
  },
};

function PoseFields({ payload, want, draft, source }: FieldsProps<'pose'>) {
  const [from, setFrom] = useState<keyof typeof FROM>('here');
  const [label, setLabel] = useState(draft.from);
  const [parts, setParts] = useState<Taken>('all of it');
  const [mirrored, setMirrored] = useState(false);
  const shot = source?.figure?.shown;
  if (!source || !shot) return null;
  const sample = source.sampleAt(draft.from);
  const { wanted } = payload;
  const exemplar = shot.isFlat ? undefined : exemplarOf(source);
  const take = (): void => {
    const of = from === 'exemplar' && exemplar ? exemplar : shot;
    const at =
      from === 'exemplar' ? Math.max(0, Math.min(of.motion.frames - 1, label - of.firstFrame)) : source.sampleAt(label);
    want(withTaken(shot, sample, wanted, { shot: of, sample: at, mirrored }, TAKEN[parts]));
  };
  const changed = changedParts(source, shot, wanted);
  return (
    <Fields>
      {hasWanted(wanted) ? (
        <span className="flex flex-wrap items-center gap-1 text-xs text-graphite">
          changed:
          {changed.map((part) => (
            <button
              key={part}
              type="button"
              className="inline-flex items-center gap-0.5 rounded-md border border-edge-strong px-1"
              title={`Put the ${partLabel(part)} back`}
              onClick={() => want(withoutPart(shot, sample, wanted, part, (joint) => source.partOf(joint)))}
            >
              {partLabel(part)} <X size={10} />
            </button>
          ))}
        </span>
      ) : (
        <p className="text-xs text-graphite">
          Pull a round point on the paper to where it should be; with one in focus the arrow keys turn it by a degree.
        </p>
      )}
      {!shot.isFlat && (
        <span className="flex flex-wrap items-center gap-x-1.5 gap-y-1" role="group" aria-label="Take a pose">
          <ChoiceField
            label="or take"
            value={parts}
            options={(Object.keys(TAKEN) as Taken[]).map((own) => [own, own])}
            onChange={setParts}
          />
          {exemplar ? (
            <ChoiceField
              label="from"
              value={from}
              options={Object.entries(FROM) as [keyof typeof FROM, string][]}
              onChange={setFrom}
            />
          ) : (
            <span className="text-xs text-graphite">from {FROM.here}</span>
          )}
          <NumberField label="frame" value={label} onChange={setLabel} />
          <label className="text-xs text-graphite">
            <input type="checkbox" checked={mirrored} onChange={(event) => setMirrored(event.target.checked)} />{' '}
            mirrored
          </label>
          <Button look="quiet" className="!min-h-6 px-1.5 text-xs" onClick={take}>
            Take it
          </Button>
        </span>
      )}
    </Fields>
  );
}

/** Parts of which anything is wanted, from the hips outwards. */
function changedParts(source: FrameSource, shot: PreparedShot, { turns, moved, places }: WantedPose): string[] {
  const names = new Set([...Object.keys(turns), ...Object.keys(moved), ...Object.keys(places)]);
  return [...new Set(shot.motion.joints.flatMap(({ name }, joint) => (names.has(name) ? [source.partOf(joint)] : [])))];
}

const roleOf = (shot: PreparedShot, joint: number): string | undefined =>
  Object.entries(shot.roles).find(([, own]) => own === joint)?.[0];

/** Joints that can be pulled: of a body the usual ones, of anything else all. */
function jointsOf(shot: PreparedShot): readonly number[] {
  const own = PULLED.flatMap((role) => shot.roles[role] ?? []);
  return own.length > 0 ? own : shot.motion.joints.map((_, joint) => joint);
}

let last: { shot: PreparedShot; sample: number; wanted: WantedPose; pose: ReturnType<typeof posedAs> } | undefined;

/** The wanted pose, kept until another is asked for: it is drawn at every frame, and its grips are placed. */
function remembered(shot: PreparedShot, sample: number, wanted: WantedPose): ReturnType<typeof posedAs> {
  if (last?.shot !== shot || last.sample !== sample || last.wanted !== wanted)
    last = { shot, sample, wanted, pose: posedAs(shot, sample, wanted) };
  return last.pose;
}
