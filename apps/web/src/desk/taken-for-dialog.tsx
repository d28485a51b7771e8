import { ROUTES } from '@ypsigraph/contract/routes';
import { useState } from 'react';
import { toast } from 'sonner';
import { axisName } from '@ypsigraph/core/motion/axes';
import { FIGURE_ROLES } from '@ypsigraph/core/motion/role';
import { partLabel } from '@ypsigraph/core/say/part-names';
import type { Revision } from '@ypsigraph/contract/shots';
import { UpChoice } from '@ypsigraph/contract/vocabulary';
import { attempt } from '../api/attempt.ts';
import { call } from '../api/client.ts';
import { refreshShot } from '../api/data.ts';
import { Button } from '../kit/button.tsx';
import { Dialog } from '../kit/dialog.tsx';
import { Field, INPUT } from '../kit/field.tsx';
import { Select } from '../kit/select.tsx';
import { WhichOne } from '../kit/which-one.tsx';
import type { FrameSource } from './frames/frame-source.ts';

const NONE = '—';
type LoopChoice = Revision['loop'];
const LOOPS: readonly { value: LoopChoice; text: string }[] = [
  { value: 'auto', text: 'found from the motion' },
  { value: 'none', text: 'no loop' },
  { value: 'repeat', text: 'the last frame repeats the first' },
  { value: 'follow', text: 'the last frame comes just before the first' },
];

const UPS = UpChoice.options.map((value) => ({ value, text: value === 'auto' ? 'found from the figure' : value }));

interface Props {
  readonly revision: Revision;
  readonly source: FrameSource;
  readonly open: boolean;
  readonly onOpenChange: (open: boolean) => void;
}

/** How the file was read: which joint is which part, how it loops, how its frames are counted. All of it can be put right. */
export function TakenForDialog({ revision, source, open, onOpenChange }: Props) {
  const shot = source.figure?.shown;
  const guessed = (role: string): string => {
    const joint = shot?.roles[role as keyof typeof shot.roles];
    return joint === undefined ? NONE : shot!.motion.joints[joint]!.name;
  };
  const [roles, setRoles] = useState<Record<string, string>>({});
  const [firstFrame, setFirstFrame] = useState(revision.firstFrame);
  const [loop, setLoop] = useState<LoopChoice>(revision.loop);
  const [up, setUp] = useState<UpChoice>(revision.up);
  const holds = shot?.motion.holds;
  const [animation, setAnimation] = useState(revision.animation ?? holds?.animations[0]);
  const [figure, setFigure] = useState(revision.figure ?? holds?.figures[0]);
  const save = async (): Promise<void> => {
    const changed = Object.fromEntries(
      Object.entries(roles).map(([role, name]) => [role, name === NONE ? null : name]),
    );
    const settings = { firstFrame, loop, up, roles: changed, ...(holds && { animation, figure }) };
    if (await attempt(async () => refreshShot(await call(ROUTES.settings, { id: revision.id }, settings)))) {
      toast.success('Corrected. It is being measured again.');
      onOpenChange(false);
    }
  };
  const joints = [{ value: NONE, text: NONE }, ...source.pointNames.map((name) => ({ value: name, text: name }))];
  return (
    <Dialog open={open} onOpenChange={onOpenChange} wide title="How the file was read" description={revision.fileName}>
      {shot && (
        <p className="text-sm text-graphite">
          Up is {axisName(shot.axes.up)}, forward is {axisName(shot.axes.forward)}
          {shot.axes.forwardKnown ? '' : ' (assumed)'}; a leg is {shot.scale.legLength.toFixed(2)} units long.
        </p>
      )}
      <div className="mt-3 grid grid-cols-3 gap-4">
        <Field label="Label of the first frame">
          {(id) => (
            <input
              id={id}
              type="number"
              className={`frame-number ${INPUT}`}
              value={firstFrame}
              onChange={(event) => setFirstFrame(Math.round(Number(event.target.value)))}
            />
          )}
        </Field>
        <Field label="Loop">
          {() => <Select label="Loop" value={loop} onChange={setLoop} options={LOOPS} className="w-full" />}
        </Field>
        <Field label="Up">
          {() => <Select label="Up" value={up} onChange={setUp} options={UPS} className="w-full" />}
        </Field>
      </div>
      {holds && holds.animations.length + holds.figures.length > 2 && (
        <div className="mt-3 grid grid-cols-2 gap-4">
          <WhichOne label="Animation" names={holds.animations} value={animation} onChange={setAnimation} />
          <WhichOne label="Figure" names={holds.figures} value={figure} onChange={setFigure} />
        </div>
      )}
      <h3 className="mt-4 mb-1 text-sm">Joints</h3>
      <div className="grid max-h-72 grid-cols-2 gap-x-4 gap-y-1 overflow-y-auto">
        {FIGURE_ROLES.map((role) => (
          <div key={role} className="flex items-center justify-between gap-2">
            <span className="text-sm">{partLabel(role)}</span>
            <Select
              label={partLabel(role)}
              value={roles[role] ?? guessed(role)}
              onChange={(name) => setRoles({ ...roles, [role]: name })}
              options={joints}
              className="w-40"
            />
          </div>
        ))}
      </div>
      <div className="mt-4 flex justify-end gap-2">
        <Button look="quiet" onClick={() => onOpenChange(false)}>
          Cancel
        </Button>
        <Button look="strong" onClick={() => void save()}>
          Correct and measure again
        </Button>
      </div>
    </Dialog>
  );
}
