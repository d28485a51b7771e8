import { Command, Option } from 'commander';
import { findings, verdicts } from '@ypsigraph/core/gauge/gauge';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { type Report, reportShot } from '@ypsigraph/core/measure/report';
import { sayReading } from '@ypsigraph/core/measure/sentence';
import { KINDS, prepareShot, type ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { collect, openMotion, positive, readRoles, whole } from './open-shot.ts';
import type { Output } from './output.ts';

interface Options {
  kind: NonNullable<ShotOptions['kind']>;
  fps?: number;
  firstFrame: number;
  loop: NonNullable<ShotOptions['loop']>;
  joint: string[];
  chain: string[][];
  space: 'local' | 'world';
  from?: number;
  to?: number;
  metresPerUnit?: number;
  roles?: string;
  ground: NonNullable<ShotOptions['ground']>;
  still: string[];
  group: string[];
  json?: boolean;
}

/** `ypsigraph measure FILE`. */
export const measureCommand = (output: Output): Command =>
  new Command('measure')
    .description('read a motion file and print what the trade would say about it')
    .argument('<file>', 'a BVH file')
    .addOption(new Option('--kind <kind>', 'kind of exercise').choices([...KINDS]).default('any'))
    .option('--fps <n>', "frames a second, instead of the file's own", positive)
    .option('--first-frame <n>', 'label of the first frame', whole, 1)
    .addOption(new Option('--loop <habit>', 'loop habit').choices(['auto', 'none', 'repeat', 'follow']).default('auto'))
    .option('--joint <name>', 'measure this joint as well (may be given again)', collect, [])
    .option(
      '--chain <names>',
      'measure the lags along these joints, A,B,C (may be given again)',
      (names, list: string[][]) => [...list, names.split(',')],
      [],
    )
    .addOption(
      new Option('--space <space>', 'rotation of joints asked for').choices(['local', 'world']).default('local'),
    )
    .option('--from <label>', 'first frame of a move, for what is measured over one', whole)
    .option('--to <label>', 'last frame of that move', whole)
    .option('--metres-per-unit <x>', 'real scale of the file', positive)
    .addOption(
      new Option('--ground <ground>', 'what the figure walks on').choices(['auto', 'flat', 'steps']).default('auto'),
    )
    .option('--still <name>', 'a joint that should be still (may be given again)', collect, [])
    .option('--group <name>', 'the joint at the top of one of two groups that should not act at once', collect, [])
    .option('--roles <file>', 'JSON file of corrections: role to joint name')
    .option('--json', 'print one JSON object')
    .action(async (file: string, options: Options) => {
      const { motion, format, warnings } = await openMotion(file);
      const roles = options.roles ? await readRoles(options.roles) : {};
      const shot = prepareShot(motion, { ...options, groups: options.group, roles });
      const report = reportShot(
        shot,
        { file, format, warnings },
        { joints: options.joint, chains: options.chain, ...options },
      );
      output.out(options.json ? `${JSON.stringify(report)}\n` : asText(report, options.kind));
    });

/** What lies outside the kind's usual bands, the heaviest first. */
function findingLines(report: Report, kind: Options['kind']): string[] {
  const gauges = defaultGauges(kind, report.fps);
  if (gauges.length === 0) return [];
  const found = findings(verdicts(gauges, report, 'polish'));
  if (found.length === 0) return ['nothing lies outside the usual bands', ''];
  const lines = found.map(({ reading, gauge, judgement }, k) => {
    const band = gauge.band ? `usual: ${gauge.band[0]} to ${gauge.band[1]}` : `usual: ${gauge.allowed!.join(' or ')}`;
    return `${k + 1}. ${sayReading(reading!)} (${gauge.reading} ${String(reading!.value)}, ${judgement}, ${band})`;
  });
  return [...lines, ''];
}

/** The report for a terminal: what the file is, then a line a reading. */
function asText(report: Report, kind: Options['kind']): string {
  const { scale } = report;
  const last = report.firstFrame + report.frames - 1;
  const lines = [
    `${report.file}: ${report.format}, frames ${report.firstFrame}–${last} at ${Number(report.fps.toFixed(3))} fps, loop ${report.loop}`,
    `up ${report.up}, forward ${report.forward}, leg ${scale.legLength.toFixed(2)} units (${(scale.legLength * scale.metresPerUnit).toFixed(2)} m)`,
    '',
    ...findingLines(report, kind),
  ];
  const width = Math.max(...report.readings.map(({ id }) => id.length), 0);
  for (const reading of report.readings) lines.push(`${reading.id.padEnd(width)}  ${sayReading(reading)}`);
  for (const { id, why, part } of report.unmade)
    lines.push(`${id.padEnd(width)}  not made${part ? ` for ${part}` : ''}: ${why}`);
  for (const warning of report.warnings) lines.push(`warning: ${warning}`);
  return `${lines.join('\n')}\n`;
}
