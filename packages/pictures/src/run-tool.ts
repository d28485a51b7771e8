import { type ChildProcess, spawn, spawnSync } from 'node:child_process';
import type { Readable } from 'node:stream';
import { ClipError } from './clip-error.ts';

export interface ToolLimits {
  /** Seconds after which it is ended. */
  readonly seconds: number;
  /** Memory it may take, megabytes. */
  readonly megabytes: number;
  /** Largest file it may write, megabytes. */
  readonly fileMegabytes: number;
}

export const TOOL_LIMITS: ToolLimits = Object.freeze({ seconds: 480, megabytes: 2048, fileMegabytes: 64 });

export interface ToolRun {
  /** A line of what it says on standard error. */
  readonly onLine?: (line: string) => void;
  /** What it writes on standard output, read as it comes. */
  readonly onOutput?: (output: Readable) => Promise<void>;
  readonly limits?: ToolLimits;
}

/** Longest line that is kept of what a tool says. */
const LINE = 4096;
const running = new Set<ChildProcess>();
// Whoever ends this process ends what it started.
process.once('exit', () => {
  for (const child of running) child.kill('SIGKILL');
});

/** Whether the system lets a process have a network of its own, with nothing in it. */
let closedOff: boolean | undefined;
const canCloseOff = (): boolean =>
  (closedOff ??= spawnSync('unshare', ['-rn', 'true'], { stdio: 'ignore' }).status === 0);

/**
 * Runs ffmpeg or ffprobe on its own: bounded in time, memory and what it writes, at low priority, without a network.
 *
 * @returns its exit code
 * @throws ClipError where it takes too long
 */
export async function runTool(
  tool: 'ffmpeg' | 'ffprobe',
  args: readonly string[],
  { onLine, onOutput, limits = TOOL_LIMITS }: ToolRun = {},
): Promise<number> {
  const { seconds, megabytes, fileMegabytes } = limits;
  const limited =
    `ulimit -c 0; ulimit -d ${megabytes * 1024}; ulimit -f ${fileMegabytes * 1024}; ulimit -t ${2 * seconds + 10}; ` +
    'exec nice -n 10 "$0" "$@"';
  const shell = ['/bin/sh', '-c', limited, tool, ...args];
  const [command, ...rest] = canCloseOff() ? ['unshare', '-rn', ...shell] : shell;
  const child = spawn(command!, rest, { stdio: ['ignore', 'pipe', 'pipe'], env: { PATH: process.env.PATH ?? '' } });
  running.add(child);
  let tooLong = false;
  const timer = setTimeout(() => {
    tooLong = true;
    child.kill('SIGKILL');
  }, seconds * 1_000);
  try {
    const ended = new Promise<number>((resolve, reject) => {
      child.once('error', () => reject(new Error(`${tool} can't be started: it comes with Debian's package ffmpeg`)));
      child.once('close', (code) => resolve(code ?? 1));
    });
    const said = lines(child.stderr, onLine);
    const output = onOutput ? onOutput(child.stdout) : drained(child.stdout);
    output.catch(() => child.kill('SIGKILL'));
    const [code] = await Promise.all([ended, said, output]);
    if (tooLong)
      throw new ClipError(`it takes longer than ${seconds} seconds to decode: hand in a shorter or smaller clip`);
    return code;
  } finally {
    clearTimeout(timer);
    running.delete(child);
  }
}

async function lines(stream: Readable, onLine: ToolRun['onLine']): Promise<void> {
  let rest = '';
  for await (const chunk of stream) {
    const parts = (rest + String(chunk)).split(/[\r\n]+/);
    rest = parts.pop()!.slice(-LINE);
    for (const line of parts) if (line !== '') onLine?.(line.slice(0, LINE));
  }
  if (rest !== '') onLine?.(rest);
}

async function drained(stream: Readable): Promise<void> {
  for await (const _ of stream);
}
