import { withoutCharacter, splitCharacter } from '../measure/characters.ts';
import type { Reading, Unmade } from '../measure/reading.ts';
import { sayReading } from '../measure/sentence.ts';
import { partName } from '../say/part-names.ts';
import { capital } from '../say/words.ts';
import { folds } from './causes.ts';
import { type Gauge, judgedNumber, toldBy, type Verdict, verdicts } from './gauge.ts';
import type { Stage } from '../trade/stages.ts';

/** A reading that is not inside its band, with what follows from it folded under it. */
export interface Finding {
  readonly reading: Reading;
  readonly gauge: Gauge;
  readonly judgement: 'near' | 'outside';
  /** How far outside the band, in the reading's unit. */
  readonly distance: number;
  /** The finding as a sentence that begins with a capital and has no full stop. */
  readonly say: string;
  /** Every frame it shows at: of several readings of one id and part, those of all that are not inside. */
  readonly frames: readonly number[];
  /** Ids of the readings folded under it. */
  readonly also: readonly string[];
}

/** A gauge that could not be judged, and why. */
export interface Unjudged {
  readonly reading: string;
  readonly part?: string;
  readonly why: string;
}

/** What a stage's gauges say of a shot. */
export interface Judgements {
  /** The heaviest and farthest first. */
  readonly findings: readonly Finding[];
  readonly unjudged: readonly Unjudged[];
  /** How many gauges were judged. */
  readonly judged: number;
}

/** Holds what was measured against gauges: what is not inside, one finding a cause, and what could not be judged. */
export function judgeShot(
  gauges: readonly Gauge[],
  measured: { readonly readings: readonly Reading[]; readonly unmade: readonly Unmade[] },
  stage: Stage,
): Judgements {
  const all = verdicts(gauges, measured, stage);
  const judged = new Set(all.filter(({ judgement }) => judgement !== 'unmade').map(({ gauge }) => gauge));
  const unjudged = new Map<string, Unjudged>();
  for (const { judgement, gauge, part, why } of all)
    if (judgement === 'unmade')
      unjudged.set(`${gauge.reading} ${part ?? ''}`, {
        reading: gauge.reading,
        ...(part !== undefined && { part }),
        why: why ?? 'it was not made',
      });
  return { findings: findingsOf(all), unjudged: [...unjudged.values()], judged: judged.size };
}

/** What is not inside: outside before near, then by weight × how far outside in units of the band's width; one finding a cause. */
export function findingsOf(all: readonly Verdict[]): Finding[] {
  const found = all
    .filter(
      (verdict): verdict is Verdict & { reading: Reading; judgement: 'near' | 'outside' } =>
        verdict.reading !== undefined && (verdict.judgement === 'outside' || verdict.judgement === 'near'),
    )
    .sort(byImportance);
  const findings: { verdict: (typeof found)[number]; frames: number[]; also: Set<string> }[] = [];
  for (const verdict of found) {
    const same = findings.find(({ verdict: other }) => isSame(other, verdict));
    if (same) {
      same.frames.push(...(verdict.reading.frames ?? []));
      continue;
    }
    findings.push({ verdict, frames: [...(verdict.reading.frames ?? [])], also: new Set() });
  }
  // What explains another is kept, wherever it stands; what is explained goes under it. Of two that explain each other the first is kept.
  const explains = (cause: (typeof findings)[number], effect: (typeof findings)[number]): boolean =>
    cause !== effect && folds(cause.verdict.reading, effect.verdict.reading, cause.verdict.judgement);
  const kept = findings.filter((finding, k) => {
    const cause = findings.find((other, at) => explains(other, finding) && (at < k || !explains(finding, other)));
    cause?.also.add(finding.verdict.reading.id);
    return cause === undefined;
  });
  return kept.map(({ verdict, frames, also }) => ({
    reading: verdict.reading,
    gauge: verdict.gauge,
    judgement: verdict.judgement,
    distance: verdict.distance,
    say: sayFinding(verdict),
    frames: [...new Set(frames)].sort((a, b) => a - b),
    also: [...also],
  }));
}

const isSame = (a: Verdict, b: Verdict): boolean =>
  a.gauge === b.gauge && a.reading?.part === b.reading?.part && a.reading?.unit === b.reading?.unit;

/** Bands without a width of their own are measured by the reading's unit. */
const LEAST_WIDTH = 0.1;

function importance({ gauge, distance }: Verdict): number {
  const width = gauge.band ? gauge.band[1] - gauge.band[0] : 1;
  return gauge.weight * (Math.abs(distance) / (width > 0 ? Math.max(width, LEAST_WIDTH) : 1));
}

const byImportance = (a: Verdict, b: Verdict): number =>
  Number(b.judgement === 'outside') - Number(a.judgement === 'outside') ||
  importance(b) - importance(a) ||
  b.gauge.weight - a.gauge.weight;

/** A verdict that is not inside as a sentence that begins with a capital and has no full stop. */
export const sayFinding = (verdict: Verdict & { reading: Reading }): string => capital(sayVerdict(verdict));

function sayVerdict(verdict: Verdict & { reading: Reading }): string {
  const { gauge, reading } = verdict;
  const { character } = splitCharacter(reading.part);
  if (character !== undefined)
    return `“${character}”: ${sayVerdict({ ...verdict, reading: withoutCharacter(reading) })}`;
  if (gauge.over === 'spread' && reading.note) return reading.note;
  return judgedNumber(gauge)?.say(reading, partName(reading.part)) ?? sayReading(reading, toldBy(verdict));
}
