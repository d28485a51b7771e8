import { Command, CommanderError } from 'commander';
import { RemedyError } from '@ypsigraph/core/remedy/remedy';
import { FormatError } from '@ypsigraph/core/formats/format-error';
import { chartCommand, favourCommand } from './breakdown-commands.ts';
import { exposuresCommand, followCommand } from './clip-commands.ts';
import { compareCommand } from './compare-command.ts';
import { exemplarCommand } from './exemplar-command.ts';
import { measureCommand } from './measure-command.ts';
import { poseCommand } from './pose-command.ts';
import { readingsCommand } from './readings-command.ts';
import { remediesCommand, remedyCommand } from './remedy-command.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

const STANDARD: Output = {
  out: (text) => void process.stdout.write(text),
  err: (text) => void process.stderr.write(text),
};

/**
 * Runs the command line.
 * @param args what stands behind the command's name
 * @returns the exit code: 0 done, 1 a file could not be read or written, or a remedy not be made, 2 wrong usage
 */
export async function run(args: readonly string[], output: Output = STANDARD): Promise<number> {
  const program = new Command('ypsigraph')
    .description('Measures animated motion, and makes motions to measure.')
    .exitOverride()
    .configureOutput({ writeOut: output.out, writeErr: output.err });
  for (const command of [
    measureCommand(output),
    favourCommand(output),
    chartCommand(output),
    compareCommand(output),
    poseCommand(output),
    followCommand(output),
    exposuresCommand(output),
    readingsCommand(output),
    remedyCommand(output),
    remediesCommand(output),
    exemplarCommand(output),
  ]) {
    program.addCommand(command.exitOverride().configureOutput({ writeOut: output.out, writeErr: output.err }));
  }
  try {
    await program.parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2;
    if (error instanceof UsageError || error instanceof RangeError) {
      output.err(`error: ${error.message}\n`);
      return 2;
    }
    if (error instanceof FormatError || error instanceof RemedyError || isFileError(error)) {
      output.err(`${error.message}\n`);
      return 1;
    }
    throw error;
  }
}

/** An error of the file system. Told by what it carries: it may come from another realm than ours. */
const isFileError = (error: unknown): error is NodeJS.ErrnoException =>
  typeof error === 'object' && error !== null && 'syscall' in error && 'code' in error;
