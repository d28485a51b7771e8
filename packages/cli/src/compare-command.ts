import { Command, Option } from 'commander';
import { sayAlignmentNote } from '@ypsigraph/core/align/alignment-notes';
import { type Change, changesBetween } from '@ypsigraph/core/align/change';
import { type Alignment, alignShots } from '@ypsigraph/core/align/frame-map';
import { type Regression, regressionsBetween } from '@ypsigraph/core/align/regressions';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { measureShot, readingName } from '@ypsigraph/core/measure/registry';
import { KINDS, type PreparedShot, type ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { partName } from '@ypsigraph/core/say/part-names';
import { capital, figures } from '@ypsigraph/core/say/words';
import { openShot, positive, type ReadChoices, whole, withReadOptions } from './open-shot.ts';
import type { Output } from './output.ts';

interface Options extends ReadChoices {
  kind: NonNullable<ShotOptions['kind']>;
  fps?: number;
  firstFrame?: number;
  loop: NonNullable<ShotOptions['loop']>;
  json?: boolean;
}

/** `ypsigraph compare FILE_A FILE_B`. */
export const compareCommand = (output: Output): Command =>
  withReadOptions(new Command('compare'))
    .description('put two revisions of a shot beside each other: where each frame went, what changed, what broke')
    .argument('<before>', 'a motion file')
    .argument('<after>', 'another')
    .addOption(new Option('--kind <kind>', 'kind of exercise').choices([...KINDS]).default('any'))
    .option('--fps <n>', "frames a second, instead of the files' own", positive)
    .option('--first-frame <n>', 'label of the first frame of both (default: 1)', whole)
    .addOption(new Option('--loop <habit>', 'loop habit').choices(['auto', 'none', 'repeat', 'follow']).default('auto'))
    .option('--json', 'print one JSON object')
    .action(async (before: string, after: string, options: Options) => {
      const open = async (file: string): Promise<PreparedShot> => (await openShot(file, options)).shot;
      const [a, b] = [await open(before), await open(after)];
      const aligned = alignShots(a, b);
      const { map, parts, notes }: Alignment =
        typeof aligned === 'string' ? { map: [], parts: [], notes: [] } : aligned;
      const warnings = typeof aligned === 'string' ? [`the frames can't be matched: ${aligned}`] : [];
      const [earlier, later] = [measureShot(a), measureShot(b)];
      const changes = changesBetween(earlier, later, map);
      const gauges = defaultGauges(options.kind, b.played.motion.fps);
      const regressions = regressionsBetween(earlier, later, map, gauges, 'polish');
      const told = { map, changes, regressions, parts, notes: notes.map((note) => sayAlignmentNote(note)), warnings };
      output.out(options.json ? `${JSON.stringify(told)}\n` : asText(told));
    });

interface Comparison extends Omit<Alignment, 'notes'> {
  readonly notes: readonly string[];
  readonly changes: readonly Change[];
  readonly regressions: readonly Regression[];
  readonly warnings: readonly string[];
}

/** What a reading is called, with the number of its detail that is meant, and whose it is. */
const nameOf = ({ id, of, part }: Change): string =>
  `${readingName(id)}${of === undefined ? '' : `, ${of}`}${part === undefined ? '' : ` of ${partName(part)}`}`;

const told = (value: Change['before']): string =>
  value === null
    ? 'not there'
    : typeof value === 'number'
      ? figures(value)
      : value === true
        ? 'yes'
        : value === false
          ? 'no'
          : value;

const UNITS: Readonly<Record<string, string>> = {
  '%L': '% of a leg',
  ratio: '',
  '–': '',
  '–1…1': '',
  '0…1': '',
  count: '',
  'yes/no': '',
};

/** The unit of what is now, in the right number. */
const unitOf = ({ unit, after }: Change): string =>
  unit === 'frames' && after === 1 ? 'frame' : (UNITS[unit] ?? unit);

/** What is now, with its unit. */
const withUnit = (change: Change): string =>
  change.after === null ? told(null) : `${told(change.after)} ${unitOf(change)}`.trimEnd();

function asText({ map, changes, regressions, notes, warnings }: Comparison): string {
  const lines = [...warnings.map((warning) => `warning: ${warning}`), ...notes];
  lines.push(
    regressions.length === 0
      ? 'nothing that was inside its band is outside now'
      : 'inside its band before, outside now:',
    ...regressions.map(
      (change, k) =>
        `${k + 1}. ${capital(nameOf(change))} was ${told(change.before)} and is ${withUnit(change)}. ${change.why}`,
    ),
    '',
  );
  const changed = changes.filter(({ before, after }) => told(before) !== told(after));
  const width = Math.max(0, ...changed.map((change) => nameOf(change).length));
  lines.push(changed.length === 0 ? 'no reading has changed' : 'what changed:');
  for (const change of changed)
    lines.push(`  ${nameOf(change).padEnd(width)}  ${told(change.before)} → ${withUnit(change)}`);
  if (map.length > 0) {
    const few = map.filter((_, k) => k % Math.max(1, Math.ceil(map.length / 12)) === 0 || k === map.length - 1);
    lines.push('', `frames: ${few.map(([a, b]) => `${a}→${Number(b.toFixed(1))}`).join('  ')}`);
  }
  return `${lines.join('\n')}\n`;
}
