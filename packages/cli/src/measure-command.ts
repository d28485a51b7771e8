import { Command, Option } from 'commander';
import { judgeShot, type Judgements } from '@ypsigraph/core/gauge/findings';
import { type Gauge, toldBy, verdicts } from '@ypsigraph/core/gauge/gauge';
import type { Stage } from '@ypsigraph/core/trade/stages';
import type { Told } from '@ypsigraph/core/measure/describe';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import { planGauges } from '@ypsigraph/core/gauge/plan-gauges';
import { CATALOGUE, type Topic, TOPICS } from '@ypsigraph/core/measure/catalogue';
import { readingName } from '@ypsigraph/core/measure/registry';
import type { Reading } from '@ypsigraph/core/measure/reading';
import { type Report, reportShot } from '@ypsigraph/core/measure/report';
import type { ShotOptions } from '@ypsigraph/core/motion/prepared-shot';
import { partName } from '@ypsigraph/core/say/part-names';
import { sayReading } from '@ypsigraph/core/measure/sentence';
import { figures } from '@ypsigraph/core/say/words';
import { reportTracks, withPairsAndShapes } from '@ypsigraph/core/track/report-tracks';
import { findingJson } from './findings-json.ts';
import { collect, names, openPoints, openShot, whole } from './open-shot.ts';
import { type ShotChoices, shotOptions, withShotOptions } from './shot-options.ts';
import type { Output } from './output.ts';
import { UsageError } from './usage-error.ts';

interface Options extends ShotChoices {
  joint: string[];
  chain: string[][];
  space: 'local' | 'world';
  from?: number;
  to?: number;
  y: 'down' | 'up';
  pair: (readonly [string, string])[];
  shape: (readonly [string, string, string, string])[];
  json?: boolean;
}

/** `ypsigraph measure FILE`. */
export const measureCommand = (output: Output): Command =>
  withShotOptions(
    new Command('measure')
      .description('read a motion file, or points followed on pictures, and print what the trade would say about it')
      .argument(
        '<file>',
        'a motion file (BVH, glTF, a Lottie puppet), or a table of points: CSV with the columns frame, point, x, y (and sure)',
      ),
  )
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
    .addOption(
      new Option('--y <way>', 'which way y grows in a table of points').choices(['down', 'up']).default('down'),
    )
    .option('--pair <names>', 'two points, A,B, whose distance is measured (may be given again)', names<Pair>(2), [])
    .option(
      '--shape <names>',
      'four points, TOP,BOTTOM,LEFT,RIGHT, whose stretch is measured (may be given again)',
      names<Shape>(4),
      [],
    )
    .option('--json', 'print one JSON object')
    .action(async (file: string, options: Options) => {
      const own = await shotOptions(options);
      const measure = /\.csv$/i.test(file) ? pointsReport : motionReport;
      const report = await measure(file, options, own);
      const gauges = [...planGauges(own.plan), ...defaultGauges(options.kind, report.fps)];
      const judged = judgeShot(gauges, report, options.stage);
      output.out(
        options.json ? `${JSON.stringify(asJson(report, judged))}\n` : asText(report, judged, gauges, options),
      );
    });

type Pair = readonly [string, string];
type Shape = readonly [string, string, string, string];

async function motionReport(file: string, options: Options, own: ShotOptions): Promise<Report> {
  const { shot, format, warnings } = await openShot(file, own);
  const { pair: pairs, shape: shapes } = options;
  if (pairs.length + shapes.length > 0 && !shot.isFlat)
    throw new UsageError('--pair and --shape are of points on pictures: followed ones, or a puppet’s');
  return withPairsAndShapes(reportShot(shot, { file, format, warnings }, asked(options)), shot, { pairs, shapes });
}

async function pointsReport(file: string, options: Options, own: ShotOptions): Promise<Report> {
  const { fps, y, firstFrame } = options;
  if (fps === undefined) throw new UsageError('a table of points does not say how fast it runs: --fps is needed');
  const tracks = await openPoints(file, { fps, y, ...(firstFrame !== undefined && { firstFrame }) });
  // A table says itself what its axes and its points are.
  const { up: _, roles: __, ...seen } = own;
  return reportTracks(
    tracks,
    seen,
    { file, format: 'points', warnings: [] },
    { ...asked(options), pairs: options.pair, shapes: options.shape },
  );
}

const asked = ({ joint, chain, space, from, to }: Options) => ({
  joints: joint,
  chains: chain,
  space,
  ...(from !== undefined && { from }),
  ...(to !== undefined && { to }),
});

/** The report with what its kind's gauges say, as one plain object. */
const asJson = (report: Report, { findings, unjudged, judged }: Judgements) => ({
  ...report,
  findings: findings.map(findingJson),
  unjudged,
  judged,
});

/** What people call a reading, and of which part it is. */
const nameWithPart = (id: string, part: string | undefined): string =>
  part === undefined ? readingName(id) : `${readingName(id)} of ${partName(part)}`;

/** The first of many, and how many more. */
const few = (names: readonly string[], most = 5): string =>
  names.length > most + 1 ? `${names.slice(0, most).join(', ')} and ${names.length - most} more` : names.join(', ');

const gauges = (value: number): string => `${value} ${value === 1 ? 'gauge' : 'gauges'}`;

/** What the gauges say: how many were judged, what is not inside, and why the rest could not be judged, each reason once. */
function judgementLines({ findings, unjudged, judged }: Judgements, kind: Options['kind']): string[] {
  if (judged + unjudged.length === 0)
    return kind.every((own) => own === 'any') ? ['of no kind in particular nothing is expected', ''] : [];
  const outside = findings.filter(({ judgement }) => judgement === 'outside').length;
  const near = findings.length - outside;
  const nearly = near > 0 ? `, ${near} near the edge` : '';
  const lines = [`${gauges(judged)} judged: ${outside} outside${nearly}; ${unjudged.length} could not be judged`];
  findings.forEach(({ say, judgement, also, gauge }, k) => {
    const rest = also.length > 0 ? ` (and what follows from it: ${few(also.map(readingName))})` : '';
    lines.push(`${k + 1}. ${say}${judgement === 'near' ? ' (near the edge)' : ''}${rest}. ${gauge.why}`);
  });
  const reasons = new Map<string, string[]>();
  for (const { reading, part, why } of unjudged)
    reasons.set(why, [...(reasons.get(why) ?? []), nameWithPart(reading, part)]);
  for (const [why, what] of reasons) lines.push(`not judged: ${why} (${what.join(', ')})`);
  return [...lines, ''];
}

/** The report for a terminal: what the gauges say, what the file is, then a line a reading by topic. */
function asText(
  report: Report,
  judgements: Judgements,
  gauges: readonly Gauge[],
  { kind, stage }: Pick<Options, 'kind' | 'stage'>,
): string {
  const { scale } = report;
  const sentences = toldOf(report, gauges, stage);
  const last = report.firstFrame + report.frames - 1;
  const lines = [
    ...judgementLines(judgements, kind),
    ...report.warnings.map((warning) => `warning: ${warning}`),
    `${report.file}: ${report.format}, frames ${report.firstFrame}–${last} at ${figures(report.fps, 5)} a second, ${LOOPS[report.loop] ?? report.loop}`,
    `up ${report.up}, forward ${report.forward}, a leg of ${figures(scale.legLength, 4)} units, ${(scale.legLength * scale.metresPerUnit).toFixed(2)} m`,
  ];
  const topicOf = new Map<string, Topic>(CATALOGUE.map(({ id, topic }) => [id, topic]));
  const told = new Map<string, string>();
  for (const topic of TOPICS) {
    const own = report.readings.filter(({ id }) => topicOf.get(id) === topic);
    if (own.length > 0) lines.push('', `${topic}:`);
    for (const reading of own) {
      lines.push(`  ${sayReading(reading, sentences.get(reading))}`);
    }
  }
  for (const { id, why, part } of report.unmade) {
    const what = nameWithPart(id, part);
    told.set(why, told.has(why) ? `${told.get(why)!}, ${what}` : what);
  }
  if (told.size > 0) lines.push('', 'not made:');
  for (const [why, what] of told) lines.push(`  ${why}: ${what}`);
  return `${lines.join('\n')}\n`;
}

const LOOPS: Readonly<Record<string, string>> = {
  none: 'no loop',
  repeat: 'a loop whose last frame repeats the first',
  follow: 'a loop whose last frame comes just before the first',
};

/** What its own gauge says of each reading, so that its sentence and the finding never disagree. */
function toldOf(report: Report, gauges: readonly Gauge[], stage: Stage): ReadonlyMap<Reading, Told> {
  const own = verdicts(gauges, report, stage).filter(({ gauge }) => gauge.of === undefined && gauge.over === undefined);
  return new Map(
    own.flatMap((verdict) => {
      const told = toldBy(verdict);
      return verdict.reading && told ? [[verdict.reading, told] as const] : [];
    }),
  );
}
