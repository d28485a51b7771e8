import { writeFile } from 'node:fs/promises';
import { Command, InvalidArgumentError } from 'commander';
import { writeShot } from '@ypsigraph/core/formats/write-shot';
import { defaultGauges } from '@ypsigraph/core/gauge/gauges';
import type { Finding } from '@ypsigraph/core/gauge/findings';
import { planGauges } from '@ypsigraph/core/gauge/plan-gauges';
import { roundTo4 } from '@ypsigraph/core/measure/reading';
import { readingName } from '@ypsigraph/core/measure/registry';
import { cureAll, cureBy, type Cured, cureFindings, judged, type Patient } from '@ypsigraph/core/remedy/cure';
import { EXPOSURE_REMEDIES, exposedBy } from '@ypsigraph/core/remedy/exposure-list';
import { UNBENT } from '@ypsigraph/core/remedy/recipe';
import { type Recipe, RemedyError, type Step } from '@ypsigraph/core/remedy/remedy';
import { REMEDIES } from '@ypsigraph/core/remedy/remedies';
import { withClip } from './clip-commands.ts';
import { findingJson } from './findings-json.ts';
import { openShot } from './open-shot.ts';
import type { Output } from './output.ts';
import { type ShotChoices, shotOptions, withShotOptions } from './shot-options.ts';
import { UsageError } from './usage-error.ts';

interface Options extends ShotChoices {
  do: Recipe;
  for?: string;
  all?: boolean;
  output?: string;
  json?: boolean;
}

/** `ypsigraph remedy FILE`: puts a motion right, as it is asked or as it is proposed. */
export const remedyCommand = (output: Output): Command =>
  withShotOptions(
    new Command('remedy')
      .description('put a motion right: by remedies that are given, or by what is proposed for a finding or for all')
      .argument('<file>', 'a motion file (BVH, glTF); or a clip, whose drawings are exposed otherwise'),
  )
    .option('--do <remedy>', 'a remedy, NAME:PARAMETER=VALUE,… (may be given again; made in this order)', steps, [])
    .option('--for <finding>', 'READING[:PART][@LABEL]: what is proposed for that finding, solved')
    .option('--all', 'what is proposed for every finding, heaviest first, as long as nothing breaks')
    .option(
      '-o, --output <file>',
      'where it goes: BVH, or glTF where it is called .glb; of a clip CSV with the columns frame, drawing',
    )
    .option('--json', 'print one JSON object')
    .action(async (file: string, options: Options) => {
      const ways = [options.do.length > 0, options.for !== undefined, options.all === true].filter(Boolean);
      if (ways.length !== 1) throw new UsageError('one of --do, --for and --all is needed');
      if (!/\.bvh$/i.test(file) && /\.(webm|mp4|mov|gif|apng|png|webp|zip)$/i.test(file))
        return exposeClip(file, options, output);
      const own = await shotOptions(options);
      const { shot, motion } = await openShot(file, own);
      const gauges = [...planGauges(own.plan), ...defaultGauges([...shot.kinds], motion.fps)];
      const patient: Patient = { shot, options: own, gauges, stage: options.stage };
      const cured = curedAs(patient, options);
      if (options.output !== undefined)
        await writeFile(options.output, await writeShot(cured.treated.shot, options.output));
      output.out(options.json ? `${JSON.stringify(asJson(cured, shot.firstFrame))}\n` : asText(cured, options.output));
    });

function curedAs(patient: Patient, options: Options): Cured {
  if (patient.shot.isFlat) throw new RemedyError(UNBENT);
  if (options.all) return cureAll(patient);
  if (options.for === undefined) return cureBy(patient, options.do);
  const asked = /^([^:@]+)(?::(.+?))?(?:@(-?\d+))?$/.exec(options.for);
  if (!asked) throw new UsageError('--for: expected READING[:PART][@LABEL]');
  const [, id, part, label] = asked;
  const { findings } = judged(patient);
  const own = findings.filter(
    ({ reading, twin }) => reading.id === id && (part === undefined || [reading.part, twin].includes(part)),
  );
  if (own.length === 0)
    throw new RemedyError(
      `there is no finding “${options.for}”${findings.length > 0 ? `: there are ${findings.map(named).join(', ')}` : ': nothing is outside its band'}`,
    );
  const chosen = label === undefined ? own : [nearest(own, Number(label))];
  const cured = cureFindings(patient, chosen);
  if (cured.recipe.length === 0) throw new RemedyError(`no remedy mends ${readingName(id!)} here`);
  return cured;
}

const named = ({ reading: { id, part } }: Finding): string => (part === undefined ? id : `${id}:${part}`);

/** The finding that shows nearest to a label. */
const nearest = (findings: readonly Finding[], label: number): Finding => {
  const distance = ({ frames }: Finding): number => Math.min(Infinity, ...frames.map((own) => Math.abs(own - label)));
  return findings.reduce((best, own) => (distance(own) < distance(best) ? own : best));
};

const asJson = ({ recipe, touched, treated, before, after, gone, fresh, left, notes }: Cured, firstBefore: number) => ({
  recipe,
  touched: touched ?? { joints: [], frames: [] },
  ...(treated.map && { map: treated.map.map((at) => roundTo4(at + firstBefore)) }),
  before,
  after,
  gone: gone.map(findingJson),
  fresh: fresh.map(findingJson),
  left: left.map(findingJson),
  notes,
});

const spelled = ({ remedy, parameters }: Step): string =>
  `${remedy}:${Object.entries(parameters)
    .map(([name, value]) => `${name}=${value}`)
    .join(',')}`;

function asText({ recipe, touched, gone, fresh, left, notes }: Cured, file: string | undefined): string {
  const told = (name: string, findings: readonly Finding[]): string[] =>
    findings.length === 0
      ? []
      : [
          `${name}:`,
          ...findings.map(({ say, judgement }) => `  ${say}${judgement === 'near' ? ' (near the edge)' : ''}`),
        ];
  const lines = [
    ...(recipe.length === 0 ? ['nothing was to be done'] : recipe.map((step) => `made: ${spelled(step)}`)),
    touched
      ? `changed: frames ${touched.frames[0]} to ${touched.frames[1]}${touched.joints.length > 0 ? `, ${touched.joints.length} joints` : ''}`
      : 'changed: nothing',
    ...told('gone', gone),
    ...told('fresh', fresh),
    ...told('left', left),
    ...notes.map((note) => `note: ${note}`),
    ...(file === undefined ? [] : [`written to ${file}`]),
  ];
  return `${lines.join('\n')}\n`;
}

/** The drawings of a clip exposed otherwise, as a list: which drawing each frame shows. */
async function exposeClip(file: string, options: Options, output: Output): Promise<void> {
  if (options.do.length === 0)
    throw new RemedyError('a clip’s drawings can’t be bent: only --do exposes them otherwise');
  await withClip(file, { fps: options.fps }, async ({ exposures }) => {
    const first = options.firstFrame ?? 1;
    const drawings = exposures.flatMap(({ from, to }, drawing) => Array.from({ length: to - from + 1 }, () => drawing));
    const made = exposedBy(drawings, first, options.do);
    const table = `frame,drawing\n${made.map((drawing, f) => `${first + f},${drawing + 1}\n`).join('')}`;
    if (options.output !== undefined) await writeFile(options.output, table);
    if (options.json)
      output.out(
        `${JSON.stringify({ recipe: options.do, frames: made.map((drawing, f) => ({ frame: first + f, drawing: drawing + 1 })) })}\n`,
      );
    else output.out(options.output === undefined ? table : `written to ${options.output}: ${made.length} frames\n`);
  });
}

/** The value of `--do`: `NAME:PARAMETER=VALUE,…`, gathered. */
function steps(text: string, list: Recipe): Step[] {
  const [, remedy, rest = ''] = /^([^:]+)(?::(.*))?$/s.exec(text.trim()) ?? [];
  if (!remedy) throw new InvalidArgumentError('expected NAME:PARAMETER=VALUE,…');
  const parameters: Record<string, string | number> = {};
  for (const pair of rest.split(',').filter((own) => own.trim() !== '')) {
    const [, name, value] = /^\s*([^=]+?)\s*=\s*(.*?)\s*$/.exec(pair) ?? [];
    if (name === undefined || value === undefined)
      throw new InvalidArgumentError(`“${pair}”: expected PARAMETER=VALUE`);
    parameters[name] = value !== '' && Number.isFinite(Number(value)) ? Number(value) : value;
  }
  return [...list, { remedy, parameters: parameters }];
}

/** `ypsigraph remedies`: what there is to put right. */
export const remediesCommand = (output: Output): Command =>
  new Command('remedies')
    .description('list every remedy: its parameters with their units and ranges, and what it mends')
    .option('--json', 'print one JSON array')
    .action((options: { json?: boolean }) => {
      const all = REMEDIES.map(({ id, name, does, needs, parameters, mends, marks }) => ({
        id,
        name,
        does,
        needs,
        parameters,
        mends: Object.keys(mends),
        marks,
      }));
      const drawings = EXPOSURE_REMEDIES.map(({ id, does, parameters }) => ({ id, does, parameters }));
      if (options.json) return output.out(`${JSON.stringify({ remedies: all, drawings })}\n`);
      const lines = all.flatMap(({ id, does, needs, parameters, mends }) => [
        `${id}: ${does}`,
        ...Object.entries(parameters).map(([name, kind]) => `  ${name.padEnd(9)} ${kind.say}${rangeSaid(kind)}`),
        `  needs ${needs}`,
        ...(mends.length > 0 ? [`  mends ${mends.map(readingName).join(', ')}`] : []),
        '',
      ]);
      output.out(
        `${lines.join('\n')}of the drawings of a clip: ${drawings.map(({ id, does }) => `${id} (${does})`).join('; ')}\n`,
      );
    });

function rangeSaid(kind: (typeof REMEDIES)[number]['parameters'][string]): string {
  const usual = kind.default === undefined ? '' : `, usually ${kind.default}`;
  if (kind.is === 'number') return ` (${kind.range[0]} to ${kind.range[1]} ${kind.unit}${usual})`;
  if (kind.is === 'one of') return ` (${kind.words.join(', ')}${usual})`;
  return usual === '' ? '' : ` (${usual.slice(2)})`;
}
