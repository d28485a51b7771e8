import { Command, Option } from 'commander';
import { asPlayed, type PreparedShot, sampleAt } from '@ypsigraph/core/motion/prepared-shot';
import { quantitiesAt } from '@ypsigraph/core/quantity/measure-quantity';
import { QUANTITIES, QUANTITY_KINDS } from '@ypsigraph/core/quantity/quantities';
import { roundTo4 } from '@ypsigraph/core/measure/reading';
import { partName } from '@ypsigraph/core/say/part-names';
import { figures, list } from '@ypsigraph/core/say/words';
import { figureOfPoints } from '@ypsigraph/core/track/figure-of-points';
import { openPoints, openShot, positive, type ReadChoices, readRoles, whole, withReadOptions } from './open-shot.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

interface Options extends ReadChoices {
  at: number;
  fps?: number;
  firstFrame?: number;
  y: 'down' | 'up';
  roles?: string;
  json?: boolean;
}

/** `ypsigraph pose FILE`: every quantity at a frame. */
export const poseCommand = (output: Output): Command =>
  withReadOptions(new Command('pose'))
    .description('how the figure stands at a frame: lean, turn, tilt, pitch, swing, bend and place of every part')
    .argument('<file>', 'a motion file, or a table of points')
    .requiredOption('--at <label>', 'frame of the pose', whole)
    .option('--fps <n>', "frames a second, instead of the file's own", positive)
    .option('--first-frame <n>', 'label of the first frame (default: 1; of points the lowest in the table)', whole)
    .addOption(
      new Option('--y <way>', 'which way y grows in a table of points').choices(['down', 'up']).default('down'),
    )
    .option('--roles <file>', 'JSON file of corrections: role to joint name')
    .option('--json', 'print one JSON object')
    .action(async (file: string, options: Options) => {
      // Every frame as it is in the file: nothing folded, nothing smoothed.
      const shot = asPlayed(/\.csv$/i.test(file) ? await ofPoints(file, options) : await ofMotion(file, options));
      const sample = sampleAt(shot, options.at);
      const last = shot.firstFrame + shot.motion.frames - 1;
      if (!(sample >= 0 && sample < shot.motion.frames))
        throw new UsageError(`--at: the shot has frames ${shot.firstFrame} to ${last}`);
      const { quantities, unmade } = quantitiesAt(shot, sample);
      if (options.json) {
        const rounded = quantities.map((own) => ({ ...own, value: roundTo4(own.value) }));
        output.out(`${JSON.stringify({ quantities: rounded, unmade })}\n`);
        return;
      }
      const lines = QUANTITIES.flatMap((quantity) => {
        const { name, zero, plus } = QUANTITY_KINDS[quantity];
        const own = quantities.filter((one) => one.quantity === quantity);
        if (own.length === 0) return [];
        return [
          `${name} (0 ${zero}, over 0 ${plus}):`,
          ...own.map(({ of, value, unit }) => `  ${partName(of)}: ${said(value, unit)}`),
        ];
      });
      const reasons = new Map<string, string[]>();
      for (const { quantity, of, why } of unmade)
        reasons.set(why, [...(reasons.get(why) ?? []), `${QUANTITY_KINDS[quantity].name} of ${partName(of)}`]);
      output.out(`${[...lines, ...[...reasons].map(([why, of]) => `not made: ${why}: ${list(of)}`)].join('\n')}\n`);
    });

const said = (value: number, unit: string): string =>
  unit === '°' ? `${value.toFixed(1)}°` : `${figures(value)} % of a leg`;

const rolesOf = async ({ roles }: Options): Promise<Record<string, string | null>> => (roles ? readRoles(roles) : {});

async function ofMotion(file: string, options: Options): Promise<PreparedShot> {
  const { fps, firstFrame, animation, figure } = options;
  const { shot } = await openShot(file, {
    roles: await rolesOf(options),
    ...(fps !== undefined && { fps }),
    ...(firstFrame !== undefined && { firstFrame }),
    ...(animation !== undefined && { animation }),
    ...(figure !== undefined && { figure }),
  });
  return shot;
}

async function ofPoints(file: string, { fps = 24, firstFrame, y }: Options): Promise<PreparedShot> {
  const tracks = await openPoints(file, { fps, y, ...(firstFrame !== undefined && { firstFrame }) });
  return figureOfPoints(tracks, { loop: 'none' }).shot;
}
