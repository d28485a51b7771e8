import { readingName } from '@ypsigraph/core/measure/registry';
import type { BriefContent, Gauge } from './briefs.ts';

/** What both have changed, each otherwise: one of the two has to give way. */
export interface BriefConflict {
  readonly field: keyof BriefContent;
  /** What it is about: “length”, “the gauge on foot slide”. */
  readonly name: string;
}

export interface MergedBrief {
  /** Theirs with what I have changed; where both have, mine. */
  readonly content: BriefContent;
  readonly conflicts: readonly BriefConflict[];
}

/** What each field is called where it is told of. */
export const BRIEF_FIELDS: Readonly<Record<keyof BriefContent, string>> = {
  title: 'title',
  kind: 'kind',
  alsoKinds: 'kinds that it is as well',
  text: 'story',
  fps: 'frames a second',
  firstFrame: 'first frame',
  loop: 'loop',
  frames: 'length',
  ground: 'ground',
  groundHeight: 'height of the ground',
  still: 'what must stay still',
  groups: 'groups that take turns',
  watch: 'what to watch first',
  before: 'briefs to have done before',
  stages: 'stages',
  gauges: 'gauges',
  plan: 'planned poses',
  rubric: 'rubric',
  exemplar: 'exemplar',
  rules: 'what is refused',
  clockMinutes: 'minutes on the clock',
  cures: 'when cures are shown',
};

/** Two values are the same whatever the order of their keys: what comes from a database has its own. */
export function sameContent(a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const [mine, theirs] = [a, b].map((own) => Object.entries(own).filter(([, value]) => value !== undefined));
  return (
    Array.isArray(a) === Array.isArray(b) &&
    mine!.length === theirs!.length &&
    mine!.every(([key, value]) => sameContent(value, (b as Record<string, unknown>)[key]))
  );
}

/** What tells one gauge from another: two may hold the same reading, from different stages. */
export const gaugeKey = ({ reading, part, of, link, over, from }: Gauge): string =>
  [reading, part, of, link, over, from].join(' ');

/**
 * Lays what somebody changed in a brief on what somebody else has made of it meanwhile: field by field; gauges, stages and rubric line by line.
 *
 * @param base the brief that both began with
 * @example mergeBriefs(base, { ...base, frames: 20 }, { ...base, fps: 12 }).content // 20 frames at 12
 */
export function mergeBriefs(base: BriefContent, mine: BriefContent, theirs: BriefContent): MergedBrief {
  const conflicts: BriefConflict[] = [];
  const merged = Object.keys(BRIEF_FIELDS).map((key): [string, unknown] => {
    const field = key as keyof BriefContent;
    const [was, own, other] = [base[field], mine[field], theirs[field]];
    if (sameContent(own, was)) return [field, other];
    if (sameContent(other, was) || sameContent(own, other)) return [field, own];
    const keyed = KEYED[field];
    if (keyed && [was, own, other].every(Array.isArray)) {
      const lists = mergeLists(was as unknown[], own as unknown[], other as unknown[], keyed.key);
      conflicts.push(...lists.conflicts.map((line) => ({ field, name: keyed.name(line) })));
      return [field, lists.merged];
    }
    conflicts.push({ field, name: BRIEF_FIELDS[field] });
    return [field, own];
  });
  return { content: Object.fromEntries(merged) as unknown as BriefContent, conflicts };
}

/** Lists whose lines have a name of their own. */
const KEYED: Readonly<
  Partial<Record<keyof BriefContent, { key: (line: never) => string; name: (line: never) => string }>>
> = {
  gauges: { key: gaugeKey, name: ({ reading }: Gauge) => `the gauge on ${readingName(reading)}` },
  stages: {
    key: ({ stage }: BriefContent['stages'][number]) => stage,
    name: ({ stage }: BriefContent['stages'][number]) => `what ${stage} must show`,
  },
  rubric: {
    key: ({ id }: BriefContent['rubric'][number]) => id,
    name: ({ title }: BriefContent['rubric'][number]) => `the line “${title}”`,
  },
};

function mergeLists(
  base: readonly unknown[],
  mine: readonly unknown[],
  theirs: readonly unknown[],
  key: (line: never) => string,
): { merged: unknown[]; conflicts: never[] } {
  const keyOf = key as (line: unknown) => string;
  const [was, own, other] = [base, mine, theirs].map((list) => new Map(list.map((line) => [keyOf(line), line])));
  const conflicts: unknown[] = [];
  // In their order, with what only I have behind it.
  const keys = new Set([...other!.keys(), ...own!.keys()]);
  const merged = [...keys].flatMap((name) => {
    const [before, line, their] = [was!.get(name), own!.get(name), other!.get(name)];
    if (sameContent(line, before)) return their === undefined ? [] : [their];
    if (sameContent(their, before) || sameContent(line, their)) return line === undefined ? [] : [line];
    conflicts.push(line ?? their);
    return line === undefined ? [] : [line];
  });
  return { merged, conflicts: conflicts as never[] };
}
