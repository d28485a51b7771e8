import { ClipPreview } from './clip-preview.tsx';
import { useEffect, useMemo, useState } from 'react';
import { againstTheBrief } from '@ypsigraph/contract/against-the-brief';
import type { Assignment } from '@ypsigraph/contract/courses';
import { MAX_CLIP_BYTES } from '@ypsigraph/contract/pictures';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { FIGURE_ROLES } from '@ypsigraph/core/motion/role';
import { partLabel } from '@ypsigraph/core/say/part-names';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { Select } from '../kit/select.tsx';
import { WhichOne } from '../kit/which-one.tsx';
import { prepareFile } from '../workers/motion.ts';
import { FigureMoving } from './figure-moving.tsx';
import type { Prepared } from '../workers/motion.worker.ts';
import type { Dropped } from './dropped-files.ts';
import { answersFor, type TakenFor, UNTOUCHED } from './taken-for.ts';

interface Props {
  readonly file: File;
  readonly is: Dropped['is'];
  readonly brief: Assignment['brief'];
  readonly taken: TakenFor;
  readonly onTaken: (taken: TakenFor) => void;
  /** What was answered of the last file. */
  readonly answers: TakenFor | undefined;
  /** Told whether the file can be read, once that is known. */
  readonly onChecked: (readable: boolean) => void;
}

/** Reads the chosen file in the page and says what it is, before anything is sent. */
export function FileCheck({ file, is, onChecked, ...motion }: Props) {
  if (is === 'sound')
    return (
      <p
        className="border-l-[3px] border-student bg-student-wash px-3 py-2 text-sm"
        role="status"
        data-testid="file-check"
      >
        A sound. Drop the motion it belongs to as well, and they are handed in together.
      </p>
    );
  return is === 'pictures' ? (
    <ClipCheck file={file} onChecked={onChecked} />
  ) : (
    <MotionCheck file={file} onChecked={onChecked} {...motion} />
  );
}

/** What a clip is can only be told once it has been read: until then it is shown as far as this browser can. */
function ClipCheck({ file, onChecked }: Pick<Props, 'file' | 'onChecked'>) {
  const tooLarge = file.size > MAX_CLIP_BYTES;
  const address = useMemo(() => URL.createObjectURL(file), [file]);
  useEffect(() => () => URL.revokeObjectURL(address), [address]);
  useEffect(() => onChecked(!tooLarge), [tooLarge, onChecked]);
  const [unseen, setUnseen] = useState(false);
  if (tooLarge)
    return <Refused>It has {Math.round(file.size / 1_048_576)} MB; at most 512 MB can be handed in.</Refused>;
  const video = !/\.(gif|a?png|webp|zip)$/i.test(file.name);
  const still = /\.(gif|a?png|webp)$/i.test(file.name);
  return (
    <div className="border-l-[3px] border-student bg-student-wash px-3 py-2 text-sm" data-testid="file-check">
      <p>
        Pictures. Each frame of them is read once it is handed in; you see them then, with what is wrong with the file
        if anything is.
      </p>
      {video && !unseen && <ClipPreview address={address} onUnseen={() => setUnseen(true)} />}
      {still && !unseen && (
        <img src={address} alt="The chosen pictures" className="mt-2 max-h-64" onError={() => setUnseen(true)} />
      )}
      {unseen && <p className="text-graphite">This browser can’t show it here; it may be read all the same.</p>}
    </div>
  );
}

function MotionCheck({ file, brief, taken, onTaken, answers, onChecked }: Omit<Props, 'is'>) {
  const [checked, setChecked] = useState<{ file: File; result: Prepared }>();
  const tooLarge = file.size > MAX_FILE_BYTES;
  useEffect(() => {
    let current = true;
    if (!tooLarge) {
      void prepareFile(file, shotOptions(brief, { ...brief, ...taken })).then((result) => {
        if (!current) return;
        const known =
          taken === UNTOUCHED && answers && 'shot' in result && answersFor(result.shot.played.motion, answers);
        // It is read once more, as the last one was.
        if (known) return onTaken(known);
        setChecked({ file, result });
        onChecked(!('error' in result));
      });
    }
    return () => void (current = false);
  }, [file, brief, taken, answers, tooLarge, onTaken, onChecked]);

  if (tooLarge)
    return <Refused>It has {Math.round(file.size / 1_048_576)} MB; at most 64 MB can be handed in.</Refused>;
  if (checked?.file !== file) return <p className="text-sm text-graphite">Looking at the file …</p>;
  const { result } = checked;
  if ('error' in result) return <Refused>{result.error}</Refused>;
  const { shot, warnings } = result;
  const { motion } = shot.played;
  const last = shot.firstFrame + motion.frames - 1;
  const all = [...warnings, ...shot.warnings];
  return (
    <div className="space-y-1 border-l-[3px] border-student bg-student-wash px-3 py-2 text-sm" data-testid="file-check">
      <FigureMoving shot={shot} />
      {motion.holds && motion.holds.animations.length + motion.holds.figures.length > 2 && (
        <div className="grid grid-cols-2 gap-4">
          <WhichOne
            label="Which of its animations"
            names={motion.holds.animations}
            value={taken.animation}
            onChange={(animation) => onTaken({ ...taken, animation })}
          />
          <WhichOne
            label="Which of its figures"
            names={motion.holds.figures}
            value={taken.figure}
            // Another figure has other joints.
            onChange={(figure) => onTaken({ ...taken, roles: {}, figure })}
          />
        </div>
      )}
      <p>
        Frames <span className="frame-number">{shot.firstFrame}</span> to <span className="frame-number">{last}</span>{' '}
        at {Number(motion.fps.toFixed(2))} a second, {motion.joints.length} joints
        {shot.habit === 'repeat' && ', a loop whose last frame repeats the first'}
        {shot.habit === 'follow' && ', a loop whose last frame comes just before the first'}
        {shot.exposures.blocking && ', poses held: this is blocking'}.
      </p>
      {againstTheBrief({ ...motion, habit: shot.habit }, brief).map(({ rule, say }) => (
        <p key={rule} className="font-semibold">
          {say} {brief.rules[rule] === 'refuse' && 'It can’t be handed in like this.'}
        </p>
      ))}
      {all.map((warning) => (
        <p key={warning} className="text-graphite">
          {warning}
        </p>
      ))}
      <Parts shot={shot} roles={taken.roles} onRoles={(roles) => onTaken({ ...taken, roles })} />
    </div>
  );
}

interface PartsProps {
  readonly shot: PreparedShot;
  readonly roles: TakenFor['roles'];
  readonly onRoles: (roles: TakenFor['roles']) => void;
}

const NONE = '—';

/** Which joint was taken for which part of the figure: put right here, it is measured rightly from the start. */
function Parts({ shot, roles, onRoles }: PartsProps) {
  const joints = shot.motion.joints.map(({ name }) => ({ value: name, text: name }));
  const taken = (role: keyof PreparedShot['roles']): string => {
    const joint = shot.roles[role];
    return joint === undefined ? NONE : shot.motion.joints[joint]!.name;
  };
  return (
    <details>
      <summary className="cursor-pointer text-graphite">
        How the file was read: {FIGURE_ROLES.filter((role) => taken(role) !== NONE).length} parts found. Put them right
      </summary>
      <div className="mt-1 grid grid-cols-1 gap-x-4 gap-y-1 sm:grid-cols-2">
        {FIGURE_ROLES.map((role) => (
          <div key={role} className="flex items-center justify-between gap-2">
            <span>{partLabel(role)}</span>
            <Select
              label={partLabel(role)}
              className="w-40"
              value={taken(role)}
              onChange={(name) => onRoles({ ...roles, [role]: name === NONE ? null : name })}
              options={[{ value: NONE, text: NONE }, ...joints]}
            />
          </div>
        ))}
      </div>
    </details>
  );
}

const Refused = ({ children }: { children: React.ReactNode }) => (
  <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
    <span className="font-semibold">This file can’t be read. </span>
    {children}
  </p>
);
