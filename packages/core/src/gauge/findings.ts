import { withoutCharacter, splitCharacter } from '../measure/characters.ts';
import type { Reading } from '../measure/reading.ts';
import { readingKind } from '../measure/registry.ts';
import { sayReading } from '../measure/sentence.ts';
import { partName } from '../say/part-names.ts';
import { after, capital, figures } from '../say/words.ts';
import { folds } from './causes.ts';
import { type Gauge, type Judged, judgedNumber, linkOf, toldBy, type Verdict, verdicts } from './gauge.ts';
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
  /** The part on the other side that does as much. */
  readonly twin?: string;
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
export function judgeShot(gauges: readonly Gauge[], measured: Judged, stage: Stage): Judgements {
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
  const findings: { verdict: (typeof found)[number]; frames: number[]; also: Set<string>; twin?: Reading }[] = [];
  for (const verdict of found) {
    const same = findings.find(({ verdict: other }) => isSame(other, verdict));
    if (same) {
      same.frames.push(...(verdict.reading.frames ?? []));
      continue;
    }
    findings.push({ verdict, frames: [...(verdict.reading.frames ?? [])], also: new Set() });
  }
  // What one side does as much as the other is one finding, told of the worse of the two.
  const twins = findings.filter((finding) => {
    const other = findings.find((earlier) => isTwin(earlier.verdict, finding.verdict));
    const isLater = other !== undefined && findings.indexOf(other) < findings.indexOf(finding);
    if (isLater) other.twin = finding.verdict.reading;
    return isLater;
  });
  // What explains another is kept, wherever it stands; what is explained goes under it. Of two that explain each other the first is kept.
  const explains = (cause: (typeof findings)[number], effect: (typeof findings)[number]): boolean =>
    cause !== effect &&
    !hides(cause.verdict, effect.verdict) &&
    folds(cause.verdict.reading, effect.verdict.reading, cause.verdict.judgement);
  const kept = findings.filter((finding, k) => {
    if (twins.includes(finding)) return false;
    const cause = findings.find((other, at) => explains(other, finding) && (at < k || !explains(finding, other)));
    cause?.also.add(finding.verdict.reading.id);
    return cause === undefined;
  });
  return kept.map(({ verdict, frames, also, twin }) => ({
    reading: verdict.reading,
    gauge: verdict.gauge,
    judgement: verdict.judgement,
    distance: verdict.distance,
    say: sayFinding(verdict, twin),
    ...(twin?.part !== undefined && { twin: twin.part }),
    frames: [...new Set([...frames, ...(twin?.frames ?? [])])].sort((a, b) => a - b),
    also: [...also],
  }));
}

const sayLink = (
  { parent, child, value }: NonNullable<ReturnType<typeof linkOf>>,
  number?: 'lag' | 'likeness',
): string =>
  number === 'likeness'
    ? `${partName(child)} moves unlike ${partName(parent)} (likeness ${figures(value, 2)})`
    : `${partName(child)} moves ${after(value, partName(parent))}`;

/** Whether one that nobody sees would stand for one that everybody does. */
const hides = (a: Verdict, b: Verdict): boolean => Boolean(a.reading?.outOfPicture && !b.reading?.outOfPicture);

const isSame = (a: Verdict, b: Verdict): boolean =>
  a.gauge === b.gauge && a.reading?.part === b.reading?.part && a.reading?.unit === b.reading?.unit;

/** Values of two sides that are this near to each other, as a share of the larger, are alike. */
const ALIKE = 0.3;

/** Whether two verdicts on one reading are of the two sides of a body, and off by as much in the same sense. */
function isTwin(a: Verdict & { reading: Reading }, b: Verdict & { reading: Reading }): boolean {
  if (a === b || a.judgement !== b.judgement || a.reading.outOfPicture !== b.reading.outOfPicture) return false;
  if (a.gauge.reading !== b.gauge.reading || a.gauge.of !== b.gauge.of) return false;
  const [one, other] = [a.reading.part, b.reading.part];
  if (one === undefined || other === undefined || one.slice(0, -1) !== other.slice(0, -1)) return false;
  if (![`${one.slice(-1)}${other.slice(-1)}`].some((sides) => sides === 'LR' || sides === 'RL')) return false;
  const [x, y] = [Math.abs(a.distance), Math.abs(b.distance)];
  return Math.sign(a.distance) === Math.sign(b.distance) && Math.abs(x - y) <= ALIKE * Math.max(x, y);
}

/** The part a reading's sentence is about: feet land and slide, legs don’t. */
const sidePart = ({ id, part }: Reading): string | undefined => {
  const kind = readingKind(id);
  const of = kind?.quantity?.of(part) ?? (part && kind?.tells ? kind.tells(part) : part);
  return of?.replace(/^leg/, /^(gait|foot)/.test(id) ? 'foot' : 'leg').replace('upperArm', 'arm');
};

/** Bands without a width of their own are measured by the reading's unit. */
const LEAST_WIDTH = 0.1;

/** What nobody who watches the shot sees weighs so much of what it would. */
const OUT_OF_PICTURE = 0.25;

function importance({ gauge, distance, reading }: Verdict): number {
  const width = gauge.band ? gauge.band[1] - gauge.band[0] : 1;
  const weight = reading?.outOfPicture ? OUT_OF_PICTURE * gauge.weight : gauge.weight;
  return weight * (Math.abs(distance) / (width > 0 ? Math.max(width, LEAST_WIDTH) : 1));
}

const byImportance = (a: Verdict, b: Verdict): number =>
  Number(b.judgement === 'outside') - Number(a.judgement === 'outside') ||
  importance(b) - importance(a) ||
  b.gauge.weight - a.gauge.weight;

/** A verdict that is not inside, and its twin on the other side, as a sentence that begins with a capital and has no full stop. */
export const sayFinding = (verdict: Verdict & { reading: Reading }, twin?: Reading): string =>
  capital(sayVerdict(verdict)) +
  (twin ? `, and ${partName(sidePart(twin))} as well` : '') +
  (verdict.reading.outOfPicture ? ', out of the picture' : '');

function sayVerdict(verdict: Verdict & { reading: Reading }): string {
  const { gauge, reading } = verdict;
  const { character } = splitCharacter(reading.part);
  if (character !== undefined)
    return `“${character}”: ${sayVerdict({ ...verdict, reading: withoutCharacter(reading) })}`;
  if (gauge.over === 'spread' && reading.note) return reading.note;
  const link = gauge.link === undefined ? undefined : linkOf(gauge.link, reading);
  if (link) return sayLink(link, readingKind(reading.id)?.ofLink);
  return judgedNumber(gauge)?.say(reading, partName(reading.part)) ?? sayReading(reading, toldBy(verdict));
}
