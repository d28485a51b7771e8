import { readingName } from '@ypsigraph/core/measure/registry';
import { partName } from '@ypsigraph/core/say/part-names';
import type { BriefContent, Gauge, PlannedPose } from './briefs.ts';
import { BRIEF_FIELDS, gaugeKey } from './merge-briefs.ts';

/** Fields whose value is told as it is. */
const PLAIN = [
  'title',
  'kind',
  'fps',
  'firstFrame',
  'loop',
  'frames',
  'ground',
  'groundHeight',
  'clockMinutes',
] as const;
const LISTS = ['alsoKinds', 'still', 'groups', 'watch'] as const;

const shown = (value: unknown): string => (value === null || value === undefined ? 'any' : String(value));
const same = (a: unknown, b: unknown): boolean => JSON.stringify(a) === JSON.stringify(b);
const named = ({ reading, part }: Gauge): string =>
  [readingName(reading), part && `of ${partName(part)}`].filter(Boolean).join(' ');

/** “down at 17 % of the step”, “contact at 13”. */
export const plannedText = ({ name, frame, share }: PlannedPose): string =>
  frame === undefined ? `${name} at ${share} % of the step` : `${name} at ${frame}`;

function bandText({ band, allowed }: Gauge): string {
  return band
    ? `${Number(band[0].toFixed(3))} to ${Number(band[1].toFixed(3))}`
    : (allowed ?? []).map(String).join(' or ');
}

function gaugeChanges(before: BriefContent['gauges'], after: BriefContent['gauges']): string[] {
  if (before === null && after === null) return [];
  if (after === null) return ['it is judged by the usual gauges of its kind'];
  if (before === null) return [`it has ${after.length === 1 ? 'one gauge' : `${after.length} gauges`} of its own`];
  const [was, is] = [
    new Map(before.map((own) => [gaugeKey(own), own])),
    new Map(after.map((own) => [gaugeKey(own), own])),
  ];
  return [
    ...after.flatMap((own) => {
      const old = was.get(gaugeKey(own));
      if (!old) return [`a gauge on ${named(own)}: ${bandText(own)}`];
      if (bandText(old) !== bandText(own)) return [`${named(own)}: ${bandText(old)} → ${bandText(own)}`];
      return same(old, own) ? [] : [`the gauge on ${named(own)} is judged or explained differently`];
    }),
    ...before.filter((own) => !is.has(gaugeKey(own))).map((own) => `no gauge on ${named(own)} any more`),
  ];
}

/**
 * What a version of a brief says other than the one before, as lines for those who work on it.
 * @example briefChanges(v1, v2) // ['length: 24 → 20', 'up and down of the hips: 2 to 5 → 3 to 6']
 */
export function briefChanges(before: BriefContent, after: BriefContent): string[] {
  const lines: string[] = [];
  for (const key of PLAIN)
    if (!same(before[key], after[key]))
      lines.push(`${BRIEF_FIELDS[key]}: ${shown(before[key])} → ${shown(after[key])}`);
  if (before.text !== after.text) lines.push('the story is different');
  for (const key of LISTS)
    if (!same(before[key], after[key])) lines.push(`${BRIEF_FIELDS[key]}: ${after[key].join(', ') || 'nothing'}`);
  for (const { stage, shows } of after.stages)
    if (before.stages.find((own) => own.stage === stage)?.shows !== shows) lines.push(`${stage} must show: ${shows}`);
  for (const { stage } of before.stages)
    if (!after.stages.some((own) => own.stage === stage)) lines.push(`${stage} asks for nothing of its own any more`);
  lines.push(...gaugeChanges(before.gauges, after.gauges));
  if (!same(before.plan, after.plan))
    lines.push(`${BRIEF_FIELDS.plan}: ${after.plan.map(plannedText).join(', ') || 'nothing'}`);
  if (!same(before.rubric, after.rubric)) lines.push('the rubric is different');
  if (!same(before.exemplar, after.exemplar)) lines.push('the exemplar is different');
  for (const rule of ['length', 'rate', 'loop'] as const)
    if (before.rules[rule] !== after.rules[rule])
      lines.push(
        after.rules[rule] === 'refuse' ? `another ${rule} is not taken in any more` : `another ${rule} is taken in`,
      );
  return lines;
}
