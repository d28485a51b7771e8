import { useEffect, useState } from 'react';
import type { Assignment } from '@ypsigraph/contract/courses';
import { shotOptions } from '@ypsigraph/contract/shot-options';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { prepareFile } from '../workers/motion.ts';
import type { Prepared } from '../workers/motion.worker.ts';

interface Props {
  readonly file: File;
  readonly brief: Assignment['brief'];
  /** Told whether the file can be read, once that is known. */
  readonly onChecked: (readable: boolean) => void;
}

/** Reads the chosen file in the page and says what it is, before anything is sent. */
export function FileCheck({ file, brief, onChecked }: Props) {
  const [checked, setChecked] = useState<{ file: File; result: Prepared }>();
  const tooLarge = file.size > MAX_FILE_BYTES;
  useEffect(() => {
    let current = true;
    if (!tooLarge) {
      void prepareFile(file, shotOptions(brief, { ...brief, roles: {} })).then((result) => {
        if (!current) return;
        setChecked({ file, result });
        onChecked(!('error' in result));
      });
    }
    return () => void (current = false);
  }, [file, brief, tooLarge, onChecked]);

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
    <div className="border-l-[3px] border-student bg-student-wash px-3 py-2 text-sm" data-testid="file-check">
      <p>
        Frames <span className="frame-number">{shot.firstFrame}</span> to <span className="frame-number">{last}</span>{' '}
        at {Number(motion.fps.toFixed(2))} a second, {motion.joints.length} joints
        {shot.habit === 'repeat' && ', a loop whose last frame repeats the first'}
        {shot.habit === 'follow' && ', a loop whose last frame comes just before the first'}
        {shot.exposures.blocking && ', poses held: this is blocking'}.
      </p>
      {all.map((warning) => (
        <p key={warning} className="text-graphite">
          {warning}
        </p>
      ))}
    </div>
  );
}

const Refused = ({ children }: { children: React.ReactNode }) => (
  <p role="alert" className="border-l-[3px] border-ink bg-wash px-3 py-2 text-sm">
    <span className="font-semibold">This file can’t be read. </span>
    {children}
  </p>
);
