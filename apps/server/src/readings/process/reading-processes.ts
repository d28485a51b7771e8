import { type ChildProcess, spawn } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { Inject, Injectable, type OnModuleDestroy } from '@nestjs/common';
import { CONFIGURATION, type Configuration } from '../../config.ts';
import {
  type Does,
  type ReadingAnswer,
  type ReadingProgress,
  type ReadingTask,
  type TaskOf,
  TOO_LARGE,
} from './reading-task.ts';

/** The built program of a reading; run from source, as tests are, it is the built one as well. */
const PROGRAM = fileURLToPath(new URL('./reading-child.js', import.meta.url)).replace('/server/src/', '/server/dist/');

/** The process was ended from outside: nothing is known of the file. */
export class ReadingInterrupted extends Error {}

/** Hand-ins that wait for an answer and what is read for later do not wait for each other, nor motions for clips. */
export type Lane = 'check' | 'clip check' | 'job' | 'clip';

/** In these a motion may come at any moment: a process that has started waits for it. */
const READY: readonly Lane[] = ['check', 'job'];

interface Waiting {
  readonly task: ReadingTask;
  readonly seconds: number;
  readonly onProgress: ((share: number) => void) | undefined;
  readonly settle: (answer: ReadingAnswer) => void;
  readonly refuse: (error: Error) => void;
}

/**
 * Reads files in processes of their own, one file each, bounded in memory (`ulimit -d`) and time. One that is ready waits in every lane, so that
 * a small file is answered at once; what a file does to its process is done to nobody else.
 */
@Injectable()
export class ReadingProcesses implements OnModuleDestroy {
  private readonly lanes = new Map<Lane, { ready?: ChildProcess; busy: number; readonly queue: Waiting[] }>();
  private readonly children = new Set<ChildProcess>();
  private ended = false;

  constructor(@Inject(CONFIGURATION) private readonly configuration: Configuration) {}

  /**
   * @param seconds after which the file is given up
   * @param onProgress told what share of a clip has been decoded
   * @throws ReadingInterrupted where the process was ended by somebody else
   */
  read<D extends Does>(
    lane: Lane,
    task: TaskOf<D>,
    seconds: number,
    onProgress?: (share: number) => void,
  ): Promise<ReadingAnswer<D>> {
    return new Promise((resolve, refuse) => {
      // A process answers what it was asked.
      const settle = resolve as (answer: ReadingAnswer) => void;
      this.laneOf(lane).queue.push({ task, seconds, onProgress, settle, refuse });
      this.next(lane);
    });
  }

  onModuleDestroy(): void {
    this.ended = true;
    for (const { queue } of this.lanes.values())
      for (const waiting of queue.splice(0)) waiting.refuse(new ReadingInterrupted('the server ends'));
    for (const child of this.children) child.kill('SIGKILL');
  }

  private laneOf(lane: Lane) {
    const found = this.lanes.get(lane) ?? { busy: 0, queue: [] };
    this.lanes.set(lane, found);
    return found;
  }

  private next(lane: Lane): void {
    const own = this.laneOf(lane);
    if (this.ended || own.busy >= this.configuration.READERS) return;
    const waiting = own.queue.shift();
    if (!waiting) return;
    const child = own.ready?.connected ? own.ready : this.start(lane);
    delete own.ready;
    own.busy++;
    this.follow(child, waiting, () => {
      own.busy--;
      this.next(lane);
    });
    // The next file finds a process that has started.
    if (READY.includes(lane)) own.ready ??= this.start(lane);
  }

  private follow(child: ChildProcess, { task, seconds, onProgress, settle, refuse }: Waiting, ended: () => void): void {
    let answer: ReadingAnswer | undefined;
    let tooLong = false;
    const timer = setTimeout(() => {
      tooLong = true;
      child.kill('SIGKILL');
    }, seconds * 1_000);
    child.on('message', (message: ReadingAnswer | ReadingProgress) => {
      if ('progress' in message) onProgress?.(message.progress);
      else answer = message;
    });
    child.once('exit', (_, signal) => {
      clearTimeout(timer);
      if (answer) settle(answer);
      else if (tooLong)
        settle({ refused: `it takes longer than ${seconds} seconds to read: export fewer frames or joints` });
      else if (signal === 'SIGKILL' || signal === 'SIGTERM' || this.ended)
        refuse(new ReadingInterrupted(`the process was ended by ${signal ?? 'somebody'}`));
      else settle({ refused: TOO_LARGE });
      ended();
    });
    child.send(task, (error) => error && child.kill('SIGKILL'));
  }

  private start(lane: Lane): ChildProcess {
    const { configuration } = this;
    const megabytes = lane === 'clip' ? configuration.CLIP_MEMORY_MB : configuration.READING_MEMORY_MB;
    const seconds = lane === 'clip' ? configuration.CLIP_SECONDS : configuration.READING_SECONDS;
    // The shell sets limits that the system keeps, arrays outside of the runtime's own heap included, and becomes the program. The time is
    // a net for a process whose server was killed. People who wait for a page come first, from its very start.
    const limited = `ulimit -d ${megabytes * 1024} && ulimit -t ${2 * seconds + 10} && exec nice -n 10 "$0" "$@"`;
    const heap = `--max-old-space-size=${Math.round(0.75 * megabytes)}`;
    const child = spawn('/bin/sh', ['-c', limited, process.execPath, heap, PROGRAM], {
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      serialization: 'advanced',
      env: { PATH: process.env.PATH ?? '' },
    });
    this.children.add(child);
    child.on('error', () => child.kill('SIGKILL'));
    child.once('exit', () => this.children.delete(child));
    // A process that only waits keeps nothing alive.
    child.unref();
    child.channel?.unref();
    return child;
  }
}
