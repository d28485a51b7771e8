import { type Command, InvalidArgumentError, Option } from 'commander';
import { UP_AXES } from '@ypsigraph/core/motion/axes';
import { type Kind, KINDS, type ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { type Stage, STAGES } from '@ypsigraph/core/trade/stages';
import { collect, positive, readPlan, type ReadChoices, readRoles, whole, withReadOptions } from './open-shot.ts';

/** What a shot is taken as: the same for every command that measures one. */
export interface ShotChoices extends ReadChoices {
  kind: readonly Kind[];
  fps?: number;
  firstFrame?: number;
  loop: NonNullable<ShotOptions['loop']>;
  metresPerUnit?: number;
  up: NonNullable<ShotOptions['up']>;
  roles?: string;
  ground: NonNullable<ShotOptions['ground']>;
  still: string[];
  group: string[];
  plan?: string;
  stage: Stage;
}

/** The options by which a shot is taken as it is meant. */
export const withShotOptions = (command: Command): Command =>
  withReadOptions(command)
    .addOption(
      new Option('--kind <kind>', 'kind of exercise (may be given again: a walk that looks and stops)')
        .argParser(kindsOf)
        .default([], 'any'),
    )
    .option('--fps <n>', "frames a second, instead of the file's own", positive)
    .option('--first-frame <n>', 'label of the first frame (default: 1; of points the lowest in the table)', whole)
    .addOption(new Option('--loop <habit>', 'loop habit').choices(['auto', 'none', 'repeat', 'follow']).default('auto'))
    .addOption(new Option('--up <axis>', 'which axis of the file is up').choices(['auto', ...UP_AXES]).default('auto'))
    .option('--metres-per-unit <x>', 'real scale of the file', positive)
    .addOption(
      new Option('--ground <ground>', 'what the figure walks on').choices(['auto', 'flat', 'steps']).default('auto'),
    )
    .option(
      '--still <name>',
      'a joint that should be still, or a point on something that stands still (may be given again)',
      collect,
      [],
    )
    .option('--group <name>', 'the joint at the top of one of two groups that should not act at once', collect, [])
    .option('--plan <file>', 'JSON file of planned poses: { name, frame or share, part, tolerance } each')
    .option('--roles <file>', 'JSON file of corrections: role to joint name')
    .addOption(new Option('--stage <stage>', 'whose gauges apply').choices([...STAGES]).default('polish'));

/** The value of `--kind`, gathered. */
function kindsOf(value: string, list: readonly Kind[]): Kind[] {
  const kind = KINDS.find((own) => own === value);
  if (!kind) throw new InvalidArgumentError(`Allowed choices are ${KINDS.join(', ')}.`);
  return [...list, kind];
}

/** The kinds that were asked for as a shot takes them: the first, and those it is as well. */
export const kindsAsked = ({
  kind: [kind = 'any', ...alsoKinds],
}: Pick<ShotChoices, 'kind'>): Required<Pick<ShotOptions, 'kind' | 'alsoKinds'>> => ({ kind, alsoKinds });

/** What a motion is prepared with: files that options name are read. */
export async function shotOptions(choices: ShotChoices): Promise<ShotOptions & Required<Pick<ShotOptions, 'plan'>>> {
  const { fps, firstFrame, loop, metresPerUnit, up, ground, still, group, animation, figure } = choices;
  return {
    ...kindsAsked(choices),
    loop,
    up,
    ground,
    still,
    groups: group,
    roles: choices.roles ? await readRoles(choices.roles) : {},
    plan: choices.plan === undefined ? [] : await readPlan(choices.plan),
    ...(animation !== undefined && { animation }),
    ...(figure !== undefined && { figure }),
    ...(fps !== undefined && { fps }),
    ...(firstFrame !== undefined && { firstFrame }),
    ...(metresPerUnit !== undefined && { metresPerUnit }),
  };
}
