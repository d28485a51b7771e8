import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { READING_KINDS, readingKind } from '@ypsigraph/core/measure/registry';
import { speaksOf } from '@ypsigraph/core/grade/propose';
import { list } from '@ypsigraph/core/say/words';
import { isFoundByName, PLANNED_POSES, POSES_OF_A_STEP } from '@ypsigraph/core/trade/planned-pose';
import type { BriefContent, Gauge, PlannedPose } from './briefs.ts';

/** Something in a brief that no schema can see. */
export interface BriefFault {
  readonly field: string;
  readonly message: string;
}

/**
 * What of a brief can't be carried out: readings that nobody makes, an exemplar that does not exist or can't be made as it is set.
 * @returns nothing where all is well
 */
export function faultsOf({ kind, alsoKinds, gauges, plan, exemplar, stages, rubric }: BriefContent): BriefFault[] {
  const faults: BriefFault[] = [];
  for (const [k, gauge] of (gauges ?? []).entries()) faults.push(...gaugeFaults(`gauges.${k}`, gauge));
  for (const [k, pose] of plan.entries()) faults.push(...planFaults(`plan.${k}`, pose));
  if (alsoKinds.includes(kind)) faults.push({ field: 'alsoKinds', message: `it is a ${kind} already` });
  for (const [k, { readings }] of rubric.entries()) {
    const unknown = readings.find((own) => ![...READING_KINDS.keys()].some((id) => speaksOf([own], id)));
    if (unknown) faults.push({ field: `rubric.${k}.readings`, message: `there is no reading “${unknown}”` });
  }
  const twice = (list: readonly string[]): string | undefined => list.find((own, k) => list.indexOf(own) !== k);
  const stage = twice(stages.map((own) => own.stage));
  if (stage) faults.push({ field: 'stages', message: `${stage} stands there twice` });
  const line = twice(rubric.map(({ id }) => id));
  if (line) faults.push({ field: 'rubric', message: `two lines of the rubric are called ${line}` });
  if (exemplar) faults.push(...exemplarFaults(exemplar));
  return faults;
}

/** What a gauge names of its reading that the reading does not have. */
function gaugeFaults(field: string, { reading, of, link, except, allowed }: Gauge): BriefFault[] {
  const { name, numbers = {}, flags = {}, values, ofLink } = readingKind(reading)!;
  const strange = values && allowed?.find((value) => !values.includes(String(value)));
  return [
    ...(of === undefined || Object.hasOwn(numbers, of)
      ? []
      : [{ field: `${field}.of`, message: `${name} has no number “${of}” that could be judged` }]),
    ...(link === undefined || (ofLink !== undefined && of === undefined)
      ? []
      : [{ field: `${field}.link`, message: `${name} is not told link by link` }]),
    ...(except === undefined || Object.hasOwn(flags, except)
      ? []
      : [{ field: `${field}.except`, message: `${name} is never marked “${except}”` }]),
    ...(strange === undefined
      ? []
      : [{ field: `${field}.allowed`, message: `${name} is never “${strange}”: it is ${list(values!, 'or')}` }]),
  ];
}

/** What of a planned pose can’t be looked for. */
function planFaults(field: string, { name, share, pose }: PlannedPose): BriefFault[] {
  const known = isFoundByName(name);
  if (share !== undefined && !POSES_OF_A_STEP.includes(name))
    return [{ field: `${field}.share`, message: `only ${list(POSES_OF_A_STEP)} are planned as a share of the step` }];
  if (!known && !pose)
    return [
      {
        field: `${field}.pose`,
        message: `nobody knows what “${name}” looks like: show its pose, or call it ${list(PLANNED_POSES, 'or')}`,
      },
    ];
  if (pose && Object.keys(pose.directions).length === 0)
    return [{ field: `${field}.pose`, message: `the pose of “${name}” has no parts` }];
  return [];
}

function exemplarFaults({ name, set }: NonNullable<BriefContent['exemplar']>): BriefFault[] {
  const kind = Object.hasOwn(EXEMPLARS, name) ? EXEMPLARS[name] : undefined;
  if (!kind) return [{ field: 'exemplar.name', message: `there is no exemplar “${name}”` }];
  const unknown = Object.keys(set).find((dial) => !Object.hasOwn(kind.defaults, dial));
  if (unknown) return [{ field: 'exemplar.set', message: `a ${name} has no dial “${unknown}”` }];
  const wrong = Object.entries(set).find(([dial, value]) => typeof value !== typeof kind.defaults[dial]);
  if (wrong)
    return [{ field: `exemplar.set.${wrong[0]}`, message: `${wrong[0]} takes a ${typeof kind.defaults[wrong[0]]}` }];
  const { length, fps, cycles } = { ...kind.defaults, ...set };
  if (Number(length) > 2000 || Number(fps) > 240 || Number(cycles ?? 1) > 50)
    return [{ field: 'exemplar.set', message: 'so long a motion is not made' }];
  try {
    kind.make(set, {});
    return [];
  } catch (error) {
    if (error instanceof RangeError) return [{ field: 'exemplar.set', message: error.message }];
    throw error;
  }
}
