import { Injectable } from '@nestjs/common';
import { MAX_FILE_BYTES } from '@ypsigraph/contract/vocabulary';
import { clipTypeOf } from '@ypsigraph/pictures/clip-type';
import type { BriefModel } from '../briefs/brief.model.ts';
import type { ReceivedFile } from '../files/received-file.ts';
import { notNow, refusedFile, storageFull } from '../http/problem.ts';
import { ReadingInterrupted, ReadingProcesses } from '../readings/process/reading-processes.ts';
import type { Looked } from '../readings/process/reading-task.ts';

/** Files up to this size are read within the hand-in, so that a bad one is refused at once; larger ones only by the job. */
const READ_AT_ONCE_BYTES = 8 * 1024 * 1024;

const READ_AT_ONCE_SECONDS = 30;

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** What a file is, looked at before anything is stored. */
@Injectable()
export class FileLook {
  constructor(private readonly processes: ReadingProcesses) {}

  /**
   * Whether a file is a motion or a clip, by what is in it, and what of a motion its brief says something about. In a process of its own: a small
   * archive may name millions of files.
   *
   * @param motionUpTo bytes of a motion that is read at once; a larger one is read by the worker
   * @throws ProblemException with what is wrong with it, and where
   */
  async at(
    { file, fileName }: { readonly file: Pick<ReceivedFile, 'path' | 'bytes'>; readonly fileName: string },
    { kind, fps }: Pick<BriefModel, 'kind' | 'fps'>,
    motionUpTo = READ_AT_ONCE_BYTES,
  ): Promise<Looked> {
    try {
      const task = { does: 'look', path: file.path, fileName, options: { kind, fps }, motionUpTo } as const;
      // One that is called a clip and is none is told so by the look itself.
      const isClip = await clipTypeOf(file.path, fileName).catch(() => undefined);
      const lane = isClip ? 'clip check' : 'check';
      const answer = await this.processes.read(lane, task, READ_AT_ONCE_SECONDS);
      if ('refused' in answer)
        throw answer.asClip
          ? refusedFile('This clip can’t be taken.', `${capital(answer.refused)}.`)
          : refusedFile('This file can’t be read.', answer.refused);
      if ('noRoom' in answer) throw storageFull();
      if ('failed' in answer) throw new Error(answer.failed);
      const looked = answer.gives;
      if (looked.media === 'motion' && file.bytes > MAX_FILE_BYTES)
        throw refusedFile(
          'The file is larger than 64 MB.',
          'Export fewer frames, or leave out joints that do not move.',
          413,
        );
      return looked;
    } catch (error) {
      if (error instanceof ReadingInterrupted) throw notNow('The file could not be looked at just now.');
      throw error;
    }
  }
}
