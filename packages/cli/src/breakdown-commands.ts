import { Command } from 'commander';
import { measureBreakdown, measureChart } from '@ypsigraph/core/measure/breakdown/breakdown';
import type { Measured } from '@ypsigraph/core/measure/reading';
import { readingName } from '@ypsigraph/core/measure/registry';
import { sayReading } from '@ypsigraph/core/measure/sentence';
import { jointIndex } from '@ypsigraph/core/motion/motion';
import type { PreparedShot } from '@ypsigraph/core/motion/prepared-shot';
import { openShot, type ReadChoices, whole, withReadOptions } from './open-shot.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

interface Options extends ReadChoices {
  a: number;
  at: number;
  b: number;
  firstFrame?: number;
  joint?: string;
  json?: boolean;
}

/** Options that both commands have. */
const command = (name: string, description: string): Command =>
  withReadOptions(new Command(name))
    .description(description)
    .argument('<file>', 'a motion file')
    .requiredOption('--a <label>', 'frame of the first pose', whole)
    .requiredOption('--b <label>', 'frame of the second pose', whole)
    .option('--first-frame <n>', 'label of the first frame (default: 1)', whole)
    .option('--json', 'print one JSON object');

async function print(
  output: Output,
  file: string,
  options: Options,
  measure: (shot: PreparedShot) => Measured,
): Promise<void> {
  const { firstFrame, animation, figure } = options;
  const { shot, warnings } = await openShot(file, {
    ...(firstFrame !== undefined && { firstFrame }),
    ...(animation !== undefined && { animation }),
    ...(figure !== undefined && { figure }),
    loop: 'none',
  });
  const { readings, unmade } = measure(shot);
  if (options.json) {
    output.out(`${JSON.stringify({ file, readings, unmade, warnings: [...warnings, ...shot.warnings] })}\n`);
    return;
  }
  const lines = [
    ...readings.map((reading) => sayReading(reading)),
    ...unmade.map(({ id, part, why }) => `${readingName(id)}: not made${part ? ` for ${part}` : ''}: ${why}`),
  ];
  output.out(`${lines.join('\n')}\n`);
}

/** `ypsigraph favour FILE`. */
export const favourCommand = (output: Output): Command =>
  command(
    'favour',
    'how much the pose at a frame is one of two poses, and what the straight way between them leaves out',
  )
    .requiredOption('--at <label>', 'frame of the pose between', whole)
    .action((file: string, options: Options) =>
      print(output, file, options, (shot) => measureBreakdown(shot, options)),
    );

/** `ypsigraph chart FILE`. */
export const chartCommand = (output: Output): Command =>
  command('chart', 'how far every frame is on the way from one pose to another')
    .option('--joint <name>', "one joint's rotation instead of the whole pose")
    .action((file: string, options: Options) =>
      print(output, file, options, (shot) => {
        if (options.joint === undefined) return measureChart(shot, options);
        const joint = jointIndex(shot.motion, options.joint);
        if (joint < 0) throw new UsageError(`there is no joint called “${options.joint}”`);
        return measureChart(shot, options, joint);
      }),
    );
